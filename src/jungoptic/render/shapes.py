"""Plain bodies as triangles: a quad, a box, a disc, a ball, a limb."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .scene import Array

Shape = tuple[Array, NDArray[np.intp]]

_TWO = np.array([(0, 1, 2), (0, 2, 3)])
_BOX = np.array(
    [
        *((0, 1, 5), (0, 5, 4), (2, 6, 7), (2, 7, 3), (0, 4, 6), (0, 6, 2)),
        *((1, 3, 7), (1, 7, 5), (4, 5, 7), (4, 7, 6), (0, 2, 3), (0, 3, 1)),
    ]
)


def quad(*corners: Any) -> Shape:
    """A flat face with four corners, one way round."""
    return np.array(corners, dtype=np.float64), _TWO


def box(low: Any, high: Any) -> Shape:
    """A box between two opposite corners."""
    ends = np.array([low, high], dtype=np.float64)
    corners = [(x, y, z) for z in (0, 1) for y in (0, 1) for x in (0, 1)]
    return np.array([[ends[i, axis] for axis, i in enumerate(c)] for c in corners]), _BOX


def disc(at: Array, axis: Array, along: Array, across: Array, sides: int = 48) -> Shape:
    """A disc or an ellipse about `at` that faces along `axis`; `along` and `across` are its two
    half sides. As many-sided as it is, it has the true one's area."""
    grown = math.sqrt(math.pi / (sides / 2.0 * math.sin(2.0 * math.pi / sides)))
    turn = np.arange(sides) * 2.0 * math.pi / sides
    rim = at + grown * (np.outer(np.cos(turn), along) + np.outer(np.sin(turn), across))
    faces = np.array([(0, 1 + i, 1 + (i + 1) % sides) for i in range(sides)])
    if np.cross(along, across) @ axis < 0.0:
        faces = faces[:, ::-1]
    return np.concatenate([[at], rim]), faces


@lru_cache(maxsize=4)
def _ball(around: int = 22, rings: int = 12) -> Shape:
    down = np.linspace(0.0, math.pi, rings + 1)
    turn = np.arange(around) * 2.0 * math.pi / around
    points = [
        (math.sin(t) * math.cos(p), math.sin(t) * math.sin(p), math.cos(t))
        for t in down
        for p in turn
    ]
    faces = []
    for i in range(rings):
        for j in range(around):
            k = (j + 1) % around
            a, b, c, d = i * around + j, i * around + k, (i + 1) * around + k, (i + 1) * around + j
            if i > 0:
                faces.append((a, d, b))
            if i < rings - 1:
                faces.append((b, d, c))
    return np.array(points), np.array(faces)


def ball(at: Any, radii: Any) -> Shape:
    """A ball, or an egg with a radius for each axis."""
    points, faces = _ball()
    return points * np.asarray(radii, dtype=np.float64) + np.asarray(at, dtype=np.float64), faces


def limb(start: Any, end: Any, thick_start: float, thick_end: float) -> Shape:
    """A round body from one place to another, a ball of its own radius at each end."""
    a, b = np.asarray(start, dtype=np.float64), np.asarray(end, dtype=np.float64)
    way = b - a
    way /= max(float(np.linalg.norm(way)), 1e-12)
    side = np.cross(way, (0.0, 1.0, 0.01))
    side /= np.linalg.norm(side)
    other = np.cross(side, way)
    points, faces = _ball()
    # The half of a ball that looks back belongs to the start, the other to the end.
    first = points[:, 2:] >= -1e-9
    local = points * np.where(first, thick_start, thick_end)
    placed = local[:, :1] * side + local[:, 1:2] * other - local[:, 2:] * way
    return np.where(first, a, b) + placed, faces


def joined(shapes: list[Shape]) -> Shape:
    """Several bodies as one."""
    starts = np.cumsum([0, *(len(points) for points, _ in shapes[:-1])])
    return (
        np.concatenate([points for points, _ in shapes]),
        np.concatenate([faces + at for (_, faces), at in zip(shapes, starts, strict=True)]),
    )


def normals(points: Array, faces: NDArray[np.intp]) -> Array:
    """Which way a round body faces at each of its points (n, 3)."""
    corners = points[faces]
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    found = np.zeros_like(points)
    for i in range(3):
        np.add.at(found, faces[:, i], flat)
    lengths = np.linalg.norm(found, axis=1, keepdims=True)
    whole: Array = found / np.maximum(lengths, 1e-12)
    return whole
