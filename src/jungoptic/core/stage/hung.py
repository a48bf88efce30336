"""How what hangs behind the action is cut from what is owned."""

from __future__ import annotations

import math
from typing import NamedTuple

from ..plan.grip import Cloth
from ..plan.plate import Plate
from ..plan.shot import Shot


class Hanging(NamedTuple):
    """How a cloth hangs: `across_m` wide, `down_m` of it from its upper edge to its end on the
    floor; `turned`: on its side."""

    cloth: Cloth
    turned: bool
    across_m: float
    down_m: float

    def short_m(self, width_m: float, height_m: float, sweep_m: float) -> float:
        """By how much it is too small for so wide and high a screen with so much of it on the
        floor; 0 or less where it is large enough, infinity for a floor of a stiff board."""
        if self.cloth.stiff and sweep_m > 0.0:
            return math.inf
        return max(width_m - self.across_m, height_m + sweep_m - self.down_m)


def hangings(cloth: Cloth) -> tuple[Hanging, Hanging]:
    """A cloth upright and on its side."""
    return (
        Hanging(cloth, False, cloth.width_m, cloth.length_m),
        Hanging(cloth, True, cloth.length_m, cloth.width_m),
    )


def has_cloth(plate: Plate) -> bool:
    """Whether something hangs behind the action that somebody has to own: no sky."""
    return (
        plate.kind == "screen"
        and plate.screen_width_m > 0.0
        and plate.screen_height_m > 0.0
        and plate.screen_colour != "sky"
    )


def choosable(shot: Shot, plate: Plate) -> list[Cloth]:
    """The cloth that the plate names, or else those of its colour that are there on its day."""
    named = shot.kit.cloth(plate.cloth_id)
    if named is not None:
        return [named]
    there = shot.kit.there(shot.kit.cloths, plate.film_on)
    return [c for c in there if c.colour == plate.screen_colour]


def best(shot: Shot, plate: Plate) -> tuple[Hanging, float] | None:
    """How a plate's screen is hung best, and by how much that is too small; of those large enough
    the smallest. None where nothing of its colour is owned."""
    size = plate.screen_width_m, plate.screen_height_m, plate.screen_sweep_m
    found = [(h, h.short_m(*size)) for c in choosable(shot, plate) for h in hangings(c)]
    return min(
        found,
        key=lambda one: (max(one[1], 0.0), one[0].across_m * one[0].down_m, one[0].turned),
        default=None,
    )
