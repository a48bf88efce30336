"""Edit lists: read clips as shots, write shots as a timeline."""

from __future__ import annotations

import opentimelineio as otio

from jungoptic.core.counting import frames_in

from ..plans.models import Shot
from ..plans.views import whole_seconds
from ..productions.models import Production
from ..reading import child
from ..reading.edit_list import NAMESPACE
from .arriving import Row


def rows_of(name: str, data: bytes, production: Production) -> tuple[list[Row], list[str]]:
    """The clips of an edit list as shots, with notes on what was left out. A clip's name is what
    finds its shot again. Raises Refusal for whatever is no edit list."""
    head, _ = child.read("edit-list", data, name=name, fps=production.playback_fps)
    rows = [
        Row(
            line,
            clip["label"],
            {"edit_name": clip["label"][:120], "screen_time_s": clip["seconds"]},
            {"number": clip["number"][:20], "title": clip["label"][:120]},
        )
        for line, clip in enumerate(head["clips"], start=1)
    ]
    return rows, head["notes"]


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
        frames = frames_in(whole_seconds(shot), fps)
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
