"""Light on many small faces at once, each looking its own way."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..camera import Array
from .shine import Source


def on_faces(
    sources: Sequence[Source], points: Array, normals: Array, areas_m2: Array | float = 0.0
) -> Array:
    """Light (s, n) of each lamp on faces at `points` (n, 3) that look along `normals` (n, 3), lux:
    I cos^n(a) cos(b) / d^2 (any illumination text). A lamp is one point here. Where faces are as
    large as `areas_m2`, a lamp nearer than that lights a spot of them: all of one gets less than
    its middle."""
    if not len(sources):
        return np.zeros((0, len(points)))
    ways = points[None, :, :] - np.array([s.at_m for s in sources])[:, None, :]
    d2 = np.einsum("sni,sni->sn", ways, ways)
    away = np.sqrt(np.maximum(d2, 1e-12))
    axes = np.array([s.axis for s in sources])
    lands = np.maximum(-np.einsum("sni,ni->sn", ways, normals) / away, 0.0)
    ahead = np.einsum("sni,si->sn", ways, axes) / away
    power = np.array([s.power for s in sources])[:, None]
    beam = np.where(power > 0.0, np.maximum(ahead, 0.0) ** power, 1.0)
    bright = np.array([s.intensity_cd for s in sources])[:, None]
    found: Array = bright * beam * lands / np.maximum(d2 + np.asarray(areas_m2) / 16.0, 4e-4)
    far = np.array([s.parallel for s in sources])
    if far.any():
        # From very far away it is as bright everywhere.
        found[far] = bright[far] * np.maximum(-axes[far] @ normals.T, 0.0)
    return found
