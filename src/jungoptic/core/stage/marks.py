"""Marks on the floor and for the eyes: tape numbers that find a place again after a strike."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from ..impossible import Impossible
from ..plan.plate import Plate
from ..plan.standins import EYE_FRACTION, StandIn
from .case import Case
from .rooms import room_fit

#: Fixed points without a room: this far to each side of the camera, below its lens.
ASIDE_M = 1.0
#: Two tapes that cross at less than this find a place badly, degrees (common practice).
WEAK_DEG = 20.0
#: An eyeline mark stands no farther from the eyes than this: stands and walls end there.
FARTHEST_EYELINE_M = 3.0


@dataclass(frozen=True)
class FixedPoint:
    """One end of the tape on this stage: stage metres, and whether a person set it."""

    name: str
    x_m: float
    y_m: float
    chosen: bool


@dataclass(frozen=True)
class Mark:
    """Where one stand-in goes on this stage: tape numbers in stage metres.

    `from_sensor_m` and `from_front_m` run straight ahead on the stage, along a line through the
    sensor mark that can be taped or chalked (the room's; the lens looks along it unless the camera
    is panned); `aside_m` is to the right (+) of it; `height_m` is how tall the thing is there.
    `from_left_m` and `from_right_m` are tapes from the two fixed points; `foot_m` is how far its
    foot is above this stage's ground.
    """

    stand_in_id: str
    name: str
    from_sensor_m: float
    from_front_m: float
    aside_m: float
    height_m: float
    from_left_m: float
    from_right_m: float
    foot_m: float
    #: At what angle the two tapes cross there, and whether that is so flat that a small error
    #: moves the mark far.
    crossing_deg: float
    weak: bool


@dataclass(frozen=True)
class Eyeline:
    """Where a figure looks so that the look lands on a thing in another plate, stage metres.

    The mark hangs `distance_m` from the eyes at (`x_m`, `y_m`), `height_m` above the ground.
    `turn_deg` is the look to the right (+) of straight into the picture's depth, `up_deg` above
    level; `error_deg` is how far the look goes wrong when the mark is 10 cm off.
    """

    stand_in_id: str
    name: str
    target: str
    x_m: float
    y_m: float
    height_m: float
    distance_m: float
    turn_deg: float
    up_deg: float
    error_deg: float


def fixed_points(case: Case) -> tuple[FixedPoint, FixedPoint]:
    """The two ends of the tape: as set, else the corners behind the camera, else to its sides."""
    plate = case.plate
    fit = room_fit(case)
    if fit is not None:
        left, right = (fit.left_m, fit.rear_m), (fit.right_m, fit.rear_m)
        names = ("room corner behind, left", "room corner behind, right")
    else:
        x0, y0, _ = case.stage.camera.position_m
        left, right = (x0 - ASIDE_M, y0), (x0 + ASIDE_M, y0)
        names = ("left of the lens", "right of the lens")
    chosen = [
        (plate.fix_left_x_m, plate.fix_left_y_m),
        (plate.fix_right_x_m, plate.fix_right_y_m),
    ]
    found = []
    for name, usual, (x, y) in zip(names, (left, right), chosen, strict=True):
        own = x is not None or y is not None
        found.append(
            FixedPoint(
                "fixed point, " + name.split(", ")[-1].split(" ")[0] if own else name,
                usual[0] if x is None else x,
                usual[1] if y is None else y,
                own,
            )
        )
    return found[0], found[1]


def place_from_tapes(
    left: tuple[float, float], right: tuple[float, float], from_left_m: float, from_right_m: float
) -> tuple[float, float]:
    """The place (x, y) ahead of the line between two fixed points at these two tape lengths.

    The inverse of the tapes in `marks`, for finding a mark again; of the two places the tapes meet
    at, the one to the left of the way from `left` to `right`: ahead, when `left` is at the left.
    Raises Impossible when the tapes do not reach one another. Plane geometry.
    """
    base = math.dist(left, right)
    if base <= 0:
        raise Impossible(
            "The two fixed points are the same place: move one of them.", "fix_left_x_m"
        )
    along = (from_left_m**2 - from_right_m**2 + base**2) / (2.0 * base)
    square = from_left_m**2 - along**2
    if square < -1e-9 * base * base:
        raise Impossible("These two tapes do not meet: check both numbers.", "left_m")
    up = math.sqrt(max(square, 0.0))
    ux, uy = (right[0] - left[0]) / base, (right[1] - left[1]) / base
    return left[0] + along * ux - up * uy, left[1] + along * uy + up * ux


def marks(case: Case) -> tuple[Mark, ...]:
    """Every thing of the plate with its tape numbers; ground left out."""
    plate = case.plate
    return tuple(
        mark_at(
            case,
            s.id,
            s.name,
            s.x_m / plate.scale,
            s.y_m / plate.scale,
            s.height_m / plate.scale,
            (s.z_m - plate.ground_m) / plate.scale,
        )
        for s in case.shot.stand_ins_of(plate)
        if s.kind != "ground"
    )


def mark_at(
    case: Case,
    key: str,
    name: str,
    x_m: float,
    y_m: float,
    height_m: float = 0.0,
    foot_m: float = 0.0,
) -> Mark:
    """A place on this stage (metres to the right and ahead of below the lens) with its tapes."""
    ends = case.once("ends of tapes", lambda: _Ends.of(case))
    from_sensor = y_m + ends.setback_m + ends.behind_m
    a, b = math.dist((x_m, y_m), ends.left), math.dist((x_m, y_m), ends.right)
    crossing = _crossing_deg(a, b, ends.apart_m)
    return Mark(
        key,
        name,
        from_sensor,
        from_sensor - ends.front_m,
        x_m + ends.aside_m,
        height_m,
        a,
        b,
        foot_m,
        crossing,
        crossing < WEAK_DEG,
    )


class _Ends(NamedTuple):
    """What all marks of a stage share: the ends of the tapes and how far `apart_m` they are; the
    camera's setback, its sensor mark `aside_m` and `behind_m` of the pupil, and the lens front
    ahead of that mark."""

    left: tuple[float, float]
    right: tuple[float, float]
    apart_m: float
    setback_m: float
    aside_m: float
    behind_m: float
    front_m: float

    @staticmethod
    def of(case: Case) -> _Ends:
        left, right = ((end.x_m, end.y_m) for end in fixed_points(case))
        stage = case.stage
        front = stage.front_level_m * math.cos(math.radians(stage.camera.pan_deg))
        setback = stage.plate.setback_m
        return _Ends(left, right, math.dist(left, right), setback, *stage.mark_behind_m, front)


def _crossing_deg(a: float, b: float, base: float) -> float:
    """Angle between two tapes of lengths a and b from points `base` apart."""
    if a <= 0 or b <= 0:
        return 0.0
    cosine = (a * a + b * b - base * base) / (2.0 * a * b)
    angle = math.degrees(math.acos(min(max(cosine, -1.0), 1.0)))
    return min(angle, 180.0 - angle)


def eyes_m(stand_in: StandIn) -> tuple[float, float, float]:
    """Where the eyes of a figure are, or the middle of anything else; world metres."""
    part = EYE_FRACTION if stand_in.kind == "figure" else 0.5
    return stand_in.x_m, stand_in.y_m, stand_in.z_m + part * stand_in.height_m


def eyelines(case: Case) -> tuple[Eyeline, ...]:
    """Marks for every figure of the plate that looks at something."""
    shot, plate = case.shot, case.plate
    by_id = {s.id: s for s in shot.stand_ins}
    found = []
    for figure in shot.stand_ins_of(plate):
        target = by_id.get(figure.looks_at_id or "")
        if target is None or target.id == figure.id:
            continue
        found.append(_eyeline(plate, figure, target))
    return tuple(line for line in found if line is not None)


def _eyeline(plate: Plate, figure: StandIn, target: StandIn) -> Eyeline | None:
    eyes, seen = eyes_m(figure), eyes_m(target)
    way = [(b - a) / plate.scale for a, b in zip(eyes, seen, strict=True)]
    whole = math.hypot(*way)
    if whole <= 0:
        return None
    reach = min(whole, FARTHEST_EYELINE_M)
    x, y, z = (
        (e - g) / plate.scale + w * reach / whole
        for e, g, w in zip(eyes, (0.0, 0.0, plate.ground_m), way, strict=True)
    )
    return Eyeline(
        figure.id,
        figure.name,
        target.name,
        x,
        y,
        z,
        reach,
        math.degrees(math.atan2(way[0], way[1])),
        math.degrees(math.asin(way[2] / whole)),
        math.degrees(math.atan2(0.1, reach)),
    )
