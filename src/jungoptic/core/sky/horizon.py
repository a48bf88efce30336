"""What rises above the skyline of a place, and whether the sun clears it."""

from __future__ import annotations

import numpy as np

from ..camera import Array

Mask = tuple[tuple[float, float], ...]


def horizon_at(mask: Mask, azimuth_deg: Array) -> Array:
    """Elevation of the skyline (n,) in degrees at azimuths (n,): straight lines between the points
    of `mask`, (azimuth, elevation) each, all the way round; 0 without any."""
    azimuth = np.asarray(azimuth_deg, dtype=np.float64) % 360.0
    if not mask:
        return np.zeros_like(azimuth)
    points = sorted((a % 360.0, e) for a, e in mask)
    angles = [points[-1][0] - 360.0, *(a for a, _ in points), points[0][0] + 360.0]
    heights = [points[-1][1], *(e for _, e in points), points[0][1]]
    found: Array = np.interp(azimuth, angles, heights)
    return found


def shines(mask: Mask, azimuth_deg: Array, elevation_deg: Array) -> np.ndarray:
    """Whether the middle of the sun stands above the skyline, (n,) of bool."""
    found: np.ndarray = elevation_deg > np.maximum(horizon_at(mask, azimuth_deg), 0.0)
    return found
