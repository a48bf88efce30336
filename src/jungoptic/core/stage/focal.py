"""The focal length that matches the story's view on a sensor."""

from __future__ import annotations

from typing import Any

import numpy as np

from .. import thin_lens
from ..plan.kit import Mode
from ..plan.shot import Shot


def matching_pinhole_mm(shot: Shot, width_mm: Any, height_mm: Any) -> Any:
    """How far a pinhole lies from sensors so wide and high (numbers or arrays) that they just see
    what the world camera sees at its widest, across and down, with the padding that is kept."""
    world = shot.world
    used = np.minimum(width_mm, height_mm * shot.delivery.aspect)
    if not shot.zooms_across:
        used = used / (1.0 + 2.0 * shot.padding)
    elif shot.placing is None:
        used = width_mm
    return world.focal_mm * shot.move.widest * used / world.sensor_width_mm


def matching_focal_mm(shot: Shot, mode: Mode, focus_m: float, pupil_ratio: float = 1.0) -> float:
    """Focal length whose picture, focused at stage distance `focus_m`, just has all of the world
    camera's view and its padding: see `thin_lens.matching_focal`."""
    pinhole = float(matching_pinhole_mm(shot, mode.sensor_width_mm, mode.sensor_height_mm))
    return thin_lens.matching_focal(pinhole, focus_m * 1000.0, pupil_ratio)
