"""A map of light over a stage: lines of equal light and the bands between them, in stops."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import cast

import contourpy
import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..impossible import Impossible

#: Stops between neighbouring lines.
STEP = 0.5
#: Lines from this far under to this far over the level at the action.
REACH = 4.0
Path = tuple[tuple[float, float], ...]
#: How contourpy gives filled bands: points, and where each closed path of them begins and ends.
Filled = tuple[list[Array], list[NDArray[np.uint32]]]


@dataclass(frozen=True)
class LightBand:
    """Where the light lies between two levels, stops from the action's: closed paths, filled by
    the even-odd rule."""

    low_stops: float
    high_stops: float
    paths: tuple[Path, ...]


@dataclass(frozen=True)
class IsoLine:
    """A line of equal light."""

    stops: float
    path: Path


@dataclass(frozen=True)
class LightMap:
    """Light over a rectangle of the stage against `zero_lux`, in the drawing's own coordinates.
    `low_stops` and `high_stops`: darkest and brightest in it."""

    zero_lux: float
    low_stops: float
    high_stops: float
    bands: tuple[LightBand, ...]
    lines: tuple[IsoLine, ...]


def light_map(
    us: Array, vs: Array, lux: Array, zero_lux: float, step: float = STEP, reach: float = REACH
) -> LightMap:
    """Contours of `lux` (rows along `vs`, columns along `us`). Raises Impossible without a level to
    compare with."""
    if not zero_lux > 0.0:
        raise Impossible("There is no light at the action to compare the map with.", "lamps")
    with np.errstate(divide="ignore"):
        stops = np.log2(np.maximum(lux, 1e-9) / zero_lux)
    stops = np.clip(stops, -reach - step, reach + step)
    levels = np.arange(-reach, reach + step / 2.0, step)
    maker = contourpy.contour_generator(
        us,
        vs,
        stops,
        fill_type=contourpy.FillType.OuterOffset,
        line_type=contourpy.LineType.Separate,
    )
    low, high = float(stops.min()), float(stops.max())
    bands = []
    edges = [-math.inf, *levels.tolist(), math.inf]
    for a, b in itertools.pairwise(edges):
        if b <= low or a > high:
            continue
        # Beyond the last line everything counts as one band.
        bottom, top = max(a, -reach - 2 * step), min(b, reach + 2 * step)
        points, offsets = cast(Filled, maker.filled(bottom, top))
        paths = [
            _path(ring[begin:end])
            for ring, ends in zip(points, offsets, strict=True)
            for begin, end in itertools.pairwise(ends)
        ]
        if paths:
            bands.append(LightBand(bottom, top, tuple(paths)))
    lines = tuple(
        IsoLine(float(level), _path(path))
        for level in levels
        if low < level < high
        for path in cast(list[Array], maker.lines(float(level)))
    )
    return LightMap(zero_lux, low, high, tuple(bands), lines)


def _path(points: Array) -> Path:
    return tuple(map(tuple, np.round(points, 4).tolist()))
