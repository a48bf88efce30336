"""A shot with one of its things changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from .plate import Plate
from .shot import Shot
from .standins import StandIn
from .tricks import Split

#: Decisions of the shot that the core keeps with its world camera, by the name they are stored as.
OF_THE_WORLD = {"camera_height_m": "height_m"}


def with_thing(shot: Shot, thing: StandIn) -> Shot:
    """The shot with one stand-in changed."""
    return replace(shot, stand_ins=tuple(thing if s.id == thing.id else s for s in shot.stand_ins))


def with_plate(shot: Shot, plate: Plate) -> Shot:
    """The shot with one plate changed."""
    return replace(shot, plates=tuple(plate if p.id == plate.id else p for p in shot.plates))


def with_split(shot: Shot, split: Split) -> Shot:
    """The shot with one split changed."""
    return replace(shot, splits=tuple(split if s.id == split.id else s for s in shot.splits))


def with_decisions(
    shot: Shot,
    decided: Mapping[str, Any],
    things: Mapping[str, Mapping[str, Any]],
) -> Shot:
    """The shot with decisions of its own changed, and those of stand-ins by id, as a remedy names
    them."""
    if not decided and not things:
        return shot
    world = {OF_THE_WORLD[k]: v for k, v in decided.items() if k in OF_THE_WORLD}
    own = {k: v for k, v in decided.items() if k not in OF_THE_WORLD}
    return replace(
        shot,
        world=replace(shot.world, **world) if world else shot.world,
        stand_ins=tuple(
            replace(s, **things[s.id]) if s.id in things else s for s in shot.stand_ins
        ),
        **own,
    )
