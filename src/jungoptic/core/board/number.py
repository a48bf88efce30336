"""A board's number in three coded markers: two digits to the base 990 and a check, which also tells
the paper's size."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..impossible import Impossible

Paper = Literal["A4", "A3"]
#: How much larger than A4 a sheet is (ISO 216).
TIMES: dict[Paper, float] = {"A4": 1.0, "A3": math.sqrt(2.0)}
#: The grid of the board has the markers before this one.
FIRST = 10
BASE = 990
#: There are so many numbers of boards, from 0 on.
NUMBERS = BASE * BASE
#: A check of so many values; the paper's size takes the other half of a marker.
_CHECKS = BASE // 2


@dataclass(frozen=True)
class Code:
    """What the three markers of a board say."""

    number: int
    paper: Paper


def _check(high: int, low: int) -> int:
    # Factors without a common divisor with the number of checks: any one digit misread shows, but
    # for one by exactly half of them.
    return (7 * high + 13 * low + 5) % _CHECKS


def markers_of(number: int, paper: Paper = "A4") -> tuple[int, int, int]:
    """The markers from left to right. Raises Impossible for a number that no board has."""
    if not 0 <= number < NUMBERS:
        raise Impossible(f"boards are numbered from 0 to {NUMBERS - 1}.", "number")
    high, low = divmod(number, BASE)
    check = _check(high, low) + (_CHECKS if paper == "A3" else 0)
    return FIRST + high, FIRST + low, FIRST + check


def code_of(markers: Sequence[int]) -> Code | None:
    """What three markers say, from left to right; None where they are no board's."""
    if len(markers) != 3 or not all(FIRST <= m < FIRST + BASE for m in markers):
        return None
    high, low, check = (m - FIRST for m in markers)
    paper: Paper = "A3" if check >= _CHECKS else "A4"
    return Code(high * BASE + low, paper) if check % _CHECKS == _check(high, low) else None
