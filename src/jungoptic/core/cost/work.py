"""What post does with a plate, as far as it costs hours."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

#: How the wanted part of a plate is separated from the rest of it.
Cut = Literal["none", "split", "key", "luma", "roto"]


CUTS: tuple[Cut, ...] = ("none", "split", "key", "luma", "roto")


@dataclass(frozen=True)
class Work:
    """What post does with a plate, as far as it costs hours.

    `shapes` are the outlines drawn around things (roto), None: by what they are; `paint_share` is
    the part of all frames that is painted by hand; `takes` are those expected on set.
    """

    cut: Cut = "none"
    shapes: int | None = None
    paint_share: float = 0.0
    tracked: bool = False
    takes: int = 4
