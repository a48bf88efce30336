"""Moves: how they ease, and how they fall into whole steps of a rig."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from math import floor
from typing import Any, Literal

from .checks_on_input import finite, positive

Ease = Literal["even", "in", "out", "both"]


def eased(part: float, ease: Ease) -> float:
    """How far a move has come (0..1) after `part` (0..1) of its time.

    even: constant speed; in: starts from rest, t^2; out: comes to rest, 1 - (1 - t)^2; both:
    3 t^2 - 2 t^3. All end at 1. Outside 0..1 it stays where it began or ended.
    """
    return float(ease_of(min(max(part, 0.0), 1.0), ease))


def ease_of(t: Any, ease: Ease) -> Any:
    """`eased` for times that lie in 0..1 already: a number, or a NumPy array of them."""
    if ease == "even":
        return t
    if ease == "in":
        return t * t
    if ease == "out":
        return 1.0 - (1.0 - t) * (1.0 - t)
    return t * t * (3.0 - 2.0 * t)


def quantise(increments: Iterable[float], step: float) -> list[int]:
    """Whole steps per frame for the wanted `increments` (same unit as `step`).

    The remainder is carried, so the running total is never off by more than half a step,
    however long the move. Summed as exact fractions: no rounding error accumulates either.

    Raises Impossible unless the step is above zero and every increment finite.
    """
    unit = Fraction(positive("step", step))
    wanted, taken, steps = Fraction(0), 0, []
    for increment in increments:
        wanted += Fraction(finite("increment", increment))
        reached = floor(wanted / unit + Fraction(1, 2))
        steps.append(reached - taken)
        taken = reached
    return steps
