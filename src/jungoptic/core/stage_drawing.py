"""The Stage drawing of one plate: side elevation and plan, to scale, with tape dimensions."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from .camera import Array
from .coverage import at_distance
from .crowd.study import crowd_plan
from .drawing import Dimension, Drawing, Note, Point, Shape, bounds_of
from .judging.backing import backing
from .judging.case import Case
from .lighting.action import action_point_m
from .lighting.shadows import stage_shadows
from .lighting.sources import shining_size
from .locked.extent import half_width_m
from .locked.group import group_of
from .locked.strips import own_of, strip
from .marks import eyelines, fixed_points
from .plan import Lamp, PlacedLamp, Plate
from .quantities import length
from .rooms import RoomFit, room_fit
from .sky.day import sun_day
from .sky.windows import heading_on
from .staging import floor_tape_m
from .standins import StandIn, outlines

#: Drawn size of a body around its sensor mark, in metres: length behind the mount and width.
BODY_LENGTH_M = 0.12
BODY_WIDTH_M = 0.11
LENS_RADIUS_M = 0.04


def mark_of(case: Case) -> StandIn | None:
    """The stand-in that tapes are laid to: the first filmed in the plate that is not ground."""
    own = [s for s in case.shot.stand_ins_of(case.plate) if s.kind != "ground"]
    return own[0] if own else None


def mark_tape_m(case: Case) -> float | None:
    """The tape along the floor from the sensor mark to that stand-in, metres; None without one."""
    mark = mark_of(case)
    return None if mark is None else floor_tape_m(case.stage, mark.y_m / case.plate.scale)


def _own(case: Case) -> list[StandIn]:
    """The plate's things in drawing order: the ground first, so that it hides nothing."""
    return sorted(case.shot.stand_ins_of(case.plate), key=lambda s: s.kind != "ground")


def _footprint(stand_in: StandIn, plate: Plate) -> Array:
    return plate.on_stage(np.concatenate(outlines(stand_in)))


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
        points = _footprint(stand_in, plate)
        u0, u1 = float(points[:, 1].min()), float(points[:, 1].max())
        v0, v1 = float(points[:, 2].min()), float(points[:, 2].max())
        corners = ((u0, v0), (u1, v0), (u1, v1), (u0, v1))
        own.append(Shape(stand_in.kind, corners, True, stand_in.id))
    screen = backing(case)
    if screen is not None and plate.screen_height_m > 0:
        line = ((screen.distance_m, 0.0), (screen.distance_m, plate.screen_height_m))
        own.append(Shape("screen", line))

    fit = room_fit(case)
    floor = -(plate.table_m or 0.0)
    shapes += _room_from_the_side(fit)
    if plate.table_m is None:
        shapes.append(Shape("ground", ((y0 - 0.2 - BODY_LENGTH_M, 0.0), (far, 0.0))))
    else:
        shapes.append(Shape("ground", ((y0 - 0.2 - BODY_LENGTH_M, floor), (far, floor))))
        shapes += _table_from_the_side(case, floor, y0)
    shapes += own
    shapes += _lacking_from_the_side(case, fit)
    shapes += _lamps(case, lambda x, y, z: (y, z))
    path = _path(case, lambda x, y, z: (y, z))
    shapes += path
    shapes += _camera_from_the_side(case, y0, h, tilt, floor)
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
    notes = _lamp_notes(case, lambda x, y, z: (y, z))
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
        notes.append(Note((screen.distance_m, plate.screen_height_m), "screen"))
    edge = Shape("", ((back - BODY_LENGTH_M - 0.02, -0.05 * top), (far, top * 1.1)))
    return _framed("elevation", [*shapes, edge], dims, notes, fit)


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
    fit = room_fit(case)
    if fit is not None:
        corners = (
            *((fit.rear_m, -fit.left_m), (fit.front_m, -fit.left_m)),
            *((fit.front_m, -fit.right_m), (fit.rear_m, -fit.right_m)),
        )
        shapes.append(Shape("wall", (*corners, corners[0])))
        dims.append(Dimension(corners[1], corners[2], fit.across_m, "", 0))
    if plate.table_m is not None:
        shapes.append(Shape("table", _table_top(case, y0), True))
    for stand_in in _own(case):
        x, y = stand_in.x_m / plate.scale, stand_in.y_m / plate.scale
        if stand_in.kind == "figure":
            radius = 0.13 * stand_in.height_m / plate.scale
            turn = np.linspace(0.0, 2.0 * math.pi, 17)
            ring = _points(y + radius * 0.7 * np.sin(turn), -x - radius * np.cos(turn))
            shapes.append(Shape("figure", ring, True, stand_in.id))
        else:
            points = _footprint(stand_in, plate)
            hull = convex_hull(np.stack([points[:, 1], -points[:, 0]], axis=1))
            shapes.append(Shape(stand_in.kind, hull, stand_in.kind != "card", stand_in.id))
        if stand_in.kind != "ground":
            notes.append(Note((y, -x), stand_in.name))
    shapes[:0] = _shadows(case)
    strips, strip_notes = _strips(case)
    shapes[:0] = strips
    notes += strip_notes
    shapes += _crowd(case)
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
    shapes += _lacking_from_above(case, fit)
    shapes += _lamps(case, lambda x, y, z: (y, -x))
    notes += _lamp_notes(case, lambda x, y, z: (y, -x))
    sun, hours = _sun_path(case)
    shapes += sun
    notes += hours
    shapes += _path(case, lambda x, y, z: (y, -x))
    shapes += _ways(case)
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
    shapes += _camera_from_above(case, y0, pan)
    back = (y0 - sensor_back - BODY_LENGTH_M - 0.02, 0.0)
    return _framed("plan", [*shapes, Shape("", (back, (far, 0.0)))], dims, notes, fit)


