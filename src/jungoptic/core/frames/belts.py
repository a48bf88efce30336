"""Layers and belts that carry scenery past a camera: how fast each goes in the picture, how much of
it has to be painted, and which pulleys drive it from one shaft."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array
from ..moves import layer_px_per_frame
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import StandIn
from ..stage.coverage import covered
from ..stage.spots import velocities
from .picture import Moved, middles_of

#: Axes that carry scenery on a loop or a roll.
ROLLED = frozenset({"layer", "belt"})
#: Two belts are driven by one shaft when the parts of their ways gone by at every frame differ by
#: less than this (judgement).
ALIKE = 0.01
#: Paper over the ends of what the frame shows, to be held by, metres (judgement).
ENDS_M = 0.1


@dataclass(frozen=True)
class Belt:
    """One layer or belt. `away_m`: how far from the lens it stands (stage), `way_m` how far it goes
    in all, there and back counted once; `fastest_mm` before one frame, and what that is in the
    picture, `step_px`. `roll_m` and `high_m`: how long and how high what is painted on it has to be
    (None where the frame takes in no end of it). `ratio`: its speed by that of the nearest, and so
    the pulley that drives it by that of the nearest; None where no one pair does. `looks_m`: how
    far away it looks beside the nearest, if both are to belong to one landscape that passes."""

    key: str
    name: str
    away_m: float
    way_m: float
    fastest_mm: float
    step_px: float
    roll_m: float | None
    high_m: float | None
    ratio: float | None
    looks_m: float | None


def belts_of(shot: Shot, plate: Plate, moved: Sequence[Moved]) -> tuple[Belt, ...]:
    """Every layer and belt of a sheet that goes and names the thing it carries, nearest first.

    The image goes at f_px v / d, so that what is carried equally fast goes through the picture in
    the inverse ratio of the distances (projection; multiplane practice).
    """
    things = {s.id: s for s in shot.stand_ins_of(plate)}
    rolled = [
        (one, things[one.column.thing_id or ""])
        for one in moved
        if one.column.axis in ROLLED and one.column.thing_id in things and not one.chart.still
    ]
    found = [_belt(shot, plate, one, thing, moved) for one, thing in rolled]
    told = sorted((b for b in found if b is not None), key=lambda pair: pair[0].away_m)
    return tuple(_beside(belt, way, *told[0]) for belt, way in told)


def _belt(
    shot: Shot, plate: Plate, one: Moved, thing: StandIn, moved: Sequence[Moved]
) -> tuple[Belt, Array] | None:
    """A belt by itself, and its way at every frame, millimetres."""
    camera = shot.world.camera(shot.delivery)
    middle = middles_of(shot, plate, thing, moved)[0]
    # Along the lens axis: a picture's width belongs to that distance.
    ahead = float((middle - np.asarray(camera.position_m)) @ camera.axes[2])
    if ahead <= 0.0:
        return None
    way = one.chart.reached
    fastest = float(np.abs(np.diff(way, prepend=0.0)).max(initial=0.0))
    travel = one.chart.travel / 1000.0
    away = ahead / plate.scale
    focal_px, fps = camera.focal_px(float(shot.delivery.width_px)), shot.delivery.fps
    course = velocities([thing])[0]
    speed = float(np.linalg.norm(course))
    across = abs(float(course @ camera.axes[0])) / speed if speed else 1.0
    roll, high = _painted(shot, thing, plate.scale)
    return (
        Belt(
            one.column.key,
            one.column.name,
            away,
            travel,
            fastest,
            layer_px_per_frame(focal_px, across * fastest * fps / 1000.0, away, fps),
            None if roll is None else roll + travel + 2.0 * ENDS_M,
            high,
            None,
            None,
        ),
        way,
    )


def _painted(shot: Shot, thing: StandIn, scale: float) -> tuple[float | None, float | None]:
    """How wide and high the frame is where a thing stands, at its widest over the move, metres on
    the stage; None where the plane of the thing is never wholly ahead of the lens."""
    camera, move = shot.world.camera(shot.delivery), shot.move
    parts = [0.0] if move.still else np.linspace(0.0, 1.0, 9)
    seen = covered([move.moved(camera, float(part)) for part in parts], thing.y_m)
    return (None, None) if seen is None else (seen.width_m / scale, seen.height_m / scale)


def _beside(belt: Belt, way: Array, nearest: Belt, first: Array) -> Belt:
    """A belt with what it is beside the nearest."""
    whole, other = float(np.ptp(np.append(way, 0.0))), float(np.ptp(np.append(first, 0.0)))
    alike = bool(np.abs(way / whole - first / other).max() <= ALIKE)
    looks = nearest.away_m * nearest.step_px / belt.step_px if belt.step_px > 0.0 else math.inf
    return replace(
        belt,
        ratio=whole / other if alike else None,
        looks_m=looks if math.isfinite(looks) else None,
    )
