"""The story's key light in the Frame: where it stands, and the shadows it casts on the ground."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..camera import Array, Camera
from ..plan.shot import Shot
from ..plan.standins import StandIn, strokes
from ..words.outlines import Outline, drawn
from ..words.strokes import Strokes, end_to_end

#: Lower than this the shadows run out of every picture.
LOWEST_DEG = 1.0


@dataclass(frozen=True)
class Key:
    """The key light as the world camera would see it, very far away: its place in the picture, or
    None behind the camera; whether that is inside the picture; and the shadows it casts."""

    at_px: tuple[float, float] | None
    in_picture: bool
    from_deg: float
    elevation_deg: float
    shadows: tuple[Outline, ...]


def towards_key(from_deg: float, elevation_deg: float) -> Array:
    """Unit vector (3,) towards the light. `from_deg`: 0 ahead of the camera's first direction, 90
    to its right, 180 behind it."""
    a, e = math.radians(from_deg), math.radians(elevation_deg)
    return np.array([math.sin(a) * math.cos(e), math.cos(a) * math.cos(e), math.sin(e)])


def shadow_on_ground(points_m: Array, foot_m: Array | float, towards: Array) -> Array:
    """Where points (n, 3) throw their shadow on level ground at height `foot_m`, of each point (n,)
    or of all, light from far away along `towards`, which must point above the horizon.
    Length h / tan(elevation)."""
    drop = (points_m[:, 2] - foot_m) / towards[2]
    thrown: Array = points_m - drop[:, None] * towards
    return thrown


def _shadows(things: list[StandIn], towards: Array) -> dict[str, Strokes]:
    """The shadow lines of stand-ins, thrown in one go: a call for each would cost more."""
    lines = [strokes(thing) for thing in things]
    points, parts = end_to_end(lines)
    feet = np.repeat([thing.z_m for thing in things], [len(own.points) for own in lines])
    thrown = shadow_on_ground(points, feet, towards)
    return {
        thing.id: own.at(thrown[part])
        for thing, own, part in zip(things, lines, parts, strict=True)
    }


def key_light(shot: Shot, camera: Camera, part: float = 0.0) -> Key | None:
    """The shot's key in `camera`'s picture, with stand-ins where they are after `part` of the
    screen time; None while its direction is not decided."""
    if shot.key_from_deg is None or shot.key_elevation_deg is None:
        return None
    w, h = shot.delivery.width_px, shot.delivery.height_px
    # The direction is told from where the camera looks first; a pan leaves the light where it is.
    towards = towards_key(shot.key_from_deg + shot.world.pan_deg, shot.key_elevation_deg)
    seen = camera.project(np.asarray(camera.position_m)[None, :] + towards[None, :] * 1e6, w, h)[0]
    at = (round(float(seen[0]), 1), round(float(seen[1]), 1)) if np.isfinite(seen).all() else None
    inside = at is not None and 0 <= at[0] <= w and 0 <= at[1] <= h
    things: list[StandIn] = []
    if shot.key_elevation_deg >= LOWEST_DEG:
        gone = shot.time.after(part)
        things = [s.after(gone) for s in shot.stand_ins if s.kind != "ground"]
    found = drawn(camera, _shadows(things, towards), w, h)
    return Key(at, inside, shot.key_from_deg, shot.key_elevation_deg, found)
