"""How a lens bends lines: where it shows what a pinhole would show elsewhere."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..camera import Array


@dataclass(frozen=True)
class Bend:
    """How a lens bends lines on a sensor so wide: what a pinhole, `pinhole_mm` before it, would
    show at r from the middle, a part of that distance, lies at r (1 + k1 r^2 + k2 r^4) of a middle
    that lies `right_mm` and `down_mm` of the picture's (Brown 1971, Zhang 2000)."""

    k1: float
    k2: float
    right_mm: float
    down_mm: float
    pinhole_mm: float
    sensor_width_mm: float

    def focal_px(self, width_px: float) -> float:
        """The pinhole distance in pixels of a picture so wide."""
        return self.pinhole_mm * width_px / self.sensor_width_mm

    def away_px(self, width_px: float) -> Array:
        """How far its middle lies right of and below that of a picture so wide."""
        return np.array([self.right_mm, self.down_mm]) * width_px / self.sensor_width_mm


def bent(places: ArrayLike, bend: Bend, width_px: int, height_px: int) -> Array:
    """Where a lens shows what a pinhole would show at `places` (..., 2): pixels of a picture so
    large, from its corner."""
    focal_px = bend.focal_px(width_px)
    middle = np.array([width_px, height_px]) / 2.0
    plain = (np.asarray(places, np.float64) - middle) / focal_px
    r2 = (plain**2).sum(axis=-1, keepdims=True)
    there = plain * (1.0 + bend.k1 * r2 + bend.k2 * r2**2)
    moved: Array = there * focal_px + middle + bend.away_px(width_px)
    return moved
