"""The Stage drawing of one plate: side elevation and plan, to scale, with tape dimensions."""

from __future__ import annotations

import math

import numpy as np

from .camera import Array
from .drawing import Dimension, Drawing, Note, Point, Shape, bounds_of
from .judging.backing import backing
from .judging.case import Case
from .plan import Plate
from .standins import StandIn, outlines

#: Drawn size of a body around its sensor mark, in metres: length behind the mount and width.
BODY_LENGTH_M = 0.12
BODY_WIDTH_M = 0.11
LENS_RADIUS_M = 0.04


def mark_of(case: Case) -> StandIn | None:
    """The stand-in that tapes are laid to: the first filmed in the plate that is not ground."""
    own = [s for s in case.shot.stand_ins_of(case.plate) if s.kind != "ground"]
    return own[0] if own else None


def floor_tape_m(case: Case, distance_m: float) -> float:
    """Floor distance from below the sensor mark to something `distance_m` ahead of the origin."""
    tilt = math.radians(case.stage.tilt_deg)
    return distance_m + case.plate.setback_m + case.stage.sensor_to_pupil_m * math.cos(tilt)


def _own(case: Case) -> list[StandIn]:
    """The plate's things in drawing order: the ground first, so that it hides nothing."""
    return sorted(case.shot.stand_ins_of(case.plate), key=lambda s: s.kind != "ground")


def _footprint(stand_in: StandIn, plate: Plate) -> tuple[Array, ...]:
    return tuple(plate.on_stage(line) for line in outlines(stand_in))


def _points(us: Array, vs: Array) -> tuple[Point, ...]:
    return tuple(zip(np.round(us, 5).tolist(), np.round(vs, 5).tolist(), strict=True))


def elevation(case: Case) -> Drawing:
    """Side view: camera on its axis height, rays of the view, focus limits, the plate's things."""
    stage, plate = case.stage, case.plate
    _, y0, h = stage.camera.position_m
    tilt = math.radians(stage.tilt_deg)
    far = _reach(case)
    shapes: list[Shape] = []
    own: list[Shape] = []
    for stand_in in _own(case):
        if stand_in.kind == "figure":
            turned = _figure_from_the_side(stand_in, plate)
            own.append(Shape("figure", turned, True, stand_in.id))
            continue
        points = np.concatenate(_footprint(stand_in, plate))
        u0, u1 = float(points[:, 1].min()), float(points[:, 1].max())
        v0, v1 = float(points[:, 2].min()), float(points[:, 2].max())
        corners = ((u0, v0), (u1, v0), (u1, v1), (u0, v1))
        own.append(Shape(stand_in.kind, corners, True, stand_in.id))
    screen = backing(case)
    if screen is not None and plate.screen_height_m > 0:
        line = ((screen.distance_m, 0.0), (screen.distance_m, plate.screen_height_m))
        own.append(Shape("screen", line))

    shapes.append(Shape("ground", ((y0 - 0.2 - BODY_LENGTH_M, 0.0), (far, 0.0))))
    shapes += own
    shapes += _camera_from_the_side(case, y0, h, tilt)
    half_v = math.atan(stage.camera.sensor_height_mm / 2.0 / stage.pinhole_mm)
    top = max([h, *(v for s in own for _, v in s.points)]) * 1.15
    for angle in (tilt + half_v, tilt - half_v):
        shapes.append(Shape("ray", _ray((y0, h), angle, far, top)))
    shapes.append(Shape("axis", _ray((y0, h), tilt, far, top)))

    dims = [Dimension((y0, 0.0), (y0, h), h, "axis height", -1, "camera_height")]
    mark = mark_of(case)
    back = y0 - stage.sensor_to_pupil_m * math.cos(tilt)
    if mark is not None:
        at = mark.y_m / plate.scale
        dims.append(Dimension((back, 0.0), (at, 0.0), at - back, f"sensor mark to {mark.name}", -1))
        tall = mark.height_m / plate.scale
        foot = (mark.z_m - plate.ground_m) / plate.scale
        dims.append(Dimension((at, foot), (at, foot + tall), tall, mark.name, 1))
    notes = []
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
        notes.append(Note((screen.distance_m, plate.screen_height_m), "screen"))
    everything = [
        *shapes,
        Shape("", ((back - BODY_LENGTH_M - 0.02, -0.05 * top), (far, top * 1.1))),
    ]
    return Drawing("elevation", bounds_of(everything), tuple(shapes), tuple(dims), tuple(notes))


