"""Where a rig runs in the world and in the picture."""

from __future__ import annotations

import math

import numpy as np

from ...camera import Array, CameraPath
from ...plan.plate import Plate
from ...plan.shot import Shot
from ...plan.standins import StandIn
from ...plan.tricks import Rig
from ...stage.case import Case
from ...stage.in_frame import gone_m
from .kinds import BY_KIND, Kind

#: Places along a line that are looked at.
ALONG = np.linspace(0.0, 1.0, 65)[:, None]
#: So far a line runs before it is taken to be out of the picture, world metres.
FAR_M = 6.0
#: A pull thread is tied so far up the thing, so that it slides and does not tip (common practice).
TIED = 0.25
#: A thing stands on another whose top is within this of its foot, and reaches this beside it.
TOUCHES_M, BESIDE_M = 0.02, 0.05


def path_of(case: Case, parts: Array) -> CameraPath:
    """The plate's own camera at parts (f,) of the screen time, stage metres."""
    return case.shot.move.along(case.stage.camera, parts, case.plate.scale)


def held(shot: Shot, plate: Plate, thing: StandIn, kind: Kind) -> Array:
    """Where a rig runs from, and to (2, 3), world metres: up out of the picture, out to the side,
    ahead of the thing, or up to its foot."""
    x, y, foot = thing.x_m, thing.y_m, thing.z_m
    if kind.from_ == "above":
        top = foot + thing.height_m
        return np.array([(x, y, top), (x, y, top + FAR_M)])
    if kind.from_ == "below":
        # The edge of a sheet at 45 degrees that is nearer to the lens.
        half = thing.width_m / 2.0
        near = x - half, y - half
        return np.array([(*near, below_m(shot, plate, thing)), (*near, foot)])
    if kind.from_ in ("ground", "ahead"):
        # What is pulled follows its thread.
        turn = math.radians(thing.course_deg)
        up = foot + (TIED * thing.height_m if kind.from_ == "ahead" else 0.0)
        away = x + FAR_M * math.sin(turn), y + FAR_M * math.cos(turn), up
        return np.array([(x, y, up), away])
    side = 1.0 if x >= 0 else -1.0
    middle = foot + thing.height_m / 2.0
    return np.array([(x, y, middle), (x + side * FAR_M, y, middle)])


def projected(
    case: Case, thing: StandIn, kind: Kind, parts: Array, shine_m: float | None = None
) -> tuple[Array, Array]:
    """The rig's ends in the picture (f, 2, 2), and their depths (f, 2); `shine_m`: of its image in
    a level surface so high instead."""
    shot, plate = case.shot, case.plate
    w, h = shot.delivery.width_px, shot.delivery.height_px
    world = held(shot, plate, thing, kind)[None, :, :] + gone_m(shot, thing, parts)[:, None, :]
    if shine_m is not None:
        world = world * (1.0, 1.0, -1.0) + (0.0, 0.0, 2.0 * shine_m)
    return path_of(case, parts).project(plate.on_stage(world), w, h)


def line_now(case: Case, rig: Rig, part: float) -> tuple[tuple[float, float], ...]:
    """Where the chosen rig runs in the picture at `part` of the screen time; empty out of sight."""
    thing = next((s for s in case.shot.stand_ins if s.id == rig.thing_id), None)
    if thing is None:
        return ()
    line = projected(case, thing, BY_KIND[rig.kind], np.array([part]))[0][0]
    if not np.isfinite(line).all():
        return ()
    return tuple((round(float(x), 1), round(float(y), 1)) for x, y in line)


def level_tops(shot: Shot, thing: StandIn) -> list[StandIn]:
    """What a thing may stand on or be mirrored in: tables, floors, steps."""
    return [s for s in shot.stand_ins if s.id != thing.id and s.kind in ("box", "ground")]


def below_m(shot: Shot, plate: Plate, thing: StandIn) -> float:
    """How high what lies under a thing is: the highest top, or the stage's ground; world metres."""
    under = [
        other.top_m
        for other in level_tops(shot, thing)
        if other.top_m <= thing.z_m + TOUCHES_M
        and other.outside_m(thing.x_m, thing.y_m) <= BESIDE_M
    ]
    return max([plate.ground_m, *under])
