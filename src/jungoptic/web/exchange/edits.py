"""Edit lists through OpenTimelineIO: read clips as shots, write shots as a timeline."""

from __future__ import annotations

import re
import warnings
from pathlib import Path

import opentimelineio as otio

from jungoptic.core.counting import frames_in

from ..plans.models import Shot
from ..productions.models import Production
from ..records import Refused
from .arriving import Row

#: What is read, by the ending of the file's name -> adapter.
ADAPTERS = {".otio": "otio_json", ".edl": "cmx_3600"}
NAMESPACE = "jungoptic"
#: Deeper nesting than this is no timeline. The library's reader would run out of stack on some
#: hundred thousand levels and take the whole server with it.
DEEPEST = 200
_BRACKETS = re.compile(r'"(?:[^"\\]|\\.)*+"|[][{}]')


def rows_of(name: str, data: bytes, production: Production) -> tuple[list[Row], list[str]]:
    """The clips of an edit list as shots, with notes on what was left out.

    A clip's name is what finds its shot again; a clip that appears several times is numbered.
    Raises `Refused` for whatever is no edit list.
    """
    ending = Path(name.lower()).suffix
    if ending not in ADAPTERS:
        raise Refused("file", "Send an edit list ending in .otio or .edl.")
    timeline = _read(ending, data, production.playback_fps)
    tracks = timeline.video_tracks() or list(timeline.tracks)
    notes = []
    if len(tracks) > 1:
        notes.append(f"Only the first of {len(tracks)} picture tracks is read.")
    rows: list[Row] = []
    times: dict[str, int] = {}
    left_out = 0
    for item in tracks[0] if tracks else []:
        if not isinstance(item, otio.schema.Clip):
            left_out += isinstance(item, otio.schema.Gap | otio.schema.Transition)
            continue
        clip = (item.name or "").strip() or f"clip {len(rows) + 1}"
        times[clip] = times.get(clip, 0) + 1
        label = clip if times[clip] == 1 else f"{clip} ({times[clip]})"
        duration = item.duration()
        fresh = str(item.metadata.get(NAMESPACE, {}).get("number", "")) or label
        rows.append(
            Row(
                len(rows) + 1,
                label,
                {
                    "edit_name": label[:120],
                    "screen_time_s": round(duration.value / duration.rate, 6),
                },
                {"number": fresh[:20], "title": label[:120]},
            )
        )
    if left_out:
        notes.append(f"{left_out} gaps and transitions are not shots.")
    if not rows:
        raise Refused("file", "The edit list has no clips in its first picture track.")
    return rows, notes


def _read(ending: str, data: bytes, fps: float) -> otio.schema.Timeline:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        try:
            text = data.decode("cp1252")
        except UnicodeDecodeError:
            raise Refused("file", "The edit list is no text; export it again.") from None
    if not text.strip():
        raise Refused("file", "The edit list is empty.")
    if ending == ".otio" and deepest(text) > DEEPEST:
        raise Refused("file", "The edit list is nested deeper than any timeline; export it again.")
    options = {"rate": fps, "ignore_timecode_mismatch": True} if ending == ".edl" else {}
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            found = otio.adapters.read_from_string(text, ADAPTERS[ending], **options)
    except Exception as error:
        # The adapters raise dozens of kinds of their own; all of them mean "no such list".
        first = str(error).strip().splitlines()[0][:160] if str(error).strip() else "unreadable"
        raise Refused("file", f"The edit list cannot be read: {first}") from None
    if isinstance(found, otio.schema.SerializableCollection):
        found = next((t for t in found if isinstance(t, otio.schema.Timeline)), None)
    if not isinstance(found, otio.schema.Timeline):
        raise Refused("file", "The file holds no timeline.")
    return found


def deepest(text: str) -> int:
    """How deep the brackets of a JSON text are nested, strings left out; found without nesting."""
    depth = most = 0
    for token in _BRACKETS.finditer(text):
        mark = token.group()
        if mark in "[{":
            depth += 1
            most = max(most, depth)
        elif mark in "]}":
            depth -= 1
    return most


def timeline_of(production: Production, shots: list[Shot]) -> str:
    """The shots in story order as an .otio timeline, one clip each.

    Clips carry the shot's number and words under their own metadata, so that a re-import finds
    them again.
    """
    timeline = otio.schema.Timeline(name=production.name)
    track = otio.schema.Track(name="Shots", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    fps = production.playback_fps
    for shot in shots:
        frames = frames_in(shot.screen_time_s, fps)
        track.append(
            otio.schema.Clip(
                name=shot.edit_name or shot.number,
                media_reference=otio.schema.MissingReference(),
                source_range=otio.opentime.TimeRange(
                    otio.opentime.RationalTime(0, fps), otio.opentime.RationalTime(frames, fps)
                ),
                metadata={
                    NAMESPACE: {
                        "number": shot.number,
                        "title": shot.title,
                        "action": shot.action,
                        "place": shot.place,
                    }
                },
            )
        )
    text: str = otio.adapters.write_to_string(timeline, "otio_json")
    return text
