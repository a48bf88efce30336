"""How every judgement is spoken: a verdict, a sentence, its numbers, its working, its remedies."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from .plate import PlacedLamp
from .tricks import Beat, Crowd, Markers, Rig, Split

#: What a decision of a plate, and of a shot, may be changed to.
Change = float | int | str | None | datetime.date | tuple[PlacedLamp, ...] | Rig | Crowd | Markers
ShotChange = tuple[Split, ...] | tuple[Beat, ...] | float


class Verdict(StrEnum):
    """What a rule says of a plan or a take, from good to bad."""

    HOLDS = "holds"
    STRAINS = "strains"
    BREAKS = "breaks"

    @property
    def rank(self) -> int:
        """0 for holds, 1 for strains, 2 for breaks; sorts the worst last."""
        return list(Verdict).index(self)


@dataclass(frozen=True)
class Quantity:
    """One number as it enters or leaves a formula: its symbol, plain name, value and unit."""

    symbol: str
    name: str
    value: float
    unit: str


@dataclass(frozen=True)
class Working:
    """The way from inputs to a result, so that any number can be opened and checked by hand.

    `source` names where the rule comes from: a book, a standard, or "common practice".
    """

    formula: str
    inputs: tuple[Quantity, ...]
    result: Quantity
    source: str


@dataclass(frozen=True)
class Remedy:
    """A way out, with what it would do, computed by trying it.

    `changes` are the decisions on the plate to change (field name -> new value); an empty
    mapping is advice that the plan cannot carry out by itself. `shot` are decisions of the shot to
    change, `things` those of stand-ins by id. `verdict` is what the same rule says afterwards.
    """

    sentence: str
    effect: str
    verdict: Verdict
    changes: Mapping[str, Change] = field(default_factory=dict)
    shot: Mapping[str, ShotChange] = field(default_factory=dict)
    things: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    #: Whether only this plate changes, and not the others of its lock-off.
    alone: bool = False


@dataclass(frozen=True)
class Finding:
    """What one rule has to say. `key` is stable and names the rule."""

    key: str
    title: str
    verdict: Verdict
    sentence: str
    workings: tuple[Working, ...] = ()
    remedies: tuple[Remedy, ...] = ()


def worst(findings: list[Finding] | tuple[Finding, ...]) -> Verdict:
    """The worst verdict among `findings`; `HOLDS` when there are none."""
    return max((f.verdict for f in findings), key=lambda v: v.rank, default=Verdict.HOLDS)


def worst_first(findings: list[Finding]) -> list[Finding]:
    """The same findings, breaks before strains before holds; order within a verdict is kept."""
    return sorted(findings, key=lambda f: -f.verdict.rank)


def banded(value: float, holds_to: float, strains_to: float) -> Verdict:
    """`HOLDS` up to and including `holds_to`, `STRAINS` up to `strains_to`, else `BREAKS`.

    NaN breaks: an unknown is never passed off as good.
    """
    if value <= holds_to:
        return Verdict.HOLDS
    if value <= strains_to:
        return Verdict.STRAINS
    return Verdict.BREAKS
