"""How many outlines are drawn round what is cut out by hand, by what it is.

A limb that swings has a shape of its own; so has what bends at a joint. All numbers are judgement,
in one table, and are typed over where somebody knows better.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Protocol

from ..plan.tricks import Edge


@dataclass(frozen=True)
class Subject:
    """One kind of thing, and how many shapes follow it."""

    key: str
    name: str
    shapes: int
    note: str


SUBJECTS: tuple[Subject, ...] = (
    Subject("moving", "A person who walks or waves", 12, "head, body, and each limb in two"),
    Subject("still", "A person who stands or sits", 6, "head, body, arms, legs together"),
    Subject("thing", "A thing: bottle, chair, car", 2, "the whole, and what it throws or opens"),
    Subject("flat", "A flat thing: sheet, door, sign", 1, "its outline"),
)
BY_KEY = {subject.key: subject for subject in SUBJECTS}
#: How much longer a shape with this edge takes (judgement).
EDGES: Mapping[Edge, float] = {"hard": 1.0, "soft": 1.4, "hair": 2.5}


def subject_of(kind: str, moves: bool) -> Subject | None:
    """What a stand-in is to who cuts it out; None for ground, which nobody cuts out."""
    if kind == "ground":
        return None
    if kind == "figure":
        return BY_KEY["moving" if moves else "still"]
    return BY_KEY["thing" if kind == "box" else "flat"]


class Seen(Protocol):
    """What of a stand-in tells how it is cut out: the core's own, a stored or a sent one."""

    @property
    def kind(self) -> str:
        """Its form."""

    @property
    def matters(self) -> str:
        """What is asked of it."""

    @property
    def speed_m_s(self) -> float:
        """How fast it goes."""

    @property
    def reach_m(self) -> float:
        """How far its arms go."""


def shapes_for(things: Iterable[tuple[str, bool]]) -> int:
    """Shapes for things, each with its kind and whether it walks or waves; at least one."""
    found = (subject_of(kind, moves) for kind, moves in things)
    return max(sum(s.shapes for s in found if s is not None), 1)


def shapes_of(things: Iterable[Seen]) -> int:
    """The same for the stand-ins of a plate; what is there only to be looked at is not cut out."""
    return shapes_for(
        (s.kind, bool(s.speed_m_s or s.reach_m)) for s in things if s.matters != "none"
    )
