"""Marks on a sketch or a scout still, and what crosses what.

Picture points are pixels of the picture, origin top left. A matte line is a polyline below which
everything real must stay."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..camera import Array

LayerKind = Literal["matte", "holdout", "remove", "split", "action", "tracking", "reference"]


#: What each layer is for, in the words of the trade.
LAYERS: Mapping[str, tuple[str, str]] = {
    "matte": ("Matte line", "nothing may cross it: below is real, above is added"),
    "holdout": ("Hold-out", "stands in front and has to be cut out"),
    "remove": ("Remove in post", "cable, rod, sign: painted or patched out"),
    "split": ("Split", "two takes meet here"),
    "action": ("Action path", "where somebody or something moves"),
    "tracking": ("Tracking marker", "put there or found there, to track by"),
    "reference": ("Reference point", "of known place or size"),
}


#: Pairs whose crossings cost work.
WATCHED: tuple[tuple[LayerKind, LayerKind], ...] = (
    ("action", "matte"),
    ("action", "split"),
    ("split", "matte"),
)


@dataclass(frozen=True)
class Drawn:
    """One mark: a polyline of pixels (n, 2). `distance_m` from the camera and `height_m` where
    they are known."""

    id: str
    kind: LayerKind
    name: str
    points: tuple[tuple[float, float], ...]
    distance_m: float | None = None
    height_m: float | None = None

    @property
    def array(self) -> Array:
        """The points as (n, 2)."""
        return np.array(self.points, dtype=np.float64).reshape(-1, 2)

    @property
    def label(self) -> str:
        """Its name, or what it is."""
        return self.name or LAYERS[self.kind][0]


@dataclass(frozen=True)
class Crossing:
    """Where two marks cross: their ids and the place in pixels."""

    first_id: str
    second_id: str
    x_px: float
    y_px: float


def segments_cross(a: Array, b: Array) -> Array:
    """Crossing points (n, 2) of polylines `a` (p, 2) and `b` (q, 2).

    Segments are half-open (start in, end out), so a crossing at a shared vertex counts once; the
    last point of each line is in. Parallel overlaps count as none.
    """
    if len(a) < 2 or len(b) < 2:
        return np.empty((0, 2))
    p, r = a[:-1, None, :], np.diff(a, axis=0)[:, None, :]
    q, s = b[None, :-1, :], np.diff(b, axis=0)[None, :, :]

    def cross(u: Array, v: Array) -> Array:
        found: Array = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
        return found

    turn = cross(r, s)
    # Nearly parallel counts as parallel: where they would meet is noise.
    lengths = np.hypot(r[..., 0], r[..., 1]) * np.hypot(s[..., 0], s[..., 1])
    meets = np.abs(turn) > 1e-9 * np.maximum(lengths, 1e-12)
    divisor = np.where(meets, turn, 1.0)
    t, u = cross(q - p, s) / divisor, cross(q - p, r) / divisor
    last_a = np.arange(len(a) - 1)[:, None] == len(a) - 2
    last_b = np.arange(len(b) - 1)[None, :] == len(b) - 2
    hit = meets & (t >= 0) & (u >= 0)
    hit &= (t < 1) | (last_a & (t <= 1))
    hit &= (u < 1) | (last_b & (u <= 1))
    points: Array = (p + t[..., None] * r)[hit]
    return points


def crossings(marks: tuple[Drawn, ...]) -> tuple[Crossing, ...]:
    """Every crossing between an action path, a matte line and a split, left to right."""
    found = []
    for first_kind, second_kind in WATCHED:
        for first in (m for m in marks if m.kind == first_kind):
            for second in (m for m in marks if m.kind == second_kind):
                for x, y in segments_cross(first.array, second.array):
                    found.append(Crossing(first.id, second.id, float(x), float(y)))
    return tuple(sorted(found, key=lambda c: c.x_px))


def line_y(line: Array, xs: Array) -> Array:
    """Height of a matte line (n, 2) at `xs`: the lowest of its pieces there, NaN beside its ends.

    "Lowest" is the largest y, since a line that folds back forbids everything above its lowest
    piece.
    """
    best = np.full(len(xs), np.nan)
    for (x0, y0), (x1, y1) in itertools.pairwise(line):
        low, high = min(x0, x1), max(x0, x1)
        inside = (xs >= low) & (xs <= high)
        if not inside.any():
            continue
        along = (xs - x0) / (x1 - x0) if x1 != x0 else np.ones(len(xs))
        here = y0 + (y1 - y0) * along if x1 != x0 else np.full(len(xs), max(y0, y1))
        best = np.where(inside, np.fmax(best, here), best)
    return best


def above_line(points_px: Array, line: Array, width_px: float, height_px: float) -> float:
    """How far the worst point (n, 2) that is inside the picture rises above the matte line, in
    pixels; negative is the clearance left; -inf when nothing of it is over or under the line."""
    inside = (
        (points_px[:, 0] >= 0)
        & (points_px[:, 0] <= width_px)
        & (points_px[:, 1] <= height_px)
        & np.isfinite(points_px).all(axis=1)
    )
    points = points_px[inside]
    if not len(points):
        return -math.inf
    # A point above the picture's edge crosses as far as the edge; more cannot be seen.
    over = line_y(line, points[:, 0]) - np.maximum(points[:, 1], 0.0)
    over = over[np.isfinite(over)]
    return float(over.max()) if len(over) else -math.inf