def _strips(case: Case) -> tuple[list[Shape], list[Note]]:
    """The keep-out strip of every divider on the floor, and its middle line."""
    shapes: list[Shape] = []
    notes: list[Note] = []
    for split in case.shot.splits:
        own = {split.first_id, split.second_id}
        in_group = any(p.id in own for p in group_of(case.shot, case.plate))
        if not in_group or not split.keys:
            continue
        drawn = strip(case, split)
        if len(drawn) < 2:
            continue
        left = [(s.y_m, -s.left_m) for s in drawn]
        right = [(s.y_m, -s.right_m) for s in reversed(drawn)]
        shapes.append(Shape("keepout", (*left, *right), True))
        for edge in (left, right):
            shapes.append(Shape("tapeline", tuple(edge)))
        far = drawn[-1]
        notes.append(Note((far.y_m, -(far.left_m + far.right_m) / 2.0), "keep out"))
        scale = case.plate.scale
        for who in own_of(case, split):
            out = (half_width_m(who) + who.reach_m) / scale
            x, y = who.x_m / scale, who.y_m / scale
            shapes.append(Shape("armspan", ((y, -x - out), (y, -x + out))))
    return shapes, notes


def _crowd(case: Case) -> list[Shape]:
    """Everybody of a crowd as a dot, and the wedges of its passes."""
    try:
        found = crowd_plan(case)
    except ValueError:
        return []
    if found is None or not found.laid.places:
        return []
    scale = case.plate.scale
    shapes = []
    turn = np.linspace(0.0, 2.0 * math.pi, 9)
    for place in found.laid.places:
        x, y, r = place.x_m / scale, place.y_m / scale, 0.2 / scale
        role = f"crowd{place.tile % 4}"
        shapes.append(Shape(role, _points(y + r * np.sin(turn), -x - r * np.cos(turn)), True))
    w, h = case.shot.delivery.width_px, case.shot.delivery.height_px
    ys = [p.y_m for p in found.laid.places]
    for tile in found.laid.tiles[:-1]:
        edge = np.array([(tile.right_px, h / 2.0)])
        ends = [
            at_distance(case.stage.camera, edge, max(y / scale, 0.05), w, h)[0]
            for y in (min(ys) - 0.5, max(ys) + 0.5)
        ]
        if np.isfinite(ends).all():
            shapes.append(Shape("tapeline", tuple((float(e[1]), -float(e[0])) for e in ends)))
    return shapes


#: What belongs to the room rather than to the stage: it does not make the drawing smaller.
OF_THE_ROOM = frozenset(
    {
        "wall",
        "fixed",
        "tape",
        "support",
        "ground",
        "beam",
        "shadow",
        "penumbra",
        "sweep",
        "sun",
        "keepout",
        "way",
    }
)


