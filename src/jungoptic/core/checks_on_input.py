"""Guards shared by the formulas: they refuse nonsense in a sentence, and let NaN fail too."""

from __future__ import annotations

import math


def positive(name: str, value: float) -> float:
    """Return `value` when it is finite and above zero; raise ValueError naming it otherwise."""
    if not (value > 0.0 and math.isfinite(value)):
        raise ValueError(f"{name} must be a number above zero, not {value!r}.")
    return value


def not_negative(name: str, value: float) -> float:
    """Return `value` when it is finite and zero or more; raise ValueError naming it otherwise."""
    if not (value >= 0.0 and math.isfinite(value)):
        raise ValueError(f"{name} must be zero or more, not {value!r}.")
    return value


def finite(name: str, value: float) -> float:
    """Return `value` when it is a finite number; raise ValueError naming it otherwise."""
    if not math.isfinite(value):
        raise ValueError(f"{name} must be a finite number, not {value!r}.")
    return value
