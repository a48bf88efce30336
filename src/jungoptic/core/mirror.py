"""Filming by way of a first-surface mirror at 45 degrees, so that the lens may sit lower."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .checks_on_input import not_negative, positive
from .impossible import Impossible

#: Room left between the lens front and the nearer edge of the mirror, and under the mirror.
CLEAR_M = 0.015
MOUNT_M = 0.003


@dataclass(frozen=True)
class MirrorNeed:
    """Half height of the picture's beam at the mirror, and the side of glass that takes it, m."""

    half_height_m: float
    side_m: float

    @property
    def floor_m(self) -> float:
        """Lowest lens axis: the mirror's middle when its lower edge rests on its mount."""
        return self.half_height_m + MOUNT_M


def mirror_need(half_view: float, pupil_to_front_m: float, pupil_radius_m: float) -> MirrorNeed:
    """The mirror for a view of `half_view` (tangent of half its height).

    The mirror leans at 45 degrees, so it is as deep as it is high, and its far edge has to take the
    widest part of the beam: h = a + (d + 2 h) t. Raises Impossible when the view is too wide
    (t >= 1/2), where no mirror is large enough. Derived from ray geometry.
    """
    positive("half view", half_view)
    not_negative("distance from pupil to front", pupil_to_front_m)
    if half_view >= 0.5:
        raise Impossible("This view is too wide for a mirror at 45 degrees.", "mirror")
    start = max(pupil_to_front_m, 0.0) + CLEAR_M
    half = (pupil_radius_m + start * half_view) / (1.0 - 2.0 * half_view)
    return MirrorNeed(half, 2.0 * half * math.sqrt(2.0))