def _framed(
    view: str,
    shapes: list[Shape],
    dims: list[Dimension],
    notes: list[Note],
    fit: RoomFit | None,
) -> Drawing:
    """The drawing with its two rectangles: of the stage, and of the room it stands in."""
    own = [s for s in shapes if s.stand_in_id or s.role not in OF_THE_ROOM]
    return Drawing(
        view,
        bounds_of(own),
        tuple(s for s in shapes if s.role),
        tuple(dims),
        tuple(notes),
        None if fit is None else bounds_of(shapes),
    )


def _fixed_set(plate: Plate) -> bool:
    return any(
        v is not None
        for v in (plate.fix_left_x_m, plate.fix_left_y_m, plate.fix_right_x_m, plate.fix_right_y_m)
    )


def _cross(u: float, v: float) -> tuple[Point, ...]:
    arm = 0.05
    return ((u - arm, v - arm), (u + arm, v + arm), (u, v), (u - arm, v + arm), (u + arm, v - arm))


Flat = Callable[[float, float, float], Point]


def _room_from_the_side(fit: RoomFit | None) -> list[Shape]:
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


def _lacking_from_the_side(case: Case, fit: RoomFit | None) -> list[Shape]:
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
    if screen is not None and screen.top_m > case.plate.screen_height_m + 1e-6:
        at = screen.distance_m
        found.append(Shape("lacking", ((at, case.plate.screen_height_m), (at, screen.top_m))))
    return found


def _lacking_from_above(case: Case, fit: RoomFit | None) -> list[Shape]:
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


def _table_ends(case: Case, y0: float) -> tuple[float, float]:
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


def _table_from_the_side(case: Case, floor: float, y0: float) -> list[Shape]:
    begin, end = _table_ends(case, y0)
    leg = 0.03
    return [
        Shape("table", ((begin, 0.0), (end, 0.0), (end, -0.03), (begin, -0.03)), True),
        *(Shape("support", ((u, -0.03), (u, floor))) for u in (begin + leg, end - leg)),
    ]


def _table_top(case: Case, y0: float) -> tuple[Point, ...]:
    """The table from above: as wide as what stands on it."""
    begin, end = _table_ends(case, y0)
    own = case.shot.stand_ins_of(case.plate)
    scale = case.plate.scale
    sides = [(s.x_m + k * s.width_m / 2) / scale for s in own for k in (-1, 1)] or [-0.4, 0.4]
    low, high = min(*sides, -0.2), max(*sides, 0.2)
    return ((begin, -low), (end, -low), (end, -high), (begin, -high))


def _lamps(case: Case, flat: Flat) -> list[Shape]:
    """Every lamp placed, a small head aimed at the action."""
    target = action_point_m(case.shot, case.plate) or (0.0, 1.0, 0.5)
    found = []
    for number, placed in enumerate(case.plate.lamps):
        at = flat(placed.x_m, placed.y_m, placed.z_m)
        to = flat(*(placed.aim or target))
        angle = math.atan2(to[1] - at[1], to[0] - at[0])
        c, s = math.cos(angle), math.sin(angle)
        lamp = case.shot.kit.lamp(placed.lamp_id)
        wide = max(_head_m(lamp, placed, flat), 0.1) / 2.0
        back = min(wide, 0.05)
        head = ((-0.05, -back), (0.05, -wide), (0.05, wide), (-0.05, back))
        found.append(
            Shape(
                "lamp",
                tuple((at[0] + a * c - b * s, at[1] + a * s + b * c) for a, b in head),
                True,
                lamp=number,
            )
        )
        reach = math.dist(at, to)
        found.append(
            Shape("beam", (at, (at[0] + c * min(reach, 0.6), at[1] + s * min(reach, 0.6))))
        )
    return found


def _head_m(lamp: Lamp | None, placed: PlacedLamp, flat: Flat) -> float:
    """How wide what shines is drawn in this view, at true size: a bank's longer side stands or
    lies."""
    if lamp is None:
        return 0.0
    long_m, short_m = shining_size(lamp, placed)
    from_above = flat(0.0, 0.0, 1.0) == (0.0, 0.0)
    return short_m if placed.upright == from_above else long_m


