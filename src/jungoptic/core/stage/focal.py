"""The focal length that matches the story's view on a sensor."""

from __future__ import annotations

from typing import Any

import numpy as np

from .. import thin_lens
from ..plan.kit import Mode
from ..plan.shot import Shot


def matching_pinhole_mm(shot: Shot, width_mm: Any, height_mm: Any) -> Any:
    """How far a pinhole lies from sensors so wide and high (numbers or arrays) that they see what
    the world camera sees at its widest: across or, of a frame that is laid in, all of it."""
    world = shot.world
    across = width_mm / world.sensor_width_mm
    if shot.placing is not None:
        across = np.minimum(across, height_mm * shot.delivery.aspect / world.sensor_width_mm)
    return world.focal_mm * shot.move.widest * across


def matching_focal_mm(shot: Shot, mode: Mode, focus_m: float, pupil_ratio: float = 1.0) -> float:
    """Focal length whose picture, focused at stage distance `focus_m`, fills the mode's width
    with exactly the world camera's view: see `thin_lens.matching_focal`."""
    pinhole = float(matching_pinhole_mm(shot, mode.sensor_width_mm, mode.sensor_height_mm))
    return thin_lens.matching_focal(pinhole, focus_m * 1000.0, pupil_ratio)
