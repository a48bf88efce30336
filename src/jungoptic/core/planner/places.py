"""Where the camera stands: one place for all setups that reach as low at a scale."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..impossible import Impossible
from ..judging.rule import Rule
from ..lighting.on_stage import lighting
from ..lighting.owned import light_there
from ..lighting.stage_light import StageLight
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.derive import Choice, derive, floor_axis_m
from .axes import square
from .space import Setup, Space


@dataclass(frozen=True)
class Position:
    """Where the camera stands: shared by all lenses that reach as low."""

    case: Case
    lux: float
    #: Ranks of the rules that hang on the place alone, by their key.
    _ranks: dict[str, float]

    def spoken(self, rule: Rule) -> float:
        """The rank of a rule that hangs on the place alone; NaN where it says nothing."""
        if rule.key not in self._ranks:
            found = rule.speak(self.case)
            self._ranks[rule.key] = math.nan if found is None else float(found.verdict.rank)
        return self._ranks[rule.key]


class Positions:
    """The places of every setup at every scale of a search."""

    def __init__(self, shot: Shot, plate: Plate, space: Space) -> None:
        self.shot, self.plate, self.space = shot, plate, space
        self._known: dict[tuple[float, float], Position | None] = {}
        self._at_scale: dict[float, Plate] = {}
        self._lit: dict[float, tuple[StageLight | None, dict[str, float]]] = {}

    def at(self, setup: Setup, scale: float) -> Position | None:
        """The place for a setup at a scale; None where its optics are impossible there."""
        tried = self._at_scale.get(scale)
        if tried is None:
            tried = self._at_scale[scale] = replace(self.plate, scale=scale)
        floor = floor_axis_m(self.shot, tried, Choice(setup.body, setup.mode, setup.lens))
        ideal = (self.shot.world.height_m - tried.ground_m) / scale
        if self.shot.move.stands and floor <= ideal:
            # Whatever reaches lower than it must stands in the same place.
            floor = -math.inf
        key = (round(floor, 9), scale)
        if key not in self._known:
            self._known[key] = self._make(tried, setup)
        return self._known[key]

    def _make(self, plate: Plate, setup: Setup) -> Position | None:
        # The place does not ask for focus: a lens that cannot focus there is judged for itself.
        plate = replace(
            plate,
            body_id=setup.body.id,
            mode_id=setup.mode.id,
            lens_id=setup.lens.id,
            focus_passes=1,
            focus_world_m=1e6,
            f_number=max(plate.f_number, setup.lens.widest_stop),
        )
        try:
            stage = derive(self.shot, plate, Choice(setup.body, setup.mode, setup.lens))
        except Impossible:
            return None
        case = Case(self.shot, plate, stage)
        light, ranks = self._lit_at(case)
        found = light_there(case, light)
        return Position(case, math.nan if found is None else found[0], ranks)

    def _lit_at(self, case: Case) -> tuple[StageLight | None, dict[str, float]]:
        """The light of a place, and where the ranks of rules that hang on it are kept. Without a
        screen both hang on its scale: the lamps stand where they stand, and the set between them
        shrinks or grows."""
        scale = case.plate.scale
        if self.plate.kind == "screen":
            return lighting(case), {}
        if scale not in self._lit:
            self._lit[scale] = lighting(case), {}
        return self._lit[scale]

    @cached_property
    def _laid(self) -> tuple[list[Position], NDArray[np.intp]]:
        """Every place once, and which of them each setup has at each scale (-1: none)."""
        places: list[Position] = []
        numbers: dict[int, int] = {}
        rows = []
        for setup in self.space.setups:
            row = []
            for scale in self.space.scales:
                place = self.at(setup, scale)
                if place is None:
                    row.append(-1)
                    continue
                if id(place) not in numbers:
                    numbers[id(place)] = len(places)
                    places.append(place)
                row.append(numbers[id(place)])
            rows.append(row)
        return places, np.array(rows, dtype=np.intp)

    def laid_out_with(self, of: Callable[..., float], *values: Array) -> Array:
        """A number of every place together with values by setup and scale, to a micrometre."""
        places, which = self._laid
        flat = [np.broadcast_to(v[..., 0, 0, 0, 0, 0], which.shape) for v in values]
        known: dict[tuple[float, ...], float] = {}
        found = np.full(which.shape, math.nan)
        for at in np.ndindex(which.shape):
            place = int(which[at])
            if place < 0:
                continue
            these = tuple(float(v[at]) for v in flat)
            key = (place, *(round(v, 6) for v in these))
            if key not in known:
                known[key] = (
                    math.nan if any(map(math.isnan, these)) else of(places[place].case, *these)
                )
            found[at] = known[key]
        return square(found)

    def laid_out(self, of: Callable[[Position], float]) -> Array:
        """A number of every place, by setup and scale; NaN where none can be. Several setups share
        a place, which is asked once."""
        places, which = self._laid
        return square(np.array([*(of(place) for place in places), math.nan])[which])
