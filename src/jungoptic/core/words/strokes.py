"""Polylines laid end to end: one transform of all of them costs less than one for each."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..camera import Array
from ..slices import slices_of


class Strokes(NamedTuple):
    """The lines that draw one thing: their `points` (n, 3), and how many of them each has."""

    points: Array
    lengths: tuple[int, ...]

    @staticmethod
    def of(lines: Sequence[Array]) -> Strokes:
        """Of lines (n, 3), one at least."""
        return Strokes(np.concatenate(lines), tuple(map(len, lines)))

    def at(self, points: Array) -> Strokes:
        """The same lines with their points (n, 3) elsewhere."""
        return Strokes(points, self.lengths)


def end_to_end(things: Sequence[Strokes]) -> tuple[Array, list[slice]]:
    """The points (n, 3) of all things, and where each thing's are."""
    if not things:
        return np.empty((0, 3)), []
    points = [thing.points for thing in things]
    return np.concatenate(points), slices_of(points)
