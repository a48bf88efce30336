"""Codes for phones, drawn. Source: ISO/IEC 18004."""

from __future__ import annotations

from dataclasses import dataclass

import segno


@dataclass(frozen=True)
class Code:
    """A code as one path of unit squares, with a margin of one; `side` squares wide and high."""

    side: int
    path: str


def code_of(address: str) -> Code:
    """The code of an address."""
    rows = list(segno.make(address, error="m", micro=False).matrix)
    squares = "".join(
        f"M{x + 1} {y + 1}h1v1h-1z"
        for y, row in enumerate(rows)
        for x, dark in enumerate(row)
        if dark
    )
    return Code(len(rows) + 2, squares)
