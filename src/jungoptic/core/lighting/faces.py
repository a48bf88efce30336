"""Points over the face of a lamp: for integrals of its light, and for parts that may be hidden."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from ..camera import Array


@lru_cache(maxsize=64)
def disc(rings: int, spokes: int) -> tuple[Array, Array]:
    """Points (k, 2) and weights over a disc of radius 1, Gauss nodes in the radius squared."""
    nodes, weights = np.polynomial.legendre.leggauss(rings)
    radius = np.sqrt((nodes + 1.0) / 2.0)
    turn = 2.0 * math.pi * (np.arange(spokes) + 0.5) / spokes
    points = np.stack(
        [np.outer(radius, np.cos(turn)).ravel(), np.outer(radius, np.sin(turn)).ravel()], axis=1
    )
    return points, np.repeat(weights / 2.0 / spokes, spokes)


#: Into how many equal parts a lamp's face is cut where something may hide some of it.
FACE_PARTS = 64


@lru_cache(maxsize=1)
def even_disc() -> Array:
    """Points (k, 2) spread evenly over a disc of radius 1 (Vogel's spiral, 1979)."""
    i = np.arange(FACE_PARTS)
    radius, turn = np.sqrt((i + 0.5) / FACE_PARTS), i * math.pi * (3.0 - math.sqrt(5.0))
    return np.stack([radius * np.cos(turn), radius * np.sin(turn)], axis=1)


@lru_cache(maxsize=1)
def even_strip() -> Array:
    """Points (k, 2) spread evenly over a rectangle from -1 to 1 both ways."""
    across = 4
    along = FACE_PARTS // across
    a = (np.arange(along) + 0.5) / along * 2.0 - 1.0
    b = (np.arange(across) + 0.5) / across * 2.0 - 1.0
    return np.stack([np.repeat(a, across), np.tile(b, along)], axis=1)


@lru_cache(maxsize=64)
def strip(along: int, across: int) -> tuple[Array, Array]:
    """Points (k, 2) and weights over a rectangle from -1 to 1 both ways."""
    a, wa = np.polynomial.legendre.leggauss(along)
    b, wb = np.polynomial.legendre.leggauss(across)
    points = np.stack([np.repeat(a, across), np.tile(b, along)], axis=1)
    return points, np.outer(wa, wb).ravel() / 4.0
