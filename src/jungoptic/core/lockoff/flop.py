"""What betrays a half that is filmed the other way round and mirrored in post."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.plate import Plate
from ..plan.shot import Shot
from ..words.quantities import length


@dataclass(frozen=True)
class Handed:
    """One thing that tells that a picture was mirrored, and what to do about it."""

    what: str
    do: str


#: Common practice.
ALWAYS: tuple[Handed, ...] = (
    Handed("Letters, numbers, clock faces", "cover them, or print them mirrored"),
    Handed("The parting of the hair", "part it on the other side for this half"),
    Handed("Watch, rings, bracelet", "to the other hand"),
    Handed("Buttons, lapel, breast pocket, badge", "a mirrored garment, or one without"),
    Handed("Scars, moles, make-up", "to the other side, or off"),
    Handed("Which hand writes, pours, holds", "the other hand does it"),
    Handed("Handles, taps, hinges, sockets", "dress them away where they are seen twice"),
)


def handed(shot: Shot, plate: Plate) -> tuple[Handed, ...]:
    """What to hide or exchange for a plate that is mirrored; `shot` is the shot as it is told."""
    found: list[Handed] = []
    if shot.key_from_deg is not None:
        side = "left" if (shot.key_from_deg % 360.0) < 180.0 else "right"
        found.append(
            Handed(
                "The side of the key light",
                f"on this stage it comes from the {side}; its place on the sheet is mirrored",
            )
        )
    for s in shot.stand_ins:
        if s.plate_id == plate.id or s.kind in ("figure", "ground") or abs(s.x_m) < 0.05:
            continue
        side = "right" if s.x_m < 0 else "left"
        found.append(
            Handed(
                f"{s.name} is off the middle",
                f"where this half shows it, put it {length(abs(s.x_m) / plate.scale)} to the "
                f"{side} of the line",
            )
        )
    return (*found, *ALWAYS)
