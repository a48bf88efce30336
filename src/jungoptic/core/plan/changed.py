"""A shot with one of its things changed."""

from __future__ import annotations

from dataclasses import replace

from .plate import Plate
from .shot import Shot
from .standins import StandIn
from .tricks import Split


def with_thing(shot: Shot, thing: StandIn) -> Shot:
    """The shot with one stand-in changed."""
    return replace(shot, stand_ins=tuple(thing if s.id == thing.id else s for s in shot.stand_ins))


def with_plate(shot: Shot, plate: Plate) -> Shot:
    """The shot with one plate changed."""
    return replace(shot, plates=tuple(plate if p.id == plate.id else p for p in shot.plates))


def with_split(shot: Shot, split: Split) -> Shot:
    """The shot with one split changed."""
    return replace(shot, splits=tuple(split if s.id == split.id else s for s in shot.splits))
