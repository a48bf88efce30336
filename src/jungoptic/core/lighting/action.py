"""Where on a stage light is asked for: at what is in frame of the action, and across it."""

from __future__ import annotations

import numpy as np

from ..camera import Array
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.in_frame import in_story, own_things

#: Frames at which light is asked for: things move slowly past a lamp.
MOMENTS = 9


def action_point_m(shot: Shot, plate: Plate) -> tuple[float, float, float] | None:
    """Where light is measured on this stage: the middle of what is in frame of its first thing,
    when most of the picture is its; None without a thing."""
    key = f"action {plate.id}"
    at = shot.once(key, lambda: _action(shot, plate))
    if at is None:
        return None
    x, y, z = plate.on_stage(np.array([at]))[0]
    return float(x), float(y), float(z)


def _action(shot: Shot, plate: Plate) -> tuple[float, float, float] | None:
    """The same in the story's metres."""
    own, seen = own_things(shot, plate), in_story(shot)
    if not own:
        return None
    shown = [s for s in own if seen.shows[seen.numbers([s])].any()]
    if not shown:
        s = own[0]
        return s.x_m, s.y_m, s.z_m + s.height_m / 2.0
    thing = shown[0]
    (row,) = seen.numbers([thing])
    areas = (seen.right_px - seen.left_px)[row] * (seen.bottom_px - seen.top_px)[row]
    frame = int(np.nanargmax(areas))
    then = thing.after(float(seen.seconds[frame]))
    spots, frames = seen.spots([thing])
    heights = spots[frames == frame, 2]
    return then.x_m, then.y_m, float(heights.min() + heights.max()) / 2.0


def set_points_m(shot: Shot, plate: Plate) -> Array:
    """Points (n, 3) that bound what is ever in frame of what stands there, ground left out, stage
    metres."""
    key = f"set {plate.id}"
    found = shot.once(key, lambda: in_story(shot).spots(own_things(shot, plate), MOMENTS)[0])
    return plate.on_stage(found)
