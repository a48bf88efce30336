"""Moves in whole steps of a rig."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from math import floor

from .checks_on_input import finite, positive


def quantise(increments: Iterable[float], step: float) -> list[int]:
    """Whole steps per frame for the wanted `increments` (same unit as `step`).

    The remainder is carried, so the running total is never off by more than half a step,
    however long the move. Summed as exact fractions: no rounding error accumulates either.
    """
    unit = Fraction(positive("step", step))
    wanted, taken, steps = Fraction(0), 0, []
    for increment in increments:
        wanted += Fraction(finite("increment", increment))
        reached = floor(wanted / unit + Fraction(1, 2))
        steps.append(reached - taken)
        taken = reached
    return steps
