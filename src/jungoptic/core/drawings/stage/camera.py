"""Body, lens and support to size, and the way of the camera."""

from __future__ import annotations

import math

import numpy as np

from ...stage.case import Case
from ...words.drawing import Point, Shape
from .common import Flat

#: Drawn size of a body around its sensor mark, in metres: length behind the mount and width.
BODY_LENGTH_M = 0.12


BODY_WIDTH_M = 0.11


LENS_RADIUS_M = 0.04


def camera_path(case: Case, flat: Flat) -> list[Shape]:
    """The way of the entrance pupil over the shot; nothing for a camera that stands still."""
    move = case.shot.move
    if move.stands:
        return []
    parts = np.linspace(0.0, 1.0, 13)
    way = move.along(case.stage.camera, parts, case.plate.scale).positions_m
    points = tuple(flat(float(x), float(y), float(z)) for x, y, z in way)
    return [Shape("path", points)] if math.dist(points[0], points[-1]) > 1e-6 else []


def camera_from_the_side(case: Case, y0: float, h: float, tilt: float, floor: float) -> list[Shape]:
    """Body, lens and support, drawn to size about the lens axis."""
    stage = case.stage
    base = stage.choice.body.axis_height_mm / 1000.0

    def at(along: float, up: float) -> Point:
        """A place measured along the lens axis from the entrance pupil, and above it."""
        return (
            y0 + along * math.cos(tilt) - up * math.sin(tilt),
            h + along * math.sin(tilt) + up * math.cos(tilt),
        )

    sensor = -stage.sensor_to_pupil_m
    front = sensor + stage.sensor_to_front_m
    mount = sensor + stage.choice.body.flange_mm / 1000.0
    body_top = min(base, 0.08)
    body = (
        at(mount, -base),
        at(mount, body_top),
        at(mount - BODY_LENGTH_M, body_top),
        at(mount - BODY_LENGTH_M, -base),
    )
    lens = (
        at(mount, -LENS_RADIUS_M),
        at(front, -LENS_RADIUS_M),
        at(front, LENS_RADIUS_M),
        at(mount, LENS_RADIUS_M),
    )
    foot = at(mount - BODY_LENGTH_M / 2, -base)
    shapes = [Shape("camera", body, True), Shape("lens", lens, True)]
    ground = floor if foot[1] < 0.0 or case.plate.drop_m > 0 else 0.0
    if foot[1] > ground + 0.005:
        shapes.append(Shape("support", (foot, (foot[0], ground))))
    shapes.append(Shape("mark", (at(sensor, -body_top), at(sensor, body_top))))
    return shapes


def camera_from_above(case: Case, y0: float, pan: float) -> list[Shape]:
    stage = case.stage

    def at(along: float, right: float) -> Point:
        return (
            y0 + along * math.cos(pan) - right * math.sin(pan),
            -along * math.sin(pan) - right * math.cos(pan),
        )

    sensor = -stage.sensor_to_pupil_m
    front = sensor + stage.sensor_to_front_m
    mount = sensor + stage.choice.body.flange_mm / 1000.0
    half = BODY_WIDTH_M / 2
    body = (
        at(mount, -half),
        at(mount, half),
        at(mount - BODY_LENGTH_M, half),
        at(mount - BODY_LENGTH_M, -half),
    )
    lens = (
        at(mount, -LENS_RADIUS_M),
        at(front, -LENS_RADIUS_M),
        at(front, LENS_RADIUS_M),
        at(mount, LENS_RADIUS_M),
    )
    mark = (at(sensor, -half), at(sensor, half))
    return [Shape("camera", body, True), Shape("lens", lens, True), Shape("mark", mark)]
