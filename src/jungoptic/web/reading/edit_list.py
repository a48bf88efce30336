"""Edit lists through OpenTimelineIO: the clips of the first picture track."""

from __future__ import annotations

import json
import math
import re
import warnings
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import opentimelineio as otio

from .refusal import Refusal

#: What is read, by the ending of the file's name -> adapter.
ADAPTERS = {".otio": "otio_json", ".edl": "cmx_3600"}
NAMESPACE = "jungoptic"
#: Deeper nesting than this is no timeline. The library's reader would run out of stack on some
#: hundred thousand levels.
DEEPEST = 200
#: Larger files and longer lists than these are no list of shots.
MOST_BYTES = 8_000_000
MOST_EVENTS = 10_000
#: Its length is checked with this number of lines in hand: an event may have many lines of notes.
MOST_LINES = 200_000
_EVENT = re.compile(r"\d+\s")


@dataclass(frozen=True)
class Clip:
    """A clip as a shot: the name that finds it again, its seconds, and the number it had here."""

    label: str
    seconds: float
    number: str


def read(name: str, data: bytes, fps: float) -> tuple[list[Clip], list[str]]:
    """The clips of an edit list, with notes on what was left out. A clip that appears several times
    is numbered. Raises Refusal for whatever is no edit list."""
    ending = Path(name.lower()).suffix
    if ending not in ADAPTERS:
        raise Refusal("Send an edit list ending in .otio or .edl.")
    timeline = _timeline(ending, _text(data), fps)
    tracks = timeline.video_tracks() or list(timeline.tracks)
    notes = []
    if len(tracks) > 1:
        notes.append(f"Only the first of {len(tracks)} picture tracks is read.")
    clips: list[Clip] = []
    times: dict[str, int] = {}
    left_out = timeless = 0
    for item in tracks[0] if tracks else []:
        if not isinstance(item, otio.schema.Clip):
            left_out += isinstance(item, otio.schema.Gap | otio.schema.Transition)
            continue
        seconds = _seconds(item)
        if seconds is None:
            timeless += 1
            continue
        if len(clips) >= MOST_EVENTS:
            raise _too_long()
        clip = (item.name or "").strip() or f"clip {len(clips) + 1}"
        times[clip] = times.get(clip, 0) + 1
        label = clip if times[clip] == 1 else f"{clip} ({times[clip]})"
        clips.append(Clip(label, seconds, _number(item) or label))
    if left_out:
        notes.append(f"{left_out} gaps and transitions are not shots.")
    if timeless:
        notes.append(f"{timeless} clips do not say how long they are and are left out.")
    if not clips:
        raise Refusal("The edit list has no clips with a length in its first picture track.")
    return clips, notes


def _too_long() -> Refusal:
    return Refusal(f"The edit list has more than {MOST_EVENTS:,} clips; bring in a part of it.")


def _seconds(item: Any) -> float | None:
    """How long a clip is: its own range, else what is there of its media; None where neither says,
    or the rate is none."""
    try:
        found = item.source_range or item.available_range()
        duration = found.duration
    except Exception:
        return None
    if not duration.rate > 0.0:
        return None
    seconds = float(duration.value / duration.rate)
    return round(seconds, 6) if math.isfinite(seconds) else None


def _number(item: Any) -> str:
    """The number that a list of ours gave the clip; other programs' notes may have any shape."""
    try:
        own = item.metadata.get(NAMESPACE)
        found = own.get("number") if own is not None and hasattr(own, "get") else None
    except Exception:
        return ""
    return found.strip() if isinstance(found, str) else ""


def _text(data: bytes) -> str:
    if len(data) > MOST_BYTES:
        raise Refusal(f"The edit list is larger than {MOST_BYTES // 1_000_000} MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        try:
            text = data.decode("cp1252")
        except UnicodeDecodeError:
            raise Refusal("The edit list is no text; export it again.") from None
    if not text.strip():
        raise Refusal("The edit list is empty.")
    return text


def _timeline(ending: str, text: str, fps: float) -> Any:
    if ending == ".otio":
        _check_json(text)
    else:
        _check_lines(text)
    options = {"rate": fps, "ignore_timecode_mismatch": True} if ending == ".edl" else {}
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            found = otio.adapters.read_from_string(text, ADAPTERS[ending], **options)
    except MemoryError:
        raise
    except Exception as error:
        # The adapters raise dozens of kinds of their own; all of them mean "no such list".
        first = str(error).strip().splitlines()[0][:160] if str(error).strip() else "unreadable"
        raise Refusal(f"The edit list cannot be read: {first}") from None
    if isinstance(found, otio.schema.SerializableCollection):
        found = next((t for t in found if isinstance(t, otio.schema.Timeline)), None)
    if not isinstance(found, otio.schema.Timeline):
        raise Refusal("The file holds no timeline.")
    return found


def _check_lines(text: str) -> None:
    """Refuse a list that is too long before anything is made of it."""
    lines = text.splitlines()
    events = sum(1 for line in lines if _EVENT.match(line))
    if events > 2 * MOST_EVENTS or len(lines) > MOST_LINES:
        raise _too_long()


def _check_json(text: str) -> None:
    """Refuse what is no JSON, or nested without end, by the standard reader, whose time goes with
    the length of the text whatever stands in it."""
    too_deep = Refusal("The edit list is nested deeper than any timeline; export it again.")
    try:
        found = json.loads(text)
    except RecursionError:
        raise too_deep from None
    except ValueError as error:
        raise Refusal(f"The edit list cannot be read as JSON: {error}.") from None
    if deepest(found) > DEEPEST:
        raise too_deep


def deepest(value: Any) -> int:
    """How deep lists and objects lie in one another; 0 for a single value."""
    most, todo = 0, [(value, 0)]
    while todo:
        one, depth = todo.pop()
        if isinstance(one, dict | list):
            most = max(most, depth + 1)
            inside = one.values() if isinstance(one, dict) else one
            todo += [(v, depth + 1) for v in inside]
    return most
