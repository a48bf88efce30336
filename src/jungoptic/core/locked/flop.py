"""Filming half of a picture the other way round and mirroring it in post."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..frame import Outline, Picture, Whisker
from ..plan import Plate, Shot
from ..quantities import length


def picture_back(picture: Picture, width_px: float) -> Picture:
    """What a mirrored plate shows once post has mirrored it again."""
    horizon = picture.horizon
    return Picture(
        outlines_back(picture.outlines, width_px),
        None if horizon is None else (horizon[1], horizon[0]),
    )


def outlines_back(outlines: tuple[Outline, ...], width_px: float) -> tuple[Outline, ...]:
    """Outlines with left and right exchanged."""
    return tuple(
        Outline(o.stand_in_id, tuple(path_back(path, width_px) for path in o.paths))
        for o in outlines
    )


def path_back(
    path: tuple[tuple[float, float], ...], width_px: float
) -> tuple[tuple[float, float], ...]:
    """A path of pixels with left and right exchanged."""
    return tuple((round(width_px - x, 1), y) for x, y in path)


def whisker_back(whisker: Whisker, width_px: float) -> Whisker:
    """A departure with left and right exchanged."""
    return replace(
        whisker, from_x_px=width_px - whisker.from_x_px, to_x_px=width_px - whisker.to_x_px
    )


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
