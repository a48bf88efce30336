"""How far a shot is, and the next thing to do for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum

from ..plan.findings import Verdict


class Step(IntEnum):
    """How far a plate is."""

    NAMED = 0
    PLANNED = 1  # body, mode and lens chosen
    CARDED = 2  # a set card is issued
    FILMED = 3  # a take is logged
    CHOSEN = 4  # a take is circled


@dataclass(frozen=True)
class PlateState:
    """What is known of a plate without computing it."""

    name: str
    required: bool
    has_kit: bool
    cards: int
    takes: int
    circled: int

    @property
    def step(self) -> Step:
        """How far it is."""
        if self.circled:
            return Step.CHOSEN
        if self.takes:
            return Step.FILMED
        if self.cards:
            return Step.CARDED
        return Step.PLANNED if self.has_kit else Step.NAMED


def readiness(plates: Sequence[PlateState]) -> float:
    """Part of the way from idea to chosen takes, 0 to 1, over the required plates."""
    counted = [p for p in plates if p.required] or list(plates)
    if not counted:
        return 0.0
    return sum(p.step for p in counted) / (len(counted) * int(Step.CHOSEN))


def next_thing(
    plates: Sequence[PlateState],
    has_recipe: bool,
    missing: Sequence[str] = (),
    worst: Verdict | None = None,
    unread_cautions: int = 0,
) -> str:
    """The next thing to do, in a few words. `missing`: required passes that have no plate;
    `worst`: the worst verdict of the plates, None while it is not computed."""
    if not plates:
        return "Choose a way to build it" if not has_recipe else "Add its plates"
    if missing:
        return f"Add the forgotten plate: {missing[0]}"
    bare = next((p for p in plates if p.step is Step.NAMED), None)
    if bare is not None:
        return f"Choose camera and lens: {bare.name}"
    open_ones = [p for p in plates if p.required and p.step < Step.CHOSEN]
    if not open_ones:
        return "Everything required is filmed"
    if worst is Verdict.BREAKS and any(p.step < Step.FILMED for p in open_ones):
        return "Mend what breaks"
    if unread_cautions:
        return "Read and acknowledge the cautions"
    for step, words in (
        (Step.FILMED, "Circle a take"),
        (Step.CARDED, "Film"),
        (Step.PLANNED, "Issue the set card"),
    ):
        found = next((p for p in open_ones if p.step is step), None)
        if found is not None:
            return f"{words}: {found.name}"
    return "Everything required is filmed"
