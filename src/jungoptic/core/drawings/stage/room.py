"""Room and table around a stage, and what they are short of."""

from __future__ import annotations

from ...stage.backing import backing
from ...stage.case import Case
from ...stage.rooms import RoomFit
from ...words.drawing import Point, Shape
from .camera import BODY_LENGTH_M


def room_from_the_side(fit: RoomFit | None) -> list[Shape]:
    """Walls and ceiling; outdoors nothing, since nothing is in the way."""
    if fit is None:
        return []
    if fit.ceiling_m is None:
        return [Shape("wall", ((fit.rear_m, fit.floor_m), (fit.front_m, fit.floor_m)))]
    return [
        Shape(
            "wall",
            (
                (fit.rear_m, fit.floor_m),
                (fit.rear_m, fit.ceiling_m),
                (fit.front_m, fit.ceiling_m),
                (fit.front_m, fit.floor_m),
                (fit.rear_m, fit.floor_m),
            ),
        )
    ]


def lacking_from_the_side(case: Case, fit: RoomFit | None) -> list[Shape]:
    """What room and screen are short of: the way beyond the wall, above the ceiling, above the
    upper edge of the screen."""
    found = []
    if fit is not None and fit.short_m > 1e-9:
        middle = fit.floor_m + 0.5 * min(fit.room.height_m or 1.0, 1.0)
        found.append(Shape("lacking", ((fit.front_m, middle), (fit.front_m + fit.short_m, middle))))
    if fit is not None and fit.ceiling_m is not None and fit.low_m > 1e-9:
        at = (fit.rear_m + fit.front_m) / 2.0
        found.append(Shape("lacking", ((at, fit.ceiling_m), (at, fit.ceiling_m + fit.low_m))))
    screen = backing(case)
    if screen is not None and screen.top_m > case.plate.screen_top_m + 1e-6:
        at = screen.distance_m
        found.append(Shape("lacking", ((at, case.plate.screen_top_m), (at, screen.top_m))))
    if screen is not None and case.plate.screen_foot_m > screen.bottom_m + 1e-6:
        at = screen.distance_m
        found.append(Shape("lacking", ((at, screen.bottom_m), (at, case.plate.screen_foot_m))))
    return found


def lacking_from_above(case: Case, fit: RoomFit | None) -> list[Shape]:
    """The same in the plan: beyond the wall ahead, beyond the sides, beyond the screen's ends."""
    found = []
    if fit is not None and fit.short_m > 1e-9:
        middle = -(fit.left_m + fit.right_m) / 2.0
        found.append(Shape("lacking", ((fit.front_m, middle), (fit.front_m + fit.short_m, middle))))
    if fit is not None and fit.narrow_m > 1e-9:
        at = (fit.rear_m + fit.front_m) / 2.0
        for side, out in zip((fit.left_m, fit.right_m), fit.beyond_m, strict=True):
            if out > 1e-9:
                end = side - out if side < 0 else side + out
                found.append(Shape("lacking", ((at, -side), (at, -end))))
    screen = backing(case)
    if screen is not None and screen.width_m > case.plate.screen_width_m + 1e-6:
        half, need = case.plate.screen_width_m / 2.0, screen.width_m / 2.0
        for sign in (-1.0, 1.0):
            centre = -screen.centre_x_m
            ends = tuple((screen.distance_m, centre + sign * reach) for reach in (half, need))
            found.append(Shape("lacking", ends))
    return found


def table_ends(case: Case, y0: float) -> tuple[float, float]:
    """Where the table begins and ends along y: under all things, and under the camera unless its
    base sits lower than the top."""
    own = case.shot.stand_ins_of(case.plate)
    scale = case.plate.scale
    nears = [s.y_m / scale for s in own] or [y0 + 0.3]
    fars = [(s.y_m + s.depth_m) / scale for s in own] or [y0 + 1.0]
    front = min(nears) - 0.1
    over = case.stage.sensor_to_front_m - case.stage.sensor_to_pupil_m
    begin = max(front, y0 + over + 0.02) if case.plate.drop_m > 0 else y0 - BODY_LENGTH_M - 0.1
    return min(begin, max(fars)), max(fars) + 0.05


def table_from_the_side(case: Case, floor: float, y0: float) -> list[Shape]:
    begin, end = table_ends(case, y0)
    leg = 0.03
    return [
        Shape("table", ((begin, 0.0), (end, 0.0), (end, -0.03), (begin, -0.03)), True),
        *(Shape("support", ((u, -0.03), (u, floor))) for u in (begin + leg, end - leg)),
    ]


def table_top(case: Case, y0: float) -> tuple[Point, ...]:
    """The table from above: as wide as what stands on it."""
    begin, end = table_ends(case, y0)
    own = case.shot.stand_ins_of(case.plate)
    scale = case.plate.scale
    sides = [(s.x_m + k * s.width_m / 2) / scale for s in own for k in (-1, 1)] or [-0.4, 0.4]
    low, high = min(*sides, -0.2), max(*sides, 0.2)
    return ((begin, -low), (end, -low), (end, -high), (begin, -high))
