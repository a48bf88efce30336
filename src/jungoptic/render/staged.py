"""A plate as its stage will be filmed: what the sheet says, put up as solids, lamps and a lens."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from jungoptic.core.lighting.action import action_point_m
from jungoptic.core.plan.plate import ScreenColour
from jungoptic.core.stage.backing import backing
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.rooms import room_fit

from .film import Film
from .lamps import LUMA, lamps_of
from .people import solids_of
from .scene import CLOTH, FLOOR, ROOM, TABLE, Array, Eye, Pose, Rgb, Rolling, Scene, Solid
from .shapes import quad

#: How cloths and paints give light back, by colour (judgement: they differ).
CLOTHS: dict[ScreenColour, Rgb] = {
    "green": (0.06, 0.30, 0.09),
    "blue": (0.03, 0.06, 0.30),
    "black": (0.03, 0.03, 0.03),
    "white": (0.80, 0.80, 0.80),
    "red": (0.30, 0.04, 0.04),
    "sky": (0.50, 0.60, 0.70),
}
BOARDS: Rgb = (0.18, 0.17, 0.16)
TOP: Rgb = (0.30, 0.27, 0.23)
GRASS: Rgb = (0.20, 0.20, 0.17)
#: A table stands out this far around what is on it, metres, and lies this much under the set.
ROUND_M, UNDER_M = 0.15, 0.002
#: How far open land goes.
LAND_M = 60.0


def film_of(case: Case, part: float = 0.0) -> Film:
    """How the plate is recorded: stop, time and filters of the sheet; at a part (0..1) of the shot,
    which is told finest where it is widest."""
    plate, stage, lens, mode = case.plate, case.stage, case.choice.lens, case.choice.mode
    near = stage.focal_mm / 1000.0
    # The picture grows as the lens is moved out for something near, and dims with it.
    grows = near / (stage.focus_m - near / lens.pupil_ratio) if math.isfinite(stage.focus_m) else 0
    stop = plate.f_number * (1.0 + grows / lens.pupil_ratio) * lens.t_over_f
    return Film(
        stop=stop * 2.0 ** (plate.nd_stops / 2.0),
        exposure_s=plate.shutter_deg / 360.0 / stage.capture_fps,
        iso=plate.iso,
        site_um=mode.sensor_width_mm / mode.width_px * 1000.0,
        across_px=mode.width_px * min(stage.crop_across, 1.0) / case.shot.move.closer(part),
        bits=mode.bit_depth,
        samples=mode.subsampling,
    )


def open_part(case: Case) -> float:
    """The part of the screen time for which the shutter is open on one frame. A thing that is
    animated or photographed stands still."""
    if case.plate.kind in ("puppet", "still"):
        return 0.0
    frames = max(case.shot.screen_time_s * case.shot.delivery.fps, 1.0)
    # Filmed slower than its motion asks for, more of it goes on while the shutter is open.
    asked = case.stage.needed_fps / case.stage.capture_fps
    return case.plate.shutter_deg / 360.0 * asked / frames


def rolling_of(case: Case, part: float) -> Rolling | None:
    """How the sensor is read at a part (0..1) of the shot; None where that is not known, or
    nothing of it shows. The middle of the picture is open when the whole would be."""
    plate, readout_ms = case.plate, case.choice.mode.readout_ms
    if readout_ms is None or open_part(case) == 0.0:
        return None
    exposure_s = plate.shutter_deg / 360.0 / case.stage.capture_fps
    lies = plate.on_side != ""
    # Of the rows of the sensor so many belong to the picture.
    used = (case.stage.crop_across if lies else case.stage.crop_down) / case.shot.move.closer(part)
    half = readout_ms / 1000.0 * used / exposure_s / 2.0
    # With its right side down the sensor's rows are read from the right of the picture on.
    first = half if plate.on_side == "right" else -half
    return Rolling(first, -first, upright=lies)


def eye_of(case: Case, part: float, pinhole: bool = False) -> Eye:
    """The camera at a part (0..1) of the shot, with the lens as it is set on the sheet."""
    stage, plate, lens, mode = case.stage, case.plate, case.choice.lens, case.choice.mode
    last = min(part + open_part(case), 1.0)
    poses = []
    for at in (part, last):
        camera = case.shot.move.moved(stage.camera, at, plate.scale)
        poses.append(Pose(camera.position_m, camera.pan_deg, camera.tilt_deg, camera.roll_deg))
    focal = stage.focal_mm / 1000.0
    far = math.isfinite(stage.focus_m)
    # 1 / f = 1 / picture + 1 / (P u): the picture of what is in focus lies that far behind.
    picture = 1.0 / (1.0 / focal - (1.0 / (lens.pupil_ratio * stage.focus_m) if far else 0.0))
    across = mode.sensor_width_mm * stage.crop_across / case.shot.move.closer(part)
    return Eye(
        pose=poses[0],
        closing=poses[1],
        sensor_mm=(across, across / case.shot.delivery.aspect),
        picture_mm=picture * 1000.0,
        pupil_m=0.0 if pinhole else focal / plate.f_number / 2.0,
        sharp_m=stage.focus_m if far else 1e4,
    )


def on_sensor(case: Case, width: int, height: int, part: float = 0.0) -> NDArray[np.float32]:
    """Which pixels (h, w) of the delivered picture the sensor has at all, 1 or 0, at a part (0..1)
    of the shot: a lens that is too long for its view throws the rest beside it."""
    closer = case.shot.move.closer(part)
    wide, high = (c / closer for c in (case.stage.crop_across, case.stage.crop_down))
    across = np.abs(np.arange(width) + 0.5 - width / 2.0) <= width / 2.0 / wide
    down = np.abs(np.arange(height) + 0.5 - height / 2.0) <= height / 2.0 / high
    found: NDArray[np.float32] = np.outer(down, across).astype(np.float32)
    return found


def things_of(case: Case, part: float) -> list[Solid]:
    """What the plate films, where it stands then, in stage metres."""
    plate, shot = case.plate, case.shot
    begin = shot.time.after(part)
    gone = shot.time.after(min(part + open_part(case), 1.0)) - begin
    found = []
    for number, thing in enumerate(shot.stand_ins):
        if thing.plate_id != plate.id:
            continue
        course = math.radians(thing.course_deg)
        way = thing.speed_m_s * gone / plate.scale
        for solid in solids_of(thing.after(begin), number):
            found.append(
                Solid(
                    solid.of,
                    plate.on_stage(solid.vertices),
                    solid.faces,
                    solid.reflectance,
                    solid.smooth,
                    (way * math.sin(course), way * math.cos(course), 0.0),
                )
            )
    return found


def room_of(case: Case) -> list[Solid]:
    """Floor, walls and ceiling of the room that the sheet names; open land without one."""
    fit = room_fit(case)
    floor = -(case.plate.table_m or 0.0) - UNDER_M
    if fit is None or fit.ceiling_m is None:
        far = LAND_M
        land = quad((-far, -far, floor), (far, -far, floor), (far, far, floor), (-far, far, floor))
        return [Solid(FLOOR, *land, BOARDS if fit is None else GRASS)]
    low = fit.left_m, fit.rear_m, floor
    return walled(low, (fit.right_m, fit.front_m, fit.ceiling_m), fit.room.reflectance)


def walled(
    low_m: tuple[float, float, float], high_m: tuple[float, float, float], given_back: float
) -> list[Solid]:
    """A room between two corners, all of it giving back that part of the light."""
    walls: Rgb = (given_back, given_back, given_back)
    (left, rear, floor), (right, front, top) = low_m, high_m
    low = [(left, rear), (right, rear), (right, front), (left, front)]
    found = [
        Solid(FLOOR, *quad(*((x, y, floor) for x, y in low)), _toned(BOARDS, given_back)),
        Solid(ROOM, *quad(*((x, y, top) for x, y in reversed(low))), walls),
    ]
    for (ax, ay), (bx, by) in zip(low, [*low[1:], low[0]], strict=True):
        wall = quad((bx, by, floor), (ax, ay, floor), (ax, ay, top), (bx, by, top))
        found.append(Solid(ROOM, *wall, walls))
    return found


def _toned(colour: Rgb, part: float) -> Rgb:
    """A colour that gives back that part of the light."""
    grow = part / float(np.dot(colour, LUMA))
    red, green, blue = (min(v * grow, 0.98) for v in colour)
    return red, green, blue


def _table(case: Case, things: list[Solid]) -> list[Solid]:
    if not case.plate.table_m:
        return []
    points = np.concatenate([s.vertices for s in things]) if things else np.zeros((1, 3))
    low, high = points.min(axis=0) - ROUND_M, points.max(axis=0) + ROUND_M
    z = -UNDER_M / 2.0
    top = quad(
        *((low[0], low[1], z), (high[0], low[1], z), (high[0], high[1], z), (low[0], high[1], z))
    )
    return [Solid(TABLE, *top, TOP)]


def _cloth(case: Case) -> list[Solid]:
    hung, plate = backing(case), case.plate
    if hung is None or plate.screen_width_m <= 0.0 or plate.screen_height_m <= 0.0:
        return []
    left = hung.centre_x_m - plate.screen_width_m / 2.0
    right, y = left + plate.screen_width_m, hung.distance_m
    foot, top = plate.screen_foot_m, plate.screen_top_m
    tone = CLOTHS[plate.screen_colour]
    found = [
        Solid(
            CLOTH, *quad((left, y, foot), (right, y, foot), (right, y, top), (left, y, top)), tone
        )
    ]
    if plate.screen_sweep_m > 0.0:
        near = y - plate.screen_sweep_m
        flat = quad((left, near, 0), (right, near, 0), (right, y, 0), (left, y, 0))
        found.append(Solid(CLOTH, *flat, tone))
    return found


def target_of(case: Case) -> Array:
    """Where lamps are aimed that are not told otherwise: at the action."""
    return np.asarray(action_point_m(case.shot, case.plate) or (0.0, 1.0, 0.5), dtype=np.float64)


def staged(case: Case, part: float = 0.0, *, room: bool = True, pinhole: bool = False) -> Scene:
    """The stage of a plate at a part (0..1) of the shot. Where no lamp shines, even light from
    everywhere lets it be seen at a normal exposure."""
    kit, plate = case.shot.kit, case.plate
    place = kit.room(plate.room_id)
    open_air = place is None or place.height_m is None
    shining, cards = lamps_of(kit, plate, target_of(case), open_air)
    things = things_of(case, part)
    around = room_of(case) if room and shining else []
    sky: Rgb | None = None
    if not shining:
        even = film_of(case).normal_lux / math.pi
        sky = (even, even, even)
    elif place is not None and open_air and any(s.vertices[0, 2] > 100.0 for s in shining):
        # A clear sky on level ground (IES RP-21, from memory), the sun some way up.
        even = (800.0 + 15_500.0 * 0.7) / math.pi
        sky = (even * 0.86, even * 0.98, even * 1.28)
    solids = (*things, *_table(case, things), *_cloth(case), *cards, *around)
    return Scene(solids, shining, eye_of(case, part, pinhole), sky, rolling_of(case, part))
