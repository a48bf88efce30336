"""What the story itself says of a sheet: how its camera and its things go on this stage."""

from __future__ import annotations

import math

from ..camera import Array
from ..moves import ease_of
from ..plan.kit import RigAxis
from ..plan.plate import Plate
from ..plan.sheet import Column, Mark, Sheet
from ..plan.shot import Shot
from ..plan.standins import StandIn
from ..stage.in_frame import frame_parts
from .chart import Chart, along_legs, charted
from .timing import rows_of

#: The axes of the story's camera, by what its move calls them.
CAMERA: dict[RigAxis, str] = {
    "track": "right_m",
    "push": "away_m",
    "crane": "up_m",
    "pan": "pan_deg",
    "tilt": "tilt_deg",
}
#: The axes that carry a thing along.
CARRIES: frozenset[RigAxis] = frozenset({"layer", "belt", "line"})
#: What an axis is called.
AXIS_NAMES: dict[RigAxis, str] = {
    "track": "Track to the right",
    "push": "Push in",
    "crane": "Crane up",
    "pan": "Pan to the right",
    "tilt": "Tilt up",
    "zoom": "Zoom ring",
    "focus": "Focus ring",
    "turntable": "Turntable",
    "crank": "Crank",
    "layer": "Layer",
    "belt": "Belt",
    "line": "On a line",
}


def story_way(shot: Shot, plate: Plate, axis: RigAxis, thing: StandIn | None) -> Array | None:
    """Where the story has an axis at every frame (n,), on this stage: millimetres divided by the
    scale, or degrees. None where the story has no say in it."""
    parts = frame_parts(shot)
    if axis in CAMERA:
        name = CAMERA[axis]
        gone = ease_of(parts, shot.move.ease) * float(getattr(shot.move, name))
        camera: Array = gone if name.endswith("_deg") else gone * 1000.0 / plate.scale
        return camera
    if axis in CARRIES and thing is not None:
        way: Array = shot.time.at(parts) * thing.speed_m_s * 1000.0 / plate.scale
        return way
    return None


def chart_of(shot: Shot, plate: Plate, column: Column) -> Chart:
    """The chart of an axis column. Raises Impossible for legs that make no sense, and for a shot
    too long for a sheet."""
    frames = rows_of(shot)
    rig = shot.kit.move_rig(column.rig_id)
    if rig is not None and rig.axis != column.axis:
        rig = None
    if column.follows:
        thing = next((s for s in shot.stand_ins if s.id == column.thing_id), None)
        way = story_way(shot, plate, column.axis, thing)
        if way is not None:
            return charted(column.axis, way, rig)
    wanted, beyond = along_legs(column.legs, frames)
    return charted(column.axis, wanted, rig, beyond)


def told_by_story(shot: Shot, plate: Plate, sheet: Sheet) -> tuple[Column, ...]:
    """Columns that fill themselves: every axis of the story's camera that moves, and every thing of
    the plate on a course, where the sheet has no column of its own for it."""
    axes = {c.axis for c in sheet.columns if c.kind == "axis"}
    carried = {c.thing_id for c in sheet.columns if c.kind == "axis" and c.axis in CARRIES}
    found = [
        Column(f"story-{axis}", AXIS_NAMES[axis], "axis", axis=axis, follows=True)
        for axis, name in CAMERA.items()
        if axis not in axes and getattr(shot.move, name)
    ]
    found += [
        Column(f"story-{s.id}", s.name, "axis", axis="line", follows=True, thing_id=s.id)
        for s in shot.stand_ins_of(plate)
        if s.speed_m_s and s.id not in carried and shot.time.whole_s > 0.0
    ]
    return tuple(found)


def to_begin_with(shot: Shot, plate: Plate, hold: int) -> tuple[Column, ...]:
    """The columns that a sheet of this plate begins with: one for each of its figures, or of its
    things where it has none, a new pose every `hold` frames; and one for words."""
    own = shot.stand_ins_of(plate)
    posed = [s for s in own if s.kind == "figure"] or [s for s in own if s.kind == "box"]
    parts = [
        Column(
            f"part-{i}",
            s.name,
            "part",
            marks=(Mark(1, every=max(hold, 1)),),
            thing_id=s.id,
        )
        for i, s in enumerate(posed, start=1)
    ]
    if not parts:
        parts = [Column("part-1", plate.name, "part", marks=(Mark(1, every=max(hold, 1)),))]
    return (*parts, Column("words-1", "Sound and words", "words"))


def blink(frame: int, fps: float) -> tuple[Mark, ...]:
    """A blink from a frame on: half shut, shut, half open, open. A blink takes a tenth to four
    tenths of a second (Schiffman 2000, from memory): a quarter is taken, shut for half of it."""
    whole = max(round(fps / 4.0), 4)
    side = max(math.floor(whole / 4.0), 1)
    return (
        Mark(frame, "half"),
        Mark(frame + side, "shut"),
        Mark(frame + whole - side, "half"),
        Mark(frame + whole, "open"),
    )
