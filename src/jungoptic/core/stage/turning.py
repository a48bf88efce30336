"""What a camera turns about, and how its entrance pupil wanders when that is somewhere else."""

from __future__ import annotations

import numpy as np

from ..camera import Array, axes_along
from ..plan.kit import Body
from ..plan.plate import Plate, TurnsAbout
from ..plan.shot import Shot

#: What it turns about, in words.
TURNS: dict[TurnsAbout, str] = {
    "pupil": "entrance pupil",
    "mark": "sensor mark",
    "socket": "tripod socket",
}


def turning_m(body: Body, plate: Plate) -> tuple[float, float] | None:
    """Where the camera turns, from the sensor mark: how far ahead along the lens axis, and how far
    below it, stage metres; None where it is the entrance pupil itself."""
    if plate.turns_about == "pupil":
        return None
    if plate.turns_about == "mark":
        return plate.slide_mm / 1000.0, 0.0
    socket = (body.socket_mm or 0.0) + plate.slide_mm
    return socket / 1000.0, body.axis_height_mm / 1000.0


def wander_m(shot: Shot, parts: Array, ahead_m: float, above_m: float) -> Array:
    """How far (f, 3) the entrance pupil lies from where the move wants it, after `parts` (f,) of
    the screen time, on a camera whose pupil is `ahead_m` before and `above_m` over what it turns
    about. It begins in its place. Rotation of a rigid body about a point."""
    camera = shot.world.camera(shot.delivery)
    axes = shot.move.along(camera, parts).axes
    if camera.roll_deg:
        # The head turns and tilts; what rolls the picture sits on it.
        level = shot.move.along(camera, parts)
        pan = np.degrees(np.arctan2(level.axes[:, 2, 0], level.axes[:, 2, 1]))
        tilt = np.degrees(np.arcsin(level.axes[:, 2, 2]))
        axes = axes_along(pan, tilt, 0.0)
    arm = ahead_m * axes[:, 2] - above_m * axes[:, 1]
    found: Array = arm - arm[:1]
    return found