def _shadows(case: Case) -> list[Shape]:
    """The key's shadows on the ground: the soft part from the lamp's edges, the whole from its
    middle, at true size."""
    found = []
    for shadow in stage_shadows(case):
        core = np.concatenate(shadow.lines)
        for role, points in (("penumbra", shadow.reach), ("shadow", core)):
            flat = np.stack([points[:, 1], -points[:, 0]], axis=1)
            found.append(Shape(role, convex_hull(flat), True))
    return found


def _sun_path(case: Case) -> tuple[list[Shape], list[Note]]:
    """The sun's way over the day of filming, laid round the action as it comes in from there: the
    higher it stands the nearer to the middle, with the hours of the place's clock. Nothing indoors,
    without a day, or while the camera may point anywhere."""
    shot, plate = case.shot, case.plate
    room = shot.kit.room(plate.room_id)
    if room is None or not room.under_the_sun or plate.film_on is None:
        return [], []
    try:
        heading = heading_on(
            room, plate.film_on, shot.key_elevation_deg, shot.key_from_deg, plate.heading_deg
        )
        day = sun_day(room, plate.film_on)
    except (ValueError, OverflowError):
        return [], []
    if heading is None or len(day.path) < 2:
        return [], []
    x, y, _ = action_point_m(shot, plate) or (0.0, 1.0, 0.0)
    radius = 0.45 * max(case.depth_m, y, 0.5)

    def at(azimuth: float, elevation: float) -> Point:
        turn = math.radians(azimuth - heading)
        reach = radius * (1.0 - elevation / 90.0)
        return y + reach * math.cos(turn), -(x + reach * math.sin(turn))

    shapes = [Shape("sun", tuple(at(*p) for p in day.path))]
    full = [h for h in day.hours if h.elevation_deg > 0.0]
    return shapes, [Note(at(h.azimuth_deg, h.elevation_deg), f"{h.clock} h") for h in full]


def _lamp_notes(case: Case, flat: Flat) -> list[Note]:
    """Lamps by number, as the sheet lists them: their names would lie on one another."""
    return [
        Note(flat(p.x_m, p.y_m, p.z_m), f"lamp {number}")
        for number, p in enumerate(case.plate.lamps, start=1)
    ]


def _path(case: Case, flat: Flat) -> list[Shape]:
    """The way of the entrance pupil over the shot; nothing for a camera that stands still."""
    move = case.shot.move
    if move.still:
        return []
    parts = np.linspace(0.0, 1.0, 13)
    way = move.along(case.stage.camera, parts, case.plate.scale).positions_m
    points = tuple(flat(float(x), float(y), float(z)) for x, y, z in way)
    return [Shape("path", points)] if math.dist(points[0], points[-1]) > 1e-6 else []


def _ways(case: Case) -> list[Shape]:
    """Where the plate's things go while the shot lasts, seen from above: a line with a head."""
    found = []
    scale = case.plate.scale
    for stand_in in case.shot.stand_ins_of(case.plate):
        gone = stand_in.after(case.shot.screen_time_s)
        start, end = ((s.y_m / scale, -s.x_m / scale) for s in (stand_in, gone))
        way = math.dist(start, end)
        if way < 1e-6:
            continue
        angle = math.atan2(end[1] - start[1], end[0] - start[0])
        barb = min(0.08, way / 3.0)
        head = tuple(
            (end[0] - barb * math.cos(angle + turn), end[1] - barb * math.sin(angle + turn))
            for turn in (0.4, -0.4)
        )
        found.append(Shape("way", (start, end, head[0], end, head[1])))
    return found


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


def _camera_from_the_side(
    case: Case, y0: float, h: float, tilt: float, floor: float
) -> list[Shape]:
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
    rows = sorted(set(map(tuple, np.round(points, 5).tolist())))
    if len(rows) < 3:
        return tuple(rows)

    def half(ordered: list[Point]) -> list[Point]:
        out: list[Point] = []
        for x, y in ordered:
            while len(out) > 1:
                (ox, oy), (ax, ay) = out[-2:]
                if (ax - ox) * (y - oy) - (ay - oy) * (x - ox) > 0:
                    break
                out.pop()
            out.append((x, y))
        return out[:-1]

    return tuple(half(rows) + half(rows[::-1]))
