"""A plate's camera and all that it records, told from the mark that tapes are laid to."""

from __future__ import annotations

from dataclasses import replace

from ..camera import Camera
from .case import Case
from .tape import mark_of


def camera_at_mark(case: Case) -> Camera | None:
    """The camera as the shot begins, with the whole of the recorded picture, stage metres from the
    mark on the stage's ground; None for a plate without a mark."""
    mark = mark_of(case)
    if mark is None:
        return None
    x, y, z = case.stage.camera.position_m
    mode, scale = case.choice.mode, case.plate.scale
    return replace(
        case.stage.camera,
        sensor_width_mm=mode.sensor_width_mm,
        sensor_height_mm=mode.sensor_width_mm * mode.height_px / mode.width_px,
        focal_mm=case.stage.pinhole_mm,
        position_m=(x - mark.x_m / scale, y - mark.y_m / scale, z),
    )
