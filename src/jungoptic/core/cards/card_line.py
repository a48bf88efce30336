"""One number of a set card."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class CardLine:
    """One number: which hand needs it, what it is, the value, and a word on how to take it."""

    group: str
    label: str
    value: str
    detail: str = ""
