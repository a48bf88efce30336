"""Where the things of a recipe stand before a shot's own camera, and back again."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ...plan.shot import Shot
from ...plan.standins import StandIn
from .model import Thing

#: A standing person of this height fills half the picture at the unit of `Thing.away`.
FIGURE_M = 1.7


def unit_distance_m(shot: Shot) -> float:
    """The distance at which a standing person fills half the picture's height."""
    camera = shot.world.camera(shot.delivery)
    return 2.0 * FIGURE_M * camera.focal_mm / camera.sensor_height_mm


#: Things are put so many times as far away at most, to have them in the picture (judgement).
FARTHEST = 4.0


def into_frame(shot: Shot, things: Sequence[Thing]) -> float:
    """How many times as far away as the recipe says the things of a pass must stand so that the
    middle of the first one that is no backing lies in the picture: a camera that looks over a table
    sees it only from afar. 1 where it does, or where no distance would do."""
    subject = next((t for t in things if t.kind != "ground" and not t.fills), None)
    if subject is None:
        return 1.0
    camera = shot.world.camera(shot.delivery)
    half = math.atan(camera.sensor_height_mm / camera.focal_mm / 2.0)
    tilt = math.radians(shot.world.tilt_deg)
    above = subject.z_m + subject.height_m / 2.0 - camera.position_m[2]
    edge = math.tan(tilt - half) if above < 0.0 else math.tan(tilt + half)
    if edge * above <= 0.0:
        return 1.0
    needed = above / edge / max(subject.away * unit_distance_m(shot), 0.3) * 1.05
    return needed if 1.0 < needed <= FARTHEST else 1.0


def place(shot: Shot, thing: Thing, plate_id: str, number: int, farther: float = 1.0) -> StandIn:
    """A thing of a recipe as a stand-in before this shot's world camera, `farther` times as far
    away as the recipe says."""
    camera = shot.world.camera(shot.delivery)
    distance = max(thing.away * unit_distance_m(shot), 0.3) * farther
    half = distance * camera.sensor_width_mm / camera.focal_mm / 2.0
    aside = thing.across * half
    pan = math.radians(shot.world.pan_deg)
    width, height = thing.width_m, thing.height_m
    if thing.fills:
        up = math.atan(camera.sensor_height_mm / camera.focal_mm / 2.0)
        top = camera.position_m[2] + distance * math.tan(math.radians(shot.world.tilt_deg) + up)
        width, height = 2.2 * half, max(top * 1.1, 1.0)
    return StandIn(
        id=f"{plate_id}:{number}",
        name=thing.name,
        kind=thing.kind,
        x_m=round(aside * math.cos(pan) + distance * math.sin(pan), 2),
        y_m=round(max(distance * math.cos(pan) - aside * math.sin(pan), 0.05), 2),
        z_m=thing.z_m,
        width_m=round(width, 2),
        height_m=round(height, 2),
        depth_m=thing.depth_m,
        heading_deg=0.0,
        plate_id=plate_id,
    )


def lift(shot: Shot, stand_in: StandIn) -> Thing:
    """The inverse of `place`: a stand-in as a thing of a recipe of one's own."""
    camera = shot.world.camera(shot.delivery)
    pan = math.radians(shot.world.pan_deg)
    distance = stand_in.x_m * math.sin(pan) + stand_in.y_m * math.cos(pan)
    aside = stand_in.x_m * math.cos(pan) - stand_in.y_m * math.sin(pan)
    half = max(distance, 1e-6) * camera.sensor_width_mm / camera.focal_mm / 2.0
    return Thing(
        stand_in.name,
        stand_in.kind,
        round(aside / half, 4),
        round(distance / unit_distance_m(shot), 4),
        stand_in.width_m,
        stand_in.height_m,
        stand_in.depth_m,
        stand_in.z_m,
    )