def plan(case: Case) -> Drawing:
    """View from above, laid under the elevation: distance to the right, the camera's right down."""
    stage, plate = case.stage, case.plate
    _, y0, _ = stage.camera.position_m
    tilt, pan = math.radians(stage.tilt_deg), math.radians(stage.camera.pan_deg)
    far = _reach(case)
    half = math.atan(stage.camera.sensor_width_mm / 2.0 / stage.pinhole_mm)
    shapes: list[Shape] = []
    dims: list[Dimension] = []
    notes: list[Note] = []
    sensor_back = stage.sensor_to_pupil_m * math.cos(tilt)
    for stand_in in _own(case):
        x, y = stand_in.x_m / plate.scale, stand_in.y_m / plate.scale
        if stand_in.kind == "figure":
            radius = 0.13 * stand_in.height_m / plate.scale
            turn = np.linspace(0.0, 2.0 * math.pi, 17)
            ring = _points(y + radius * 0.7 * np.sin(turn), -x - radius * np.cos(turn))
            shapes.append(Shape("figure", ring, True, stand_in.id))
        else:
            points = np.concatenate(_footprint(stand_in, plate))
            hull = convex_hull(np.stack([points[:, 1], -points[:, 0]], axis=1))
            shapes.append(Shape(stand_in.kind, hull, stand_in.kind != "card", stand_in.id))
        if stand_in.kind != "ground":
            notes.append(Note((y, -x), stand_in.name))
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
    for angle, role in ((pan - half, "ray"), (pan + half, "ray"), (pan, "axis")):
        reach = (far - y0) / math.cos(angle) if math.cos(angle) > 0.05 else far - y0
        end = (y0 + reach * math.cos(angle), -reach * math.sin(angle))
        shapes.append(Shape(role, ((y0, 0.0), end)))
    shapes += _camera_from_above(case, y0, pan)
    back = (y0 - sensor_back - BODY_LENGTH_M - 0.02, 0.0)
    everything = [*shapes, Shape("", (back, (far, 0.0)))]
    return Drawing("plan", bounds_of(everything), tuple(shapes), tuple(dims), tuple(notes))


def _reach(case: Case) -> float:
    """How far ahead the drawings go: past the farthest thing or the screen."""
    scale = case.plate.scale
    ends = [(s.y_m + s.depth_m) / scale for s in _own(case) if s.kind != "ground"]
    screen = backing(case)
    if screen is not None:
        ends.append(screen.distance_m)
    if not ends:
        ends = [case.stage.focus_m if math.isfinite(case.stage.focus_m) else 3.0 / scale]
    return max(max(ends) * 1.06, case.stage.sensor_to_pupil_m * 3)


def _ray(start: Point, angle: float, far: float, top: float) -> tuple[Point, Point]:
    """A ray from the lens to the far end of the drawing, or to its top or the ground."""
    reach = far - start[0]
    if angle > 0 and start[1] + reach * math.tan(angle) > top:
        reach = (top - start[1]) / math.tan(angle)
    if angle < 0 and start[1] + reach * math.tan(angle) < 0:
        reach = -start[1] / math.tan(angle)
    return start, (start[0] + reach, start[1] + reach * math.tan(angle))


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


def _camera_from_the_side(case: Case, y0: float, h: float, tilt: float) -> list[Shape]:
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
    if foot[1] > 0.005:
        shapes.append(Shape("support", (foot, (foot[0], 0.0))))
    shapes.append(Shape("mark", (at(sensor, -body_top), at(sensor, body_top))))
    return shapes


def _camera_from_above(case: Case, y0: float, pan: float) -> list[Shape]:
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


def convex_hull(points: Array) -> tuple[Point, ...]:
    """Convex outline of points (n, 2), by Andrew's monotone chain."""
    rows = sorted({(round(float(u), 5), round(float(v), 5)) for u, v in points})
    if len(rows) < 3:
        return tuple(rows)

    def half(ordered: list[Point]) -> list[Point]:
        out: list[Point] = []
        for p in ordered:
            while len(out) > 1 and _turn(out[-2], out[-1], p) <= 0:
                out.pop()
            out.append(p)
        return out[:-1]

    return tuple(half(rows) + half(rows[::-1]))


def _turn(o: Point, a: Point, b: Point) -> float:
    return (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0])
