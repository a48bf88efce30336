"""A shot with left and right exchanged: how a plate that post mirrors sees the story."""

from __future__ import annotations

from dataclasses import replace

from .plate import Plate
from .shot import Shot
from .tricks import DividerKey, Reframe, Split
from .views import seen_from_own


def as_told(shot: Shot) -> Shot:
    """The shot as the story tells it."""
    return shot.once("mirrored", lambda: mirrored(shot)) if shot.flopped else shot


def seen_by(shot: Shot, plate: Plate) -> Shot:
    """The shot as the stage of a plate has it: what its view shows, mirrored where post mirrors the
    plate back."""
    shot = seen_from_own(shot, plate)
    return shot.once("mirrored", lambda: mirrored(shot)) if plate.flop != shot.flopped else shot


def mirrored(shot: Shot) -> Shot:
    """The same story with left and right exchanged, about the upright plane through the camera that
    looks straight ahead. Twice gives the shot again."""
    move, world = shot.move, shot.world
    return replace(
        shot,
        flopped=not shot.flopped,
        world=replace(world, pan_deg=-world.pan_deg, roll_deg=-world.roll_deg),
        move=replace(move, right_m=-move.right_m, pan_deg=-move.pan_deg),
        stand_ins=tuple(
            replace(
                s,
                x_m=-s.x_m,
                heading_deg=-s.heading_deg,
                course_deg=-s.course_deg,
            )
            for s in shot.stand_ins
        ),
        key_from_deg=None if shot.key_from_deg is None else -shot.key_from_deg,
        splits=tuple(_mirrored_split(s) for s in shot.splits),
        reframe=None if shot.reframe is None else _mirrored_reframe(shot.reframe),
    )


def _mirrored_split(split: Split) -> Split:
    keys = tuple(DividerKey(k.frame, tuple((1.0 - x, y) for x, y in k.points)) for k in split.keys)
    throw = split.throw
    if throw is not None:
        throw = replace(throw, from_x_m=-throw.from_x_m, to_x_m=-throw.to_x_m)
    sides = (
        (split.second_id, split.first_id) if split.upright else (split.first_id, split.second_id)
    )
    return replace(split, keys=keys, throw=throw, first_id=sides[0], second_id=sides[1])


def _mirrored_reframe(reframe: Reframe) -> Reframe:
    return replace(reframe, keys=tuple(replace(k, x=1.0 - k.x) for k in reframe.keys))
