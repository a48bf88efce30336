"""A cloth as it was filmed: how evenly it is lit, how bright, of how many hues, and what of it is
clipped."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..camera import Array
from ..impossible import Impossible
from .tone import CLIPPED, LUMA, Flags, Picture, as_flags, as_picture, luma, to_light

#: The picture is measured in so many patches across: smaller ones measure noise.
PATCHES = 80
#: A patch says something when at least this part of it is asked about.
FILLED = 0.5
#: With less colour than this there is no hue to speak of.
COLOURLESS = 0.02


@dataclass(frozen=True)
class ScreenMeasure:
    """`range_stops`: brightest over darkest place. `level`: its brightness as recorded, 0..1, in
    the mean. `hue_spread_deg`: between its hues farthest apart, 0 for a cloth without colour.
    `clipped`: the part of it that is. `noise`: root mean square of its grain as recorded, 0..1."""

    range_stops: float
    level: float
    hue_spread_deg: float
    clipped: float
    noise: float = 0.0


@dataclass(frozen=True)
class Patches:
    """A cloth in patches: `stops` (r, c) each against the mean, NaN where nothing is asked;
    `hue_deg` (r, c), NaN too where there is no colour; `side_px` of a patch."""

    stops: Array
    hue_deg: Array
    side_px: int


def evenness(
    picture: ArrayLike,
    area: ArrayLike | None = None,
    linear: bool = False,
    found: Patches | None = None,
) -> ScreenMeasure:
    """How evenly a cloth is lit in a picture (h, w, 3) as recorded, or of light where `linear`.
    `area` is what of it is asked about: (h, w), marked, or (left, top, right, bottom) in pixels;
    all of it unless told. `found`: what `patches` says of the same, where that is known already.

    Raises Impossible for an area of another size or one that marks nothing, and for a cloth that is
    black.

    Source: light by the curve of ITU-R BT.709; hue as the angle of its colour differences.
    """
    shown = as_picture("picture", picture)
    where = _area(area, (shown.shape[0], shown.shape[1]))
    if found is None:
        found = patches(shown, where, linear)
    told = found.stops[np.isfinite(found.stops)]
    code = shown[where]
    over = float((code.max(axis=1) >= CLIPPED).mean())
    return ScreenMeasure(
        float(told.max() - told.min()),
        float((code @ LUMA).mean()),
        _spread(found.hue_deg[np.isfinite(found.hue_deg)]),
        over,
        _noise(luma(shown), where),
    )


def patches(picture: ArrayLike, area: ArrayLike | None = None, linear: bool = False) -> Patches:
    """The same in patches, for a drawing of it. Raises Impossible as `evenness` does."""
    shown = as_picture("picture", picture)
    where = _area(area, (shown.shape[0], shown.shape[1]))
    light = shown if linear else to_light(shown)
    side = max(round(max(where.shape) / PATCHES), 1)
    full = _mean(where.astype(np.float32), side)
    enough = full >= min(FILLED, float(full.max()))
    weight = np.where(where, np.float32(1.0), np.float32(0.0))
    colours = np.stack([_mean(light[..., i] * weight, side) for i in range(3)], axis=2)
    with np.errstate(divide="ignore", invalid="ignore"):
        colours = colours / full[..., None]
        bright = np.where(enough, colours @ LUMA.astype(np.float64), np.nan)
        if not np.nanmax(bright) > 1e-5:
            raise Impossible("the cloth is black there: nothing to measure.", "area")
        stops = np.log2(np.maximum(bright, 1e-6) / np.nanmean(bright))
    hue, strong = _hue(colours)
    return Patches(stops, np.where(enough & strong, hue, np.nan), side)


def _area(area: ArrayLike | None, shape: tuple[int, int]) -> Flags:
    given = None if area is None else np.asarray(area)
    if given is None or given.shape != (4,):
        return as_flags("area", given, shape)
    left, top, right, bottom = (round(float(v)) for v in given)
    found = np.zeros(shape, dtype=bool)
    found[max(top, 0) : max(bottom, 0), max(left, 0) : max(right, 0)] = True
    if not found.any():
        raise Impossible("area lies outside the picture.", "area")
    return found


def _mean(values: NDArray[np.float32], side: int) -> Array:
    """Means (r, c) over squares of `side`, what is left over at the edges in the last ones."""
    high, wide = values.shape
    rows, columns = max(high // side, 1), max(wide // side, 1)
    down = np.minimum(np.arange(high) // side, rows - 1)
    across = np.minimum(np.arange(wide) // side, columns - 1)
    sums = np.add.reduceat(values.astype(np.float64), np.searchsorted(down, np.arange(rows)), 0)
    sums = np.add.reduceat(sums, np.searchsorted(across, np.arange(columns)), 1)
    found: Array = sums / np.outer(np.bincount(down), np.bincount(across))
    return found


def _hue(light: Array) -> tuple[Array, Flags]:
    """(hue in degrees, whether there is enough colour) of light (..., 3)."""
    with np.errstate(invalid="ignore"):
        total = np.maximum(light.sum(axis=-1), 1e-9)
        red, green, blue = (light[..., i] / total for i in range(3))
        across, up = red - (green + blue) / 2.0, (green - blue) * math.sqrt(3.0) / 2.0
        found: Array = np.degrees(np.arctan2(up, across))
        strong: Flags = np.hypot(across, up) > COLOURLESS
    return found, strong


def _spread(hues_deg: Array) -> float:
    """The shortest arc that holds all hues, degrees."""
    if len(hues_deg) < 2:
        return 0.0
    turns = np.sort(np.mod(hues_deg, 360.0))
    gaps = np.diff(np.concatenate([turns, turns[:1] + 360.0]))
    return float(360.0 - gaps.max())


def _noise(bright: Picture, where: Flags) -> float:
    """Root mean square of the grain: half of what a Laplacian leaves, by its middle, which edges
    and folds do not move. Source: Immerkaer 1996, Fast noise variance estimation."""
    kernel = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], dtype=np.float32)
    grain = np.abs(cv2.filter2D(bright, -1, kernel))[where]
    return float(np.median(grain)) / 0.6745 / 6.0
