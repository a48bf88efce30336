"""What the story's camera shows of a shot, and a stage's camera of its plate: each once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ..camera import Array, Camera
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import StandIn
from ..plan.story_time import StoryTime
from ..plan.world import Delivery, Move, WorldCamera
from .looking import Look, seen
from .seen import Seen
from .spots import velocities

#: Of how many stories what is seen is kept, and how large they may be, frames times things: some
#: ten megabytes.
STORIES, LARGEST_KEPT = 8, 20_000


def frame_parts(shot: Shot) -> Array:
    """Every frame of the shot as a part (0..1) of its time, both ends included."""
    return np.linspace(0.0, 1.0, shot.frames) if shot.frames > 1 else np.zeros(1)


def frame_at(shot: Shot, part: float) -> int:
    """The frame (from 1) shown at `part` of the screen time."""
    return 1 + round(part * (shot.frames - 1))


def part_at(shot: Shot, frame: float) -> float:
    """The part (0..1) of the screen time gone by at a frame (from 1); its end where the shot is
    shorter."""
    return min((frame - 1) / max(shot.frames - 1, 1), 1.0)


def some_parts(shot: Shot, most: int) -> Array:
    """Evenly some of `frame_parts`, from the first on: about `most` of them."""
    parts = frame_parts(shot)
    found: Array = parts[:: max(len(parts) // most, 1)]
    return found


def gone_m(shot: Shot, thing: StandIn, parts: Array) -> Array:
    """How far a thing has gone (f, 3) after parts (f,) of the screen time, world metres."""
    gone: Array = shot.time.at(parts)[:, None] * velocities([thing])
    return gone


def in_story(shot: Shot) -> Seen:
    """What the world camera shows of everything, at every frame of the shot."""

    def make() -> Seen:
        keep = shot.frames * len(shot.stand_ins) <= LARGEST_KEPT
        return (_story if keep else _story.__wrapped__)(
            shot.world,
            shot.delivery,
            shot.move,
            shot.stand_ins,
            shot.time,
            shot.padding,
        )

    return shot.once("seen", make)


@lru_cache(maxsize=STORIES)
def _story(
    world: WorldCamera,
    delivery: Delivery,
    move: Move,
    things: tuple[StandIn, ...],
    time: StoryTime,
    padding: float,
) -> Seen:
    """Kept for the next shots too: most changes, and all that a way out tries, are of a plate."""
    return seen(Look(world.camera(delivery), delivery, move, time, padding), things)


def on_stage(shot: Shot, plate: Plate, camera: Camera) -> Seen:
    """What a stage's `camera` shows of the shot: told in the world's metres, as if the stage were
    as large as the world."""
    x, y, z = camera.position_m
    large = replace(
        camera,
        position_m=(x * plate.scale, y * plate.scale, z * plate.scale + plate.ground_m),
    )
    world = shot.world.camera(shot.delivery)
    key = _key(large)
    if key == _key(world):
        # Where it is derived it shows what the story shows.
        return in_story(shot)
    return shot.once(
        f"seen from {key}",
        lambda: seen(
            Look(large, shot.delivery, shot.move, shot.time, shot.padding), shot.stand_ins
        ),
    )


def _key(camera: Camera) -> tuple[float, ...]:
    """What of a camera decides on its picture, rounded beyond what anything shows."""
    slopes = camera.sensor_width_mm / camera.focal_mm, camera.sensor_height_mm / camera.focal_mm
    turns = camera.pan_deg, camera.tilt_deg, camera.roll_deg
    # Adding nought tells minus nought and nought to be the same.
    return tuple(round(v, 9) + 0.0 for v in (*camera.position_m, *turns, *slopes))


def own_things(shot: Shot, plate: Plate) -> tuple[StandIn, ...]:
    """What is filmed in `plate` and asked about: ground left out."""
    own = shot.stand_ins_of(plate)
    return shot.once(
        f"own things {plate.id}",
        lambda: tuple(s for s in own if s.kind != "ground" and s.matters != "none"),
    )


class End(NamedTuple):
    """The nearest or farthest that a plate shows: `at_m` world metres along the lens axis, of
    what, and at which frame (from 1). `world_m`: the same or, of a shot that zooms, the distance
    that would have to be as sharp at the tightest view as this at its own."""

    world_m: float
    thing: StandIn
    frame: int
    at_m: float


def sharp_range(shot: Shot, plate: Plate, camera: Camera) -> tuple[End, End] | None:
    """Nearest and farthest of what must be sharp in a plate, over the whole shot, as its stage's
    `camera` shows it; None where nothing of it is ever in frame."""
    own = [s for s in own_things(shot, plate) if s.matters != "soft"]
    found = on_stage(shot, plate, camera)
    rows = found.numbers(own)
    if not found.shows[rows].any():
        return None
    near, far = found.near_m[rows], found.far_m[rows]
    asked_near, asked_far = near, far
    if found.path.zooms is not None:
        asked_near, asked_far = as_at_tightest(near, far, found.path.zooms, plate.focus_world_m)
    return (
        _end(asked_near, near, own, 1.0, found.number),
        _end(asked_far, far, own, -1.0, found.number),
    )


def _end(
    asked: Array, depths: Array, own: list[StandIn], sign: float, number: Callable[[int], int]
) -> End:
    thing, frame = divmod(int(np.nanargmin(sign * asked)), asked.shape[1])
    return End(float(asked[thing, frame]), own[thing], number(frame), float(depths[thing, frame]))


def as_at_tightest(
    near_m: Array, far_m: Array, zooms: Array, focus_m: float | None
) -> tuple[Array, Array]:
    """Distances (t, f) that must be as sharp in the tightest view as these in the views of their
    frames (`zooms` (f,)): a blur shows as large as the view is tight, and goes with 1 / distance
    less 1 / focus. `focus_m` None: the focus with which the worst of all is least."""
    part = zooms / zooms.max()
    with np.errstate(divide="ignore", invalid="ignore"):
        near, far = 1.0 / near_m, 1.0 / far_m
        if focus_m is None:
            low, high = float(np.nanmin(far)), float(np.nanmax(near))
            for _ in range(60):
                middle = (low + high) / 2.0
                nearer = float(np.nanmax(part * (near - middle)))
                farther = float(np.nanmax(part * (middle - far)))
                low, high = (middle, high) if nearer > farther else (low, middle)
            focus = (low + high) / 2.0
        else:
            focus = 1.0 / focus_m
        nearest, farthest = (1.0 / (focus + part * (d - focus)) for d in (near, far))
    return nearest, farthest
