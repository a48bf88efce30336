"""What a camera stands or rides on, what is hung behind the action, and what things hang on."""

from __future__ import annotations

from dataclasses import dataclass

from .loan import OURS, Loan
from .plate import ScreenColour, TurnsAbout


@dataclass(frozen=True)
class Support:
    """What a camera stands or rides on: a tripod, a low plate, a slider, a dolly, a jib.

    `lowest_mm` and `highest_mm`: the plate that the camera's base sits on, above what it stands on
    itself. `turns_about`: what its head turns about (None: it has none). `slide_mm`: how far the
    camera can be set forward or back on it. `travel_mm`: how far it carries the camera level in a
    take (0: it stays; None: no end). `lifts`: it can raise and lower the camera in a take, between
    its lowest and its highest.
    """

    id: str
    name: str
    lowest_mm: float
    highest_mm: float
    turns_about: TurnsAbout | None = "socket"
    slide_mm: float = 0.0
    travel_mm: float | None = 0.0
    lifts: bool = False
    loan: Loan = OURS


@dataclass(frozen=True)
class Cloth:
    """A cloth, paper or board that is hung behind the action: `width_m` across, `length_m` of it in
    the other direction. What hangs may run on over the floor unless it is `stiff`."""

    id: str
    name: str
    width_m: float
    length_m: float
    colour: ScreenColour = "green"
    stiff: bool = False
    loan: Loan = OURS


@dataclass(frozen=True)
class Cord:
    """A thread or a line on its spool: how thick, what it is rated to break at (None: unknown), and
    whether it is clear."""

    id: str
    name: str
    diameter_mm: float
    rated_kg: float | None = None
    clear: bool = False
    loan: Loan = OURS
