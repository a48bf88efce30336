"""A cloth's light as a map: lines of equal light, and what each area of the picture has."""

from __future__ import annotations

import itertools
import warnings
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from contourpy import contour_generator

from ..camera import Array
from .screen import Patches
from .tone import Flags

#: Lines are drawn at every so many stops from the mean.
EVERY = 0.25
#: No more lines than these to each side.
MOST = 8
#: A cloth is told in so many areas across and down, none smaller than these parts of the picture:
#: their numbers must have room.
AREAS, SMALLEST = (6, 4), (0.09, 0.1)
#: An area is told when so much of it shows the cloth.
SHOWN = 0.3
#: A line shorter than this part of the picture is grain.
LEAST = 0.05
#: A direction in which the light differs by less than this part of the other says nothing.
PART = 0.4
DOWN, ACROSS = ("at the top", "", "at the bottom"), ("on the left", "", "on the right")


@dataclass(frozen=True)
class Line:
    """A line of equal light: `stops` from the mean; its points, parts of the picture, right and
    down."""

    stops: float
    points: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Area:
    """An area of the picture (parts of it) and its `stops` from the mean."""

    left: float
    top: float
    right: float
    bottom: float
    stops: float


def lines(found: Patches) -> list[Line]:
    """Lines of equal light over a cloth."""
    rows, columns = found.stops.shape
    if min(rows, columns) < 2:
        return []
    known = found.stops[np.isfinite(found.stops)]
    x, y = (np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows
    drawn = contour_generator(x, y, np.ma.masked_invalid(_calmed(found.stops)))
    first = max(int(np.ceil(known.min() / EVERY)), -MOST)
    last = min(int(np.floor(known.max() / EVERY)), MOST)
    told = []
    for n in range(first, last + 1):
        for line in drawn.lines(n * EVERY):
            points = np.asarray(line)
            if np.hypot(*np.diff(points, axis=0).T).sum() < LEAST:
                continue
            pairs = tuple((round(float(a), 4), round(float(b), 4)) for a, b in points)
            told.append(Line(n * EVERY, pairs))
    return told


def _calmed(stops: Array) -> Array:
    """The mean of nine neighbours, of those that are known: lines follow light, not grain."""
    padded = np.pad(stops, 1, constant_values=np.nan)
    high, wide = stops.shape
    layers = [padded[i : i + high, j : j + wide] for i in range(3) for j in range(3)]
    known = np.isfinite(np.stack(layers))
    total = np.where(known, np.stack(layers), 0.0).sum(axis=0)
    calm: Array = np.where(np.isfinite(stops), total / np.maximum(known.sum(axis=0), 1), np.nan)
    return calm


def areas(found: Patches) -> list[Area]:
    """The cloth's light area by area, from its own edges on; those that show little of it are left
    out."""
    rows, columns = found.stops.shape
    known = np.isfinite(found.stops)
    down, across = (_split(np.asarray(known.any(axis=1 - k)), 1 - k) for k in (0, 1))
    told = []
    for top, bottom in itertools.pairwise(down):
        for left, right in itertools.pairwise(across):
            part = found.stops[top:bottom, left:right]
            there = part[np.isfinite(part)]
            if len(there) >= SHOWN * part.size:
                box = (left / columns, top / rows, right / columns, bottom / rows)
                told.append(Area(*box, float(np.mean(there))))
    return told


def _split(shown: Flags, axis: int) -> list[int]:
    """Where areas begin and end across (0) or down (1), over what shows any cloth."""
    there = np.flatnonzero(shown)
    first, behind = int(there[0]), int(there[-1]) + 1
    room = int((behind - first) / len(shown) / SMALLEST[axis])
    parts = min(max(room, 1), AREAS[axis])
    return sorted({round(x) for x in np.linspace(first, behind, parts + 1)})


def places(found: Patches) -> tuple[str, str]:
    """Where the cloth is brightest and where it is darkest, in words: by its columns and its rows,
    of which those count that differ."""
    with warnings.catch_warnings():
        # A row or a column without any cloth tells nothing.
        warnings.simplefilter("ignore", RuntimeWarning)
        across, down = (np.nanmean(found.stops, axis=k) for k in (0, 1))
    most = max(float(np.nanmax(x) - np.nanmin(x)) for x in (across, down))
    counts = [float(np.nanmax(x) - np.nanmin(x)) >= PART * most for x in (across, down)]

    def place(pick: Callable[[Array], np.intp]) -> str:
        words = [
            words[min(3 * int(pick(x)) // len(x), 2)] if counted else ""
            for x, words, counted in zip((across, down), (ACROSS, DOWN), counts, strict=True)
        ]
        return " ".join(word for word in reversed(words) if word) or "in the middle"

    return place(np.nanargmax), place(np.nanargmin)
