"""The plan of a stage, to scale, with tape dimensions."""

from __future__ import annotations

import math

import numpy as np

from ...plan.plate import Plate
from ...stage.backing import backing
from ...stage.case import Case
from ...stage.marks import eyelines, fixed_points
from ...stage.rooms import room_fit
from ...stage.tape import mark_of
from ...words.drawing import Dimension, Drawing, Note, Point, Shape
from ...words.quantities import length
from .camera import BODY_LENGTH_M, camera_from_above, camera_path
from .common import as_points, drawn_to_m, footprints, framed
from .light import lamp_notes, lamp_shapes, shadow_shapes, sun_path_shapes
from .room import lacking_from_above, table_top
from .tricks import crowd_shapes, strip_shapes, way_shapes


def plan(case: Case) -> Drawing:
    """View from above, laid under the elevation: distance to the right, the camera's right down."""
    stage, plate = case.stage, case.plate
    _, y0, _ = stage.camera.position_m
    tilt, pan = math.radians(stage.tilt_deg), math.radians(stage.camera.pan_deg)
    far = drawn_to_m(case)
    filmed = case.shot.move.at_widest(stage.camera)
    half = math.atan(filmed.sensor_width_mm / 2.0 / stage.pinhole_mm)
    shapes: list[Shape] = []
    dims: list[Dimension] = []
    notes: list[Note] = []
    sensor_back = stage.sensor_to_pupil_m * math.cos(tilt)
    fit = room_fit(case)
    if fit is not None:
        corners = (
            *((fit.rear_m, -fit.left_m), (fit.front_m, -fit.left_m)),
            *((fit.front_m, -fit.right_m), (fit.rear_m, -fit.right_m)),
        )
        shapes.append(Shape("wall", (*corners, corners[0])))
        dims.append(Dimension(corners[1], corners[2], fit.across_m, "", 0))
    if plate.table_m is not None:
        shapes.append(Shape("table", table_top(case, y0), True))
    every = footprints(case)
    for stand_in, hull in zip(every.things, every.hulls(), strict=True):
        x, y = stand_in.x_m / plate.scale, stand_in.y_m / plate.scale
        if stand_in.kind == "figure":
            radius = 0.13 * stand_in.height_m / plate.scale
            turn = np.linspace(0.0, 2.0 * math.pi, 17)
            ring = as_points(y + radius * 0.7 * np.sin(turn), -x - radius * np.cos(turn))
            shapes.append(Shape("figure", ring, True, stand_in.id))
        else:
            shapes.append(Shape(stand_in.kind, hull, stand_in.kind != "card", stand_in.id))
        if stand_in.kind != "ground":
            notes.append(Note((y, -x), stand_in.name))
    shapes[:0] = shadow_shapes(case)
    strips, strip_notes = strip_shapes(case)
    shapes[:0] = strips
    notes += strip_notes
    shapes += crowd_shapes(case)
    mark = mark_of(case)
    if mark is not None:
        x, y = mark.x_m / plate.scale, mark.y_m / plate.scale
        if abs(x) > 1e-4:
            dims.append(Dimension((y, 0.0), (y, -x), abs(x), "", 1))
    screen = backing(case)
    if screen is not None and plate.screen_width_m > 0:
        ends = (
            (screen.distance_m, -screen.centre_x_m - plate.screen_width_m / 2),
            (screen.distance_m, -screen.centre_x_m + plate.screen_width_m / 2),
        )
        shapes.append(Shape("screen", ends))
        dims.append(Dimension(*ends, plate.screen_width_m, "screen", -1))
        if plate.screen_sweep_m > 0:
            near = screen.distance_m - plate.screen_sweep_m
            corners = (*ends, (near, ends[1][1]), (near, ends[0][1]))
            shapes.append(Shape("sweep", corners, True))
    shapes += lacking_from_above(case, fit)
    shapes += lamp_shapes(case, lambda x, y, z: (y, -x))
    notes += lamp_notes(case, lambda x, y, z: (y, -x))
    sun, hours = sun_path_shapes(case)
    shapes += sun
    notes += hours
    shapes += camera_path(case, lambda x, y, z: (y, -x))
    shapes += way_shapes(case)
    for fixed in fixed_points(case) if fit is not None or _fixed_set(plate) else ():
        shapes.append(Shape("fixed", _cross(fixed.y_m, -fixed.x_m)))
        if mark is not None:
            foot = (mark.y_m / plate.scale, -mark.x_m / plate.scale)
            tape = math.dist((fixed.y_m, -fixed.x_m), foot)
            shapes.append(Shape("tape", ((fixed.y_m, -fixed.x_m), foot)))
            middle = ((fixed.y_m + foot[0]) / 2.0, (-fixed.x_m + foot[1]) / 2.0)
            notes.append(Note(middle, length(tape)))
    for line in eyelines(case):
        who = next(s for s in case.shot.stand_ins if s.id == line.stand_in_id)
        start = (who.y_m / plate.scale, -who.x_m / plate.scale)
        shapes.append(Shape("eyeline", (start, (line.y_m, -line.x_m))))
        notes.append(Note((line.y_m, -line.x_m), f"{line.name} looks here"))
    for angle, role in ((pan - half, "ray"), (pan + half, "ray"), (pan, "axis")):
        reach = (far - y0) / math.cos(angle) if math.cos(angle) > 0.05 else far - y0
        end = (y0 + reach * math.cos(angle), -reach * math.sin(angle))
        shapes.append(Shape(role, ((y0, 0.0), end)))
    shapes += camera_from_above(case, y0, pan)
    back = (y0 - sensor_back - BODY_LENGTH_M - 0.02, 0.0)
    return framed("plan", [*shapes, Shape("", (back, (far, 0.0)))], dims, notes, fit)


def _fixed_set(plate: Plate) -> bool:
    return any(
        v is not None
        for v in (plate.fix_left_x_m, plate.fix_left_y_m, plate.fix_right_x_m, plate.fix_right_y_m)
    )


def _cross(u: float, v: float) -> tuple[Point, ...]:
    arm = 0.05
    return ((u - arm, v - arm), (u + arm, v + arm), (u, v), (u - arm, v + arm), (u + arm, v - arm))
