"""The decisions of a set map: where each piece of a set stands, so that it is found again after
months, and from where whoever animates works on it. Stage metres: to the right and ahead of below
the lens."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

#: How a piece lets somebody in: not at all, by being rolled out with the table under it, or as a
#: trap door that is opened from below.
Opens = Literal["", "rolls", "trap"]

#: The sides of a set, as its camera sees them: nearest to it, farthest, left and right.
Side = Literal["near", "far", "left", "right"]
SIDES: tuple[Side, ...] = ("near", "far", "left", "right")


@dataclass(frozen=True)
class SetPiece:
    """A piece of a set. The middle of its front, at its foot, is at (`x_m`, `y_m`), and `foot_m`
    above this stage's ground; its depth runs away from the camera, and `turn_deg` turns it about
    that place, to the right. `thing_id`: it is a thing of the story, which says where it stands and
    how large it is. `photo_id`: the picture that shows how it stands."""

    key: str
    name: str
    thing_id: str | None = None
    x_m: float = 0.0
    y_m: float = 1.0
    foot_m: float = 0.0
    width_m: float = 0.3
    depth_m: float = 0.2
    height_m: float = 0.2
    turn_deg: float = 0.0
    opens: Opens = ""
    photo_id: str | None = None
    note: str = ""


@dataclass(frozen=True)
class SetMap:
    """The edges of a set or its table (None: as what stands on it needs), the sides at which
    somebody can stand, and its pieces."""

    left_m: float | None = None
    right_m: float | None = None
    near_m: float | None = None
    far_m: float | None = None
    sides: tuple[Side, ...] = SIDES
    pieces: tuple[SetPiece, ...] = ()
