"""How a stage stands in a room: walls, ceiling, and how much of each it needs. Stage metres."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..plan.kit import Room
from .backing import backing
from .case import Case

#: Behind the sensor mark for the person at the camera (judgement).
OPERATOR_M = 0.6
#: Clear above the highest thing, and beside the outermost (judgement).
ABOVE_M = 0.1
BESIDE_M = 0.1
#: The camera and what holds it rise this far above the lens axis.
CAMERA_TOP_M = 0.12


@dataclass(frozen=True)
class RoomFit:
    """Walls and ceiling in stage coordinates, and what the stage needs of the room.

    `rear_m` and `front_m` are the walls behind the camera and beyond the action along y;
    `left_m` and `right_m` along x; `floor_m` and `ceiling_m` along z, the ceiling None outdoors.
    """

    room: Room
    rear_m: float
    front_m: float
    left_m: float
    right_m: float
    floor_m: float
    ceiling_m: float | None
    length_needed_m: float
    width_needed_m: float
    height_needed_m: float
    #: How far things reach past the left and past the right wall; 0 where they do not.
    beyond_m: tuple[float, float] = (0.0, 0.0)

    @property
    def along_m(self) -> float:
        """Length of the room along the view."""
        return self.front_m - self.rear_m

    @property
    def across_m(self) -> float:
        """Width of the room across the view."""
        return self.right_m - self.left_m

    @property
    def short_m(self) -> float:
        """How much too short the room is along the view; negative is to spare."""
        return self.length_needed_m - self.along_m

    @property
    def narrow_m(self) -> float:
        """How much too narrow it is where the stage stands in it."""
        return self.width_needed_m - self.across_m

    @property
    def low_m(self) -> float:
        """How much too low it is; minus infinity outdoors."""
        if self.room.height_m is None:
            return -math.inf
        return self.height_needed_m - self.room.height_m


def room_fit(case: Case) -> RoomFit | None:
    """How the plate stands in the room chosen for it; None without a room."""
    return case.once("room", lambda: _room_fit(case))


def _room_fit(case: Case) -> RoomFit | None:
    plate, stage = case.plate, case.stage
    room = case.shot.kit.room(plate.room_id)
    if room is None:
        return None
    along, across = (
        (room.width_m, room.length_m) if plate.room_turned else (room.length_m, room.width_m)
    )
    start = stage.camera
    end = case.shot.move.moved(start, 1.0, plate.scale)
    back = stage.sensor_to_pupil_m * math.cos(math.radians(stage.tilt_deg))
    sensor = min(c.position_m[1] for c in (start, end)) - back
    behind = OPERATOR_M if plate.room_behind_m is None else plate.room_behind_m
    rear = sensor - behind
    own = [s for s in case.shot.stand_ins_of(plate) if s.kind != "ground"]
    fars = [(s.y_m + s.depth_m) / plate.scale for s in own]
    tops = [(s.z_m - plate.ground_m + s.height_m) / plate.scale for s in own]
    sides = [(s.x_m + sign * s.width_m / 2) / plate.scale for s in own for sign in (-1, 1)]
    tops += [max(c.position_m[2] for c in (start, end)) + CAMERA_TOP_M]
    sides += [c.position_m[0] for c in (start, end)]
    for placed in plate.lamps:
        fars.append(placed.y_m)
        tops.append(placed.z_m)
        sides.append(placed.x_m)
    screen = backing(case)
    if screen is not None:
        fars.append(screen.distance_m)
        tops.append(plate.screen_top_m - ABOVE_M)
        half = plate.screen_width_m / 2.0
        sides += [screen.centre_x_m - half + BESIDE_M, screen.centre_x_m + half - BESIDE_M]
    floor = -(plate.table_m or 0.0)
    left = across / 2.0 if plate.room_left_m is None else plate.room_left_m
    # Off the middle, the nearer wall decides: the room must take the wider side twice as far.
    reach_left, reach_right = BESIDE_M - min(sides), max(sides) + BESIDE_M
    past = reach_left - left, reach_right - (across - left)
    return RoomFit(
        room=room,
        rear_m=rear,
        front_m=rear + along,
        left_m=-left,
        right_m=across - left,
        floor_m=floor,
        ceiling_m=None if room.height_m is None else floor + room.height_m,
        length_needed_m=max([*fars, sensor]) - rear,
        width_needed_m=across + max(past),
        height_needed_m=max(tops) + ABOVE_M - floor,
        beyond_m=(max(past[0], 0.0), max(past[1], 0.0)),
    )
