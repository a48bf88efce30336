"""Guards shared by the formulas: they refuse nonsense in a sentence, and let NaN fail too.

`name` is what the sentence calls the number; `field` is the decision it concerns where that goes by
another name.
"""

from __future__ import annotations

import math

from .impossible import Impossible


def positive(name: str, value: float, field: str | None = None) -> float:
    """Return `value` when it is finite and above zero; raise Impossible naming it otherwise."""
    if not (value > 0.0 and math.isfinite(value)):
        raise Impossible(
            f"{name} must be a number above zero, not {value!r}.", name if field is None else field
        )
    return value


def not_negative(name: str, value: float, field: str | None = None) -> float:
    """Return `value` when it is finite and zero or more; raise Impossible naming it otherwise."""
    if not (value >= 0.0 and math.isfinite(value)):
        raise Impossible(
            f"{name} must be zero or more, not {value!r}.", name if field is None else field
        )
    return value


def finite(name: str, value: float, field: str | None = None) -> float:
    """Return `value` when it is a finite number; raise Impossible naming it otherwise."""
    if not math.isfinite(value):
        raise Impossible(
            f"{name} must be a finite number, not {value!r}.", name if field is None else field
        )
    return value


def whole(name: str, value: float, least: int, field: str | None = None) -> int:
    """Return `value` as an integer when it is a whole number, `least` or more; raise Impossible
    naming it otherwise."""
    if not (math.isfinite(value) and value == int(value) and value >= least):
        raise Impossible(
            f"{name} must be a whole number, {least} or more, not {value!r}.",
            name if field is None else field,
        )
    return int(value)
