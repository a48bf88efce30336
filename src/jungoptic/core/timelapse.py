"""Time-lapse and hyperlapse: how many photographs, how far apart, and what steadying leaves."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike

from .checks_on_input import not_negative, positive
from .counting import frames_to_fill
from .impossible import Impossible


def photo_count(seconds: float, fps: float) -> int:
    """Photographs that fill `seconds` of screen time at `fps`, rounded up."""
    return frames_to_fill(seconds, fps)


def step_deg(step_m: float, distance_m: float) -> float:
    """By how much a step of `step_m` turns the view of a target `distance_m` away that is walked
    round, degrees: both places are as far from it, so it is 2 asin(s / 2 d).

    Raises Impossible for a negative step, no distance, or a step longer than the way across.
    """
    part = not_negative("step", step_m) / (2.0 * positive("distance", distance_m))
    if part > 1.0:
        raise Impossible("step must be no longer than twice the distance.", "step_m")
    return 2.0 * math.degrees(math.asin(part))


def crop_left(offsets_px: ArrayLike, width_px: float, height_px: float) -> float:
    """The part (0..1) of a picture's width and height that is left when pictures that lie
    `offsets_px` (n, 2) apart from where they should (right, down) are laid over one another:
    1 - 2 times the largest offset, of the axis that loses most. 1 without any picture.

    Raises Impossible unless width and height are above zero and every offset is finite.
    """
    size = np.array([positive("width", width_px), positive("height", height_px)])
    offsets = np.asarray(offsets_px, dtype=np.float64).reshape(-1, 2)
    if not np.isfinite(offsets).all():
        raise Impossible("every offset must be a finite number.", "offsets_px")
    lost = 2.0 * np.abs(offsets).max(axis=0, initial=0.0) / size
    return float(max(1.0 - lost.max(), 0.0))
