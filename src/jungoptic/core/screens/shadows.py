"""Shadows that lamps throw of the action on the screen behind it, as soft as the lamps are large.

A point of the screen loses that part of a lamp which the action hides from it (central projection
from each point of the lamp; any text on radiometry), so a soft lamp throws a full shadow only of
what is wider than the lamp looks from there.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from ..camera import Array
from ..lighting.shine import Source, illuminance
from .screen_light import FACING, ScreenLight

if TYPE_CHECKING:
    from ..stage.backing import Backing

#: How closely the screen is looked at, columns and rows of the part that shows.
COLUMNS, ROWS = 25, 17


@dataclass(frozen=True)
class ScreenShadow:
    """A shadow that a lamp throws of the action on the screen: which lamp, where any of it falls
    (stage metres), how much darker its darkest spot is, stops, and the largest part of the lamp
    that is hidden there."""

    lamp: int
    left_m: float
    right_m: float
    bottom_m: float
    top_m: float
    darker_stops: float
    hidden: float


def screen_shadows(
    sources: tuple[Source, ...], moments: list[list[Array]], backing: Backing, lit: ScreenLight
) -> tuple[ScreenShadow, ...]:
    """Shadows of convex things, points (n, 3) each at every moment, that fall where `lit` shows the
    screen, lamp by lamp; the darkest moment counts."""
    xs = np.linspace(lit.left_m, lit.right_m, COLUMNS)
    zs = np.linspace(lit.bottom_m, lit.top_m, ROWS)
    spots = np.stack([np.tile(xs, ROWS), np.repeat(zs, COLUMNS)], axis=1)
    grid = np.insert(spots, 1, backing.distance_m, axis=1)
    light: Array | None = None
    found = []
    for i, source in enumerate(sources):
        thrown = [
            [r for t in things if (r := _thrown(source, t, backing.distance_m)) is not None]
            for things in moments
        ]
        rings = [ring for things in thrown for ring in things if _meets(ring, lit)]
        if not rings:
            continue
        hidden = np.zeros(len(spots))
        for things in thrown:
            parts = np.zeros((len(source.face_m), len(spots)), dtype=bool)
            for ring in things:
                parts |= _within(ring, spots)
            hidden = np.maximum(hidden, parts.mean(axis=0))
        if light is None:
            light = illuminance(sources, grid, FACING)
        total, gone = light.sum(axis=0), hidden * light[i]
        dark = np.flatnonzero(gone > 0.0)
        if not len(dark):
            continue
        rest = (total - gone)[dark]
        with np.errstate(divide="ignore"):
            darker = np.where(rest > 1e-9, np.log2(total[dark] / np.maximum(rest, 1e-9)), np.inf)
        worst = int(darker.argmax())
        every = np.concatenate([ring.reshape(-1, 2) for ring in rings])
        (left, bottom), (right, top) = every.min(axis=0).tolist(), every.max(axis=0).tolist()
        found.append(
            ScreenShadow(
                source.number,
                left,
                right,
                max(bottom, 0.0),
                top,
                float(darker[worst]),
                float(hidden[dark[worst]]),
            )
        )
    return tuple(found)


def _thrown(source: Source, points: Array, y_m: float) -> Array | None:
    """Where each point of a lamp throws the outline of a thing on the screen's plane, (k, m, 2)
    each a ring; None for what lies beside or behind the lamp."""
    if source.parallel:
        way = np.broadcast_to(source.axis, (1, *points.shape))
    else:
        way = points[None] - (source.at_m + source.face_m)[:, None]
    if (way[..., 1] <= 1e-6).any() or (points[:, 1] >= y_m).any():
        return None
    gone = (y_m - points[:, 1]) / way[..., 1]
    flat: Array = points[None, :, ::2] + gone[..., None] * way[..., ::2]
    middle = flat.mean(axis=0)
    try:
        # The lamp is small against its distance: its points see the same outline.
        return flat[:, ConvexHull(middle).vertices]
    except QhullError:
        return None


def _meets(rings: Array, lit: ScreenLight) -> bool:
    low, high = rings.min(axis=(0, 1)), rings.max(axis=(0, 1))
    return bool(
        high[0] > lit.left_m
        and low[0] < lit.right_m
        and high[1] > lit.bottom_m
        and low[1] < lit.top_m
    )


def _within(rings: Array, spots: Array) -> Array:
    """Which spots (n, 2) lie in each of k convex rings (k, m, 2), against the clock: (k, n)."""
    ahead = np.roll(rings, -1, axis=1) - rings
    x, y = spots[:, 0], spots[:, 1]
    inside = np.ones((len(rings), len(spots)), dtype=bool)
    for corner, edge in zip(rings.transpose(1, 0, 2), ahead.transpose(1, 0, 2), strict=True):
        away_x, away_y = x - corner[:, :1], y - corner[:, 1:]
        inside &= edge[:, :1] * away_y - edge[:, 1:] * away_x >= 0.0
    return inside
