"""A column of a sheet when its shot is cut in two: each half goes on as the whole did."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..plan.sheet import Column, CurvePoint, Leg, Mark
from .chart import leg_increments
from .timing import in_order

#: A leg that is cut goes on through so many points of its own curve at the most.
MOST_POINTS = 39


def part_of(column: Column, first: int, last: int) -> Column:
    """The column of frames `first` to `last` alone, counted from 1 there. What holds at `first`
    begins there; of a leg that runs over an end what lies inside is kept, with its own ease."""
    marks = in_order(column)
    inside = [replace(m, frame=m.frame - first + 1) for m in marks if first <= m.frame <= last]
    before = [m for m in marks if m.frame < first]
    if before and not any(m.frame == 1 for m in inside):
        inside = [*_going_on(before[-1], first, inside), *inside]
    legs = (_inside(leg, first, last) for leg in column.legs)
    return replace(column, marks=tuple(inside), legs=tuple(leg for leg in legs if leg is not None))


def _going_on(mark: Mark, first: int, inside: list[Mark]) -> list[Mark]:
    """What a mark from before `first` is there: a run keeps its own step."""
    if not mark.every or not (first - mark.frame) % mark.every:
        return [replace(mark, frame=1)]
    ahead = 1 + mark.every - (first - mark.frame) % mark.every
    held = [Mark(1, mark.name)]
    later = not inside or inside[0].frame > ahead
    return [*held, replace(mark, frame=ahead)] if later else held


def _inside(leg: Leg, first: int, last: int) -> Leg | None:
    begins, ends = leg.first - first + 1, leg.first + leg.frames - first
    if ends < 1 or leg.first > last:
        return None
    if begins >= 1 and leg.first + leg.frames - 1 <= last:
        return replace(leg, first=begins)
    low, high = max(begins, 1), min(ends, last - first + 1)
    ways = np.array(leg_increments(leg))[low - begins : high - begins + 1]
    gone = np.cumsum(ways)
    kept = Leg(low, len(ways), float(gone[-1]), "even")
    if not kept.way or len(ways) < 2:
        return kept
    at = np.unique(np.linspace(1, len(ways) - 1, min(len(ways) - 1, MOST_POINTS)).round())
    points = (CurvePoint(float(i) / len(ways), float(gone[int(i) - 1] / kept.way)) for i in at)
    return replace(kept, curve=tuple(points))
