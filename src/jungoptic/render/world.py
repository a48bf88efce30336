"""The story's world as its camera would have seen it, were everything real and full-size."""

from __future__ import annotations

import math

import numpy as np

from jungoptic.core.plan.shot import Shot

from .film import CALIBRATION_LUX_S, Film
from .lamps import tint
from .people import solids_of
from .scene import FLOOR, Eye, Pose, Rgb, Scene, Shining, Solid
from .shapes import disc, quad

#: Where the story's key comes from until it is decided: over the shoulder, like an afternoon; and
#: how wide it is then, degrees.
USUAL_FROM_DEG, USUAL_UP_DEG, USUAL_WIDE_DEG, USUAL_RATIO = 135.0, 35.0, 4.0, 3.0
#: The story's film: one lux is a normal exposure.
FILM = Film(1.0, CALIBRATION_LUX_S, 1.0, 6.0, 3840.0, 10, "4:4:4", noise=False)
KEY_FAR_M, LAND_M = 2000.0, 1500.0
LAND: Rgb = (0.25, 0.24, 0.22)
#: The colour of light from the sky (judgement).
SKY = np.array([0.86, 0.98, 1.28])


def _key(shot: Shot, lux: float) -> Shining:
    turn = USUAL_FROM_DEG if shot.key_from_deg is None else shot.key_from_deg
    up = USUAL_UP_DEG if shot.key_elevation_deg is None else shot.key_elevation_deg
    # Told from the lens axis: 90 is from its right, 180 from behind the camera.
    level, rise = math.radians(turn + shot.world.pan_deg), math.radians(max(up, 1.0))
    to = np.array(
        [math.sin(level) * math.cos(rise), math.cos(level) * math.cos(rise), math.sin(rise)]
    )
    half = math.radians((shot.key_angle_deg or USUAL_WIDE_DEG) / 2.0)
    radius = KEY_FAR_M * math.tan(half)
    side = np.cross(to, (0.0, 0.3, 1.0))
    side /= np.linalg.norm(side)
    shape = disc(to * KEY_FAR_M, -to, side * radius, np.cross(side, to) * radius)
    colour = tint(shot.key_temperature_k, 5600.0) if shot.key_temperature_k else np.ones(3)
    r, g, b = (float(v) for v in colour * lux / (math.pi * math.sin(half) ** 2))
    return Shining("key", *shape, (r, g, b))


def filmed_world(shot: Shot, part: float = 0.0) -> Scene:
    """The story at a part (0..1) of the shot: its key and its shadow side as decided, no lens
    blur, the smear of its own shutter."""
    world = shot.world
    frames = max(shot.screen_time_s * shot.delivery.fps, 1.0)
    last = min(part + world.shutter_deg / 360.0 / frames, 1.0)
    begin, gone = shot.time.after(part), shot.time.after(last) - shot.time.after(part)
    solids = []
    for number, thing in enumerate(shot.stand_ins):
        course, way = math.radians(thing.course_deg), thing.speed_m_s * gone
        carried = (way * math.sin(course), way * math.cos(course), 0.0)
        for s in solids_of(thing.after(begin), number):
            solids.append(Solid(s.of, s.vertices, s.faces, s.reflectance, s.smooth, carried))
    far, low = LAND_M, -0.004
    land = quad((-far, -far, low), (far, -far, low), (far, far, low), (-far, far, low))
    solids.append(Solid(FLOOR, *land, LAND))
    ratio = USUAL_RATIO if shot.key_ratio_stops is None else shot.key_ratio_stops
    normal = 2.0**shot.key_level_stops
    fill = normal / 2.0**ratio
    poses = []
    start = world.camera(shot.delivery)
    for at in (part, last):
        camera = shot.move.moved(start, at)
        poses.append(Pose(camera.position_m, camera.pan_deg, camera.tilt_deg, camera.roll_deg))
    # A zoom is made in post: nothing of it smears while the shutter is open.
    across = world.sensor_width_mm / shot.move.zoomed(part)
    sensor = (across, across / shot.delivery.aspect)
    r, g, b = (float(v) for v in SKY * fill / math.pi)
    return Scene(
        tuple(solids),
        (_key(shot, normal - fill),),
        Eye(poses[0], poses[1], sensor, world.focal_mm),
        (r, g, b),
    )
