"""Lines through points."""

from __future__ import annotations

import itertools

import numpy as np

from .camera import Array


def dense(points: Array, step_px: float = 4.0, least: int = 1, most: int = 2000) -> Array:
    """The polyline (n, 2) with points no farther apart than `step_px`, so that no bend between two
    corners is missed; every stretch in at least `least` and at most `most` pieces."""
    if len(points) < 2:
        return points
    parts = []
    for a, b in itertools.pairwise(points):
        far = float(np.hypot(*(b - a)))
        count = min(max(int(far / step_px), least), most)
        parts.append(a + (b - a) * np.linspace(0.0, 1.0, count, endpoint=False)[:, None])
    found: Array = np.concatenate([*parts, points[-1:]])
    return found
