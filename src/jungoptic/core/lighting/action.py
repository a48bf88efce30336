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
    at = in_story(shot).once(key, lambda: _action(shot, plate))
    if not len(at):
        return None
    x, y, z = plate.on_stage(at)[0]
    return float(x), float(y), float(z)


def _action(shot: Shot, plate: Plate) -> Array:
    """The same in the story's metres, one point or none (n, 3)."""
    own, seen = own_things(shot, plate), in_story(shot)
    if not own:
        return np.empty((0, 3))
    rows = seen.numbers(own)
    shown = np.flatnonzero(seen.shows[rows].any(axis=1))
    if not len(shown):
        s = own[0]
        return np.array([[s.x_m, s.y_m, s.z_m + s.height_m / 2.0]])
    thing, row = own[shown[0]], rows[shown[0]]
    areas = (seen.right_px - seen.left_px)[row] * (seen.bottom_px - seen.top_px)[row]
    frame = int(np.nanargmax(areas))
    then = thing.after(float(seen.seconds[frame]))
    heights = seen.spots([thing], np.array([frame]))[0][:, 2]
    return np.array([[then.x_m, then.y_m, (heights.min() + heights.max()) / 2.0]])


def set_points_m(shot: Shot, plate: Plate) -> Array:
    """Points (n, 3) that bound what is ever in frame of what stands there, ground left out, stage
    metres."""
    key = f"set {plate.id}"
    seen = in_story(shot)

    def make() -> Array:
        return seen.bounds(own_things(shot, plate), seen.some(MOMENTS))

    return plate.on_stage(seen.once(key, make))
