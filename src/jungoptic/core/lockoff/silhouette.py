"""The outline of something upright in the picture, as far as the picture shows it."""

from __future__ import annotations

import itertools
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..camera import Array, Camera

#: On the picture's edge is in it, pixels.
SLACK_PX = 1e-6
#: Points are taken to lie in one line that are off it by this part of how far any is.
EVEN = 1e-9


@lru_cache(maxsize=32)
def _pairs(count: int) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    both = np.array(list(itertools.combinations(range(count), 2)), dtype=np.intp).reshape(-1, 2)
    return both[:, 0], both[:, 1]


def outline(
    camera: Camera,
    corners: Array,
    width_px: float,
    height_px: float,
    rows: Array,
    near_m: float,
    upright: bool = True,
) -> tuple[Array, Array]:
    """Pixels (n, 2) on what the picture shows of the hull of `corners` (k, 3), and how far away
    each is (n,); empty where nothing of it is in the picture.

    They lie where the hull is farthest aside of any line whose points have the heights `rows` (or,
    not `upright`, are so far to the right): at corners, where the picture's edges cut, at those
    rows, and in the picture's corners. Straight edges stay straight in a picture.
    """
    at = camera.to_camera(corners)
    a, b = _pairs(len(at))
    start, end = at[a], at[b]
    use = (start[:, 2] > near_m) | (end[:, 2] > near_m)
    if not use.any():
        return np.empty((0, 2)), np.empty(0)
    size = np.array([width_px, height_px])
    if (at[:, 2] > near_m).all():
        whole = camera.to_pixels(at, width_px, height_px)
        if (whole.max(axis=0) < -SLACK_PX).any() or (whole.min(axis=0) > size + SLACK_PX).any():
            return np.empty((0, 2)), np.empty(0)
        # What lies within the hull is farther from every line than its rim.
        use = _rim(whole, a, b)
    start, end = _before(start[use], end[use], near_m), _before(end[use], start[use], near_m)
    from_px, to_px = (camera.to_pixels(p, width_px, height_px) for p in (start, end))
    axis = 1 if upright else 0
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        parts = [
            (np.array(wanted)[None] - from_px[:, i, None]) / (to_px - from_px)[:, i, None]
            for i, wanted in (
                (axis, [0.0, size[axis], *rows]),
                (1 - axis, [0.0, size[1 - axis]]),
            )
        ]
    ends = np.tile([0.0, 1.0], (len(from_px), 1))
    part = np.concatenate([ends, *parts], axis=1)
    part = np.where((part > 0.0) & (part < 1.0), part, ends[:, :1]).reshape(len(part), -1)
    part[:, 1] = 1.0
    pixels = (from_px[:, None] + part[..., None] * (to_px - from_px)[:, None]).reshape(-1, 2)
    away = (start[:, None, 2] + part * (end - start)[:, None, 2]).reshape(-1)
    shown = ((pixels >= -SLACK_PX) & (pixels <= size + SLACK_PX)).all(axis=1)
    within = _corners_within(np.concatenate([from_px, to_px]), size)
    if not len(within):
        return pixels[shown], away[shown]
    return (
        np.concatenate([pixels[shown], within]),
        np.concatenate([away[shown], np.full(len(within), np.median(at[:, 2]))]),
    )


def _rim(pixels: Array, a: NDArray[np.intp], b: NDArray[np.intp]) -> NDArray[np.bool_]:
    """Which pairs (p,) of points (k, 2) have all the others on one side: the rim of their hull."""
    way = pixels[b] - pixels[a]
    to = pixels[None] - pixels[a][:, None]
    side = way[:, None, 0] * to[..., 1] - way[:, None, 1] * to[..., 0]
    level = EVEN * np.abs(side).max(initial=0.0)
    found: NDArray[np.bool_] = (side >= -level).all(axis=1) | (side <= level).all(axis=1)
    return found


def _corners_within(points: Array, size: Array) -> Array:
    """Those of the picture's corners (n, 2) that lie within the hull of points (k, 2): seen from
    them, the points leave no half of the circle free."""
    corners = np.array([(0.0, 0.0), (size[0], 0.0), (0.0, size[1]), (size[0], size[1])])
    if not len(points):
        return corners[:0]
    off = points[None] - corners[:, None]
    angles = np.sort(np.arctan2(off[..., 1], off[..., 0]), axis=1)
    gaps = np.diff(angles, axis=1, append=angles[:, :1] + 2.0 * np.pi)
    found: Array = corners[gaps.max(axis=1) < np.pi]
    return found


def _before(points: Array, others: Array, near_m: float) -> Array:
    """Points drawn along the way to `others` until they lie ahead."""
    with np.errstate(divide="ignore", invalid="ignore"):
        part = (near_m - points[:, 2]) / (others[:, 2] - points[:, 2])
    part = np.where(points[:, 2] < near_m, part, 0.0)[:, None]
    found: Array = points + part * (others - points)
    return found
