"""The shot as the stage of a plate has it: with left and right exchanged where post mirrors the
plate, from near where post places it."""

from __future__ import annotations

from dataclasses import replace

from .placing import is_placed, key_of, placed
from .plate import Plate
from .shot import Shot
from .tricks import DividerKey, Reframe, Split
from .views import seen_from_own


def as_told(shot: Shot) -> Shot:
    """The shot as the story tells it."""
    placing = shot.placing
    if placing is None:
        return _flopped(shot, False)
    story = placing.story
    if story.plates is shot.plates and story.kit is shot.kit:
        return story
    return replace(story, plates=shot.plates, kit=shot.kit)


def seen_by(shot: Shot, plate: Plate) -> Shot:
    """The shot as the stage of a plate has it: what its view shows, from near where post places the
    plate, mirrored where post mirrors it back."""
    return _flopped(placed_for(shot, plate), plate.flop)


def placed_for(shot: Shot, plate: Plate) -> Shot:
    """What the view of a plate shows or, where post places it, what its stage has of that."""
    shot = seen_from_own(shot, plate)
    placing = shot.placing
    if placing is None and not is_placed(shot, plate):
        return shot
    if placing is not None and placing.key == key_of(shot, plate):
        return shot
    return _flopped(placed(as_told(shot), plate), shot.flopped)


def as_recorded(shot: Shot, plate: Plate) -> Shot:
    """The shot as the recordings of a plate have it: what its view shows, before a zoom is made in
    post, which is the widest of its views all along. What is placed in post is filmed in a frame of
    its own, which does not zoom."""
    shot = seen_from_own(shot, plate)
    if shot.move.zoom == 1.0 or is_placed(shot, plate):
        return shot
    world, move = shot.world, shot.move
    return replace(
        shot,
        world=replace(world, focal_mm=world.focal_mm * move.widest),
        move=replace(move, zoom=1.0),
    )


def _flopped(shot: Shot, flop: bool) -> Shot:
    return shot.once("mirrored", lambda: mirrored(shot)) if flop != shot.flopped else shot


def mirrored(shot: Shot) -> Shot:
    """The same story with left and right exchanged, about the upright plane through the camera that
    looks straight ahead. Twice gives the shot again."""
    move, world = shot.move, shot.world
    return replace(
        shot,
        flopped=not shot.flopped,
        world=replace(world, pan_deg=-world.pan_deg, roll_deg=-world.roll_deg),
        move=replace(move, right_m=-move.right_m, pan_deg=-move.pan_deg),
        stand_ins=tuple(s.mirrored() for s in shot.stand_ins),
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
