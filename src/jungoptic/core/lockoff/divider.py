"""The line between two plates: straight, bent, and moving over time."""

from __future__ import annotations

import itertools

import numpy as np

from ..camera import Array
from ..plan.shot import Shot
from ..plan.tricks import DividerKey, Split
from ..stage.in_frame import part_at

#: A key with another number of points is drawn anew with this many.
RESAMPLED = 33
#: A piece of line that rises less than this lies flat; its slope would overflow.
FLAT_PX = 1e-6


def line_at(split: Split, frame: float, width_px: float, height_px: float) -> Array:
    """The divider at a frame as pixels (n, 2), before a zoom: between two keys every point goes
    straight from one to the other, before the first and after the last it stands."""
    keys = sorted(split.keys, key=lambda k: k.frame)
    size = np.array([width_px, height_px])
    if frame <= keys[0].frame:
        start: Array = _points(keys[0]) * size
        return start
    for before, after in itertools.pairwise(keys):
        if frame < after.frame:
            part = (frame - before.frame) / (after.frame - before.frame)
            a, b = _points(before), _points(after)
            if len(a) != len(b):
                a, b = resampled(a), resampled(b)
            found: Array = (a + (b - a) * part) * size
            return found
    end: Array = _points(keys[-1]) * size
    return end


def shown_at(
    shot: Shot, split: Split, frame: float, width_px: float, height_px: float
) -> tuple[Array, float]:
    """The divider as the picture shows it at a frame, pixels (n, 2), and its feather, delivered
    pixels. Plates are joined before a zoom is made of them, which takes both along."""
    line = line_at(split, frame, width_px, height_px)
    closer = shot.move.zoomed(part_at(shot, frame))
    if closer != 1.0:
        middle = np.array([width_px, height_px]) / 2.0
        line = middle + (line - middle) * closer
    return line, split.feather_px * closer


def _points(key: DividerKey) -> Array:
    return np.array(key.points, dtype=np.float64).reshape(-1, 2)


def resampled(line: Array, count: int = RESAMPLED) -> Array:
    """The same line (n, 2) with `count` points at equal steps along it."""
    steps = np.hypot(*np.diff(line, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    wanted = np.linspace(0.0, along[-1], count)
    return np.stack([np.interp(wanted, along, line[:, i]) for i in (0, 1)], axis=1)


def sides_at(line: Array, ys: Array) -> tuple[Array, Array]:
    """Leftmost and rightmost x of a line (n, 2) at heights `ys` (m,). Above its upper end and below
    its lower one it goes on upright."""
    (x0, y0), (x1, y1) = line[:-1].T, line[1:].T
    inside = (ys[:, None] >= np.minimum(y0, y1)) & (ys[:, None] <= np.maximum(y0, y1))
    flat = np.abs(y1 - y0) < FLAT_PX
    slope = (x1 - x0) / np.where(flat, 1.0, y1 - y0)
    there = x0 + slope * (ys[:, None] - y0)
    low = np.where(inside, np.where(flat, np.minimum(x0, x1), there), np.inf).min(
        axis=1, initial=np.inf
    )
    high = np.where(inside, np.where(flat, np.maximum(x0, x1), there), -np.inf).max(
        axis=1, initial=-np.inf
    )
    order = np.argsort(line[:, 1], kind="stable")
    top, bottom = line[order[0]], line[order[-1]]
    beyond = np.where(ys < top[1], top[0], bottom[0])
    outside = ~np.isfinite(low)
    return np.where(outside, beyond, low), np.where(outside, beyond, high)


def over_px(
    points: Array, line: Array, first: bool, upright: bool = True, feather_px: float = 0.0
) -> Array:
    """How far each pixel point (n, 2) of something that belongs to the first side (left, above), or
    to the second, goes over the near edge of the feather, straight across the line; negative is the
    room left. A feather lies to both sides of the line along its normal, however it leans."""
    if not upright:
        points, line = points[:, ::-1], line[:, ::-1]
    low, high = sides_at(line, points[:, 1])
    past = points[:, 0] - low if first else high - points[:, 0]
    found: Array = np.copysign(_away_px(points, line), past) + feather_px / 2.0
    return found


def _away_px(points: Array, line: Array) -> Array:
    """Distance (n,) of points from a line that goes on upright beyond its ends."""
    order = np.argsort(line[:, 1], kind="stable")
    top, bottom = line[order[0]], line[order[-1]]
    way, to = np.diff(line, axis=0), points[:, None] - line[:-1]
    long = (way * way).sum(axis=1)
    part = np.clip((to * way).sum(axis=2) / np.where(long > 0.0, long, 1.0), 0.0, 1.0)
    off = to - part[..., None] * way
    nearest: Array = np.hypot(off[..., 0], off[..., 1]).min(axis=1, initial=np.inf)
    for end, below in ((top, -1.0), (bottom, 1.0)):
        past = np.maximum(0.0, below * (end[1] - points[:, 1]))
        nearest = np.minimum(nearest, np.hypot(points[:, 0] - end[0], past))
    return nearest


def key_frames(split: Split, frames: int, most: int = 17) -> Array:
    """The frames (n,) at which a divider that alone moves is looked at: its keys, and evenly
    between them."""
    if len(split.keys) < 2:
        return np.array([float(split.keys[0].frame if split.keys else 1)])
    first = min(k.frame for k in split.keys)
    last = min(max(k.frame for k in split.keys), max(frames, 1))
    own = [float(k.frame) for k in split.keys if 1 <= k.frame <= frames]
    even = np.linspace(max(first, 1), max(last, first), most)
    return np.unique(np.concatenate([np.round(even), own]))
