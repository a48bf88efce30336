"""Lamps, shadows and the sun on a stage drawing."""

from __future__ import annotations

import math

import numpy as np

from ...impossible import Impossible
from ...lighting.action import action_point_m
from ...lighting.sources import shining_size
from ...lighting.stage_shadows import stage_shadows
from ...plan.kit import Lamp
from ...plan.plate import PlacedLamp
from ...sky.day import sun_day
from ...sky.windows import heading_on
from ...slices import slices_of
from ...stage.case import Case
from ...words.drawing import Note, Point, Shape
from .common import Flat, hulls_from_above


def lamp_shapes(case: Case, flat: Flat) -> list[Shape]:
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


def shadow_shapes(case: Case) -> list[Shape]:
    """The key's shadows on the ground: the soft part from the lamp's edges, the whole from its
    middle, at true size."""
    shadows = stage_shadows(case)
    if not shadows:
        return []
    points = [of for shadow in shadows for of in (shadow.reach, shadow.middle.points)]
    hulls = hulls_from_above(np.concatenate(points), slices_of(points))
    return [Shape("shadow" if i % 2 else "penumbra", hull, True) for i, hull in enumerate(hulls)]


def sun_path_shapes(case: Case) -> tuple[list[Shape], list[Note]]:
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
    except Impossible:
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


def lamp_notes(case: Case, flat: Flat) -> list[Note]:
    """Lamps by number, as the sheet lists them: their names would lie on one another."""
    return [
        Note(flat(p.x_m, p.y_m, p.z_m), f"lamp {number}")
        for number, p in enumerate(case.plate.lamps, start=1)
    ]
