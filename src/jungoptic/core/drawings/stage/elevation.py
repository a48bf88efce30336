"""The side elevation of a stage, to scale, with tape dimensions."""

from __future__ import annotations

import math

from ...plan.plate import Plate
from ...plan.standins import StandIn
from ...stage.backing import backing
from ...stage.case import Case
from ...stage.rooms import room_fit
from ...stage.tape import mark_of
from ...words.drawing import Dimension, Drawing, Note, Point, Shape
from .camera import BODY_LENGTH_M, camera_from_the_side, camera_path
from .common import drawn_to_m, footprints, framed, ray_to_edge
from .light import lamp_notes, lamp_shapes
from .room import lacking_from_the_side, room_from_the_side, table_from_the_side


def elevation(case: Case) -> Drawing:
    """Side view: camera on its axis height, rays of the view, focus limits, the plate's things."""
    stage, plate = case.stage, case.plate
    _, y0, h = stage.camera.position_m
    tilt = math.radians(stage.tilt_deg)
    far = drawn_to_m(case)
    shapes: list[Shape] = []
    own: list[Shape] = []
    every = footprints(case)
    for stand_in, (u0, u1, v0, v1) in zip(every.things, every.from_the_side(), strict=True):
        if stand_in.kind == "figure":
            turned = _figure_from_the_side(stand_in, plate)
            own.append(Shape("figure", turned, True, stand_in.id))
            continue
        corners = ((u0, v0), (u1, v0), (u1, v1), (u0, v1))
        own.append(Shape(stand_in.kind, corners, True, stand_in.id))
    screen = backing(case)
    if screen is not None and plate.screen_height_m > 0:
        line = (
            (screen.distance_m, plate.screen_foot_m),
            (screen.distance_m, plate.screen_top_m),
        )
        own.append(Shape("screen", line))

    fit = room_fit(case)
    floor = -(plate.table_m or 0.0)
    shapes += room_from_the_side(fit)
    if plate.table_m is None:
        shapes.append(Shape("ground", ((y0 - 0.2 - BODY_LENGTH_M, 0.0), (far, 0.0))))
    else:
        shapes.append(Shape("ground", ((y0 - 0.2 - BODY_LENGTH_M, floor), (far, floor))))
        shapes += table_from_the_side(case, floor, y0)
    shapes += own
    shapes += lacking_from_the_side(case, fit)
    shapes += lamp_shapes(case, lambda x, y, z: (y, z))
    path = camera_path(case, lambda x, y, z: (y, z))
    shapes += path
    shapes += camera_from_the_side(case, y0, h, tilt, floor)
    filmed = case.shot.move.at_widest(stage.camera)
    half_v = math.atan(filmed.sensor_height_mm / 2.0 / stage.pinhole_mm)
    top = max([h, *(v for s in own for _, v in s.points)]) * 1.15
    for angle in (tilt + half_v, tilt - half_v):
        shapes.append(Shape("ray", ray_to_edge((y0, h), angle, far, top)))
    shapes.append(Shape("axis", ray_to_edge((y0, h), tilt, far, top)))

    dims = [Dimension((y0, 0.0), (y0, h), h, "axis height", -1, "camera_height")]
    mark = mark_of(case)
    back = y0 - stage.sensor_to_pupil_m * math.cos(tilt)
    if mark is not None:
        at = mark.y_m / plate.scale
        dims.append(Dimension((back, 0.0), (at, 0.0), at - back, f"sensor mark to {mark.name}", -1))
        tall = mark.height_m / plate.scale
        foot = (mark.z_m - plate.ground_m) / plate.scale
        dims.append(Dimension((at, foot), (at, foot + tall), tall, mark.name, 1))
    notes = lamp_notes(case, lambda x, y, z: (y, z))
    if fit is not None:
        dims.append(
            Dimension(
                (fit.rear_m, floor),
                (fit.front_m, floor),
                fit.along_m,
                f"{fit.room.name}, length",
                -2,
            )
        )
        if fit.ceiling_m is not None:
            dims.append(
                Dimension(
                    (fit.front_m, floor),
                    (fit.front_m, fit.ceiling_m),
                    fit.room.height_m or 0.0,
                    "ceiling",
                    0,
                )
            )
    if plate.table_m is not None:
        dims.append(Dimension((far, floor), (far, 0.0), plate.table_m, "table", -1))
    if math.isfinite(stage.focus_m):
        span = max(top - 0.0, h) * 0.5
        for p in stage.passes:
            base = (y0 + p.focus_m * math.cos(tilt), h + p.focus_m * math.sin(tilt))
            lean = (-math.sin(tilt) * span / 2, math.cos(tilt) * span / 2)
            shapes.append(
                Shape(
                    "focus",
                    (
                        (base[0] - lean[0], max(base[1] - lean[1], 0.0)),
                        (base[0] + lean[0], base[1] + lean[1]),
                    ),
                )
            )
        tip = shapes[-1].points[1]
        notes.append(Note(tip, "focus"))
    if screen is not None and plate.screen_height_m > 0:
        notes.append(Note((screen.distance_m, plate.screen_top_m), "screen"))
    edge = Shape("", ((back - BODY_LENGTH_M - 0.02, -0.05 * top), (far, top * 1.1)))
    return framed("elevation", [*shapes, edge], dims, notes, fit)


def _figure_from_the_side(stand_in: StandIn, plate: Plate) -> tuple[Point, ...]:
    """A standing figure seen from the side, facing the camera, at stage size."""
    tall = stand_in.height_m / plate.scale
    u, v = stand_in.y_m / plate.scale, (stand_in.z_m - plate.ground_m) / plate.scale
    profile = (
        *((-0.09, 0), (-0.03, 0.04), (-0.04, 0.28), (-0.05, 0.5), (-0.065, 0.62), (-0.06, 0.78)),
        *((-0.02, 0.845), (-0.05, 0.875), (-0.06, 0.93), (-0.04, 0.985), (0.0, 1.0)),
        *((0.045, 0.98), (0.055, 0.92), (0.03, 0.86), (0.06, 0.78), (0.05, 0.62), (0.075, 0.5)),
        *((0.05, 0.28), (0.04, 0.04), (0.05, 0)),
    )
    return tuple((u + a * tall, v + b * tall) for a, b in profile)
