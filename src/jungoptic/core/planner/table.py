"""Every rule asked of every candidate at once.

The rules are those of `judging`: here their answers are only laid side by side.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, partial
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..camera import Array
from ..judging.rule import Measured, Rule
from ..judging.rules import RULES
from .axes import at_index
from .candidates import Candidates
from .places import Position


@dataclass(frozen=True)
class Ranked:
    """One rule over all candidates: its ranks, and how far each is from holding, in its own
    measure; both broadcast over the axes they do not depend on."""

    rule: Rule
    ranks: Array
    short: Array

    @property
    def key(self) -> str:
        """The rule's key."""
        return self.rule.key


class Table(Candidates):
    """The candidates of a search with every rule's ranks."""

    @cached_property
    def buildable(self) -> NDArray[np.bool_]:
        """Candidates that can be built at all: everything outside the focal length."""
        there = self.of_place("", lambda case: 0.0) == 0.0
        with np.errstate(invalid="ignore"):
            inside = self.near_m * 1000.0 <= self.focal_mm / self.pupil_ratio
        found: NDArray[np.bool_] = there & ~np.isnan(self.magnification) & ~inside
        return found

    @cached_property
    def possible(self) -> NDArray[np.bool_]:
        """Those that a search may propose: with settings that lens and mode have."""
        found = self.buildable
        found = found & (self.f_number >= self.lens("widest_stop") * 0.999)
        found = found & (self.f_number <= self.lens("smallest_stop") * 1.001)
        found = found & (self.iso >= self.mode("min_iso") * 0.999)
        return found & (self.iso <= self.mode("max_iso") * 1.001)

    @cached_property
    def rules(self) -> list[Ranked]:
        """Every rule that has something to say, of every candidate."""
        found = []
        for rule in RULES:
            if rule.measure is None:
                ranks = self.places.laid_out(partial(Position.spoken, rule=rule))
                if np.isnan(ranks).all():
                    continue
                ranks = np.nan_to_num(ranks)
                measured = Measured(ranks, ranks)
            else:
                with np.errstate(divide="ignore", invalid="ignore"):
                    one = rule.measure(self)
                if one is None:
                    continue
                measured = one
            found.append(Ranked(rule, *(_spread(v) for v in measured)))
        return found


def _spread(value: ArrayLike) -> Array:
    """A measure as an array of seven axes; a single number has one of each."""
    found = np.asarray(value, dtype=np.float64)
    return found if found.ndim == 7 else np.full((1,) * 7, float(found))


def changes_of(table: Table, index: tuple[int, ...]) -> dict[str, Any]:
    """The decisions of one candidate as fields of a plate, those that differ from now."""
    space, plate = table.space, table.plate
    setup = space.setups[index[0]]
    slow = space.slowdowns[index[2]]
    capture = at_index(table.capture_fps, index)
    wanted: dict[str, Any] = {
        "body_id": setup.body.id,
        "mode_id": setup.mode.id,
        "lens_id": setup.lens.id,
        "scale": space.scales[index[1]],
        "capture_fps": space.capture_fps if slow == 1.0 else round(capture, 3),
        "shutter_deg": space.shutters[index[3]],
        "f_number": space.stops[index[4]],
        "iso": space.isos[index[5]],
        "focus_passes": space.passes[index[6]],
    }
    return {name: value for name, value in wanted.items() if getattr(plate, name) != value}
