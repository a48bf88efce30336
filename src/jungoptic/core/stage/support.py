"""What a stage asks of what its camera stands on, and how far each thing owned is from giving it.

All of it broadcasts: asked of one plate, or of every candidate of the planner at once.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal, NamedTuple

import numpy as np

from ..plan.grip import Support
from ..plan.kit import Kit, MoveRig
from ..plan.plate import Plate, TurnsAbout
from ..plan.shot import Shot
from .case import Case

#: One number, or one for each candidate.
Number = Any
#: What turns about the one can be set to turn about those before it.
REACHES: dict[TurnsAbout | None, int] = {None: 0, "socket": 1, "mark": 2, "pupil": 3}
#: Rigs that carry a camera level; "crane" carries it up and down.
LEVEL = ("track", "push")
CARRYING = frozenset({*LEVEL, "crane"})


class Asked(NamedTuple):
    """What a stage asks, metres: how high the camera's base stands above the stage's ground as the
    shot begins, how far it rises (negative: falls) and how far it goes level."""

    base_m: Number
    rises_m: Number
    along_m: Number


def asked_of(case: Case) -> Asked:
    """What one stage asks of its support."""
    stage = case.stage
    ahead = stage.sensor_to_pupil_m - (case.choice.body.socket_mm or 0.0) / 1000.0
    below = below_pupil_m(stage.tilt_deg, ahead, case.choice.body.axis_height_mm / 1000.0)
    return Asked(stage.axis_m - below, rises_m(case), along_m(case))


def rises_m(case: Case) -> float:
    """How far the camera of a stage rises in the take (negative: falls)."""
    return case.shot.move.up_m / case.plate.scale


def along_m(case: Case) -> float:
    """How far it goes level."""
    move = case.shot.move
    return math.hypot(move.right_m, move.away_m) / case.plate.scale


def below_pupil_m(tilt_deg: float, ahead_m: Number, axis_height_m: Number) -> Number:
    """How far the base of a camera, at its socket, lies below its entrance pupil, which is
    `ahead_m` before the socket and `axis_height_m` over it: rotation about the level axis."""
    tilt = math.radians(tilt_deg)
    return ahead_m * math.sin(tilt) + axis_height_m * math.cos(tilt)


@dataclass(frozen=True)
class Holding:
    """How one support would hold a stage's camera.

    `on`: what it stands on, and `raised_m` how high that is above the stage's ground (below 0: the
    floor under a table). `plate_m`: how high above that the camera's base is.
    `low_m`, `high_m`, `along_m`, `rise_m`: by how much it does not go low or high enough, carry
    far enough, or raise; 0 or less where it does. `along` and `lift`: rigs that carry the camera on
    it. `turn`: it turns as the plate does; `slid_mm`: slid farther on it than it lets.
    """

    support: Support
    on: Literal["floor", "table"]
    raised_m: float
    plate_m: Number
    low_m: Number
    high_m: Number
    along_m: Number
    rise_m: Number
    turn: bool
    slid_mm: float
    along: MoveRig | None = None
    lift: MoveRig | None = None


def holdings(shot: Shot, plate: Plate, asked: Asked, support: Support) -> list[Holding]:
    """How a support would hold the camera: on the floor and, where there is one, on the table."""
    beside = _holding(shot, plate, asked, support, "floor", -(plate.table_m or 0.0))
    if plate.table_m is None:
        return [beside]
    return [beside, _holding(shot, plate, asked, support, "table", 0.0)]


def _holding(
    shot: Shot,
    plate: Plate,
    asked: Asked,
    support: Support,
    on: Literal["floor", "table"],
    raised_m: float,
) -> Holding:
    move = shot.move
    along, along_m = _carried(shot.kit, LEVEL, support.travel_mm, asked.along_m)
    own_lift = None if support.lifts else 0.0
    lift, rise_m = _carried(shot.kit, ("crane",), own_lift, np.abs(asked.rises_m))
    # What lifts by itself goes from its lowest to its highest; a rig stands on it and does the way.
    highest = np.maximum(asked.rises_m, 0.0) if support.lifts else 0.0
    lowest = np.minimum(asked.rises_m, 0.0)
    above = asked.base_m - raised_m
    turns = move.pan_deg != 0.0 or move.tilt_deg != 0.0
    return Holding(
        support=support,
        on=on,
        raised_m=raised_m,
        plate_m=above,
        low_m=support.lowest_mm / 1000.0 - (above + lowest),
        high_m=above + highest - support.highest_mm / 1000.0,
        along_m=along_m,
        rise_m=rise_m,
        turn=not turns or REACHES[support.turns_about] >= REACHES[plate.turns_about],
        slid_mm=max(abs(plate.slide_mm) - support.slide_mm, 0.0),
        along=along,
        lift=lift,
    )


def _carried(
    kit: Kit, axes: tuple[str, ...], own_mm: float | None, way_m: Number
) -> tuple[MoveRig | None, Number]:
    """The rig that carries a camera along a way, None where the support itself does, and how much
    of the way is missing."""
    own = math.inf if own_mm is None else own_mm / 1000.0
    missing = way_m - own
    if not np.any(missing > 0.0):
        return None, missing
    rigs = [r for r in kit.rigs if r.axis in axes]
    if not rigs:
        return None, missing
    best = max(rigs, key=lambda r: math.inf if r.travel is None else r.travel)
    goes = math.inf if best.travel is None else best.travel / 1000.0
    return (best, way_m - goes) if goes > own else (None, missing)
