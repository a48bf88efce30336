"""Where lamps may stand on a stage, which are owned and free, and what each gives there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..camera import Array
from ..light import mired_shift
from ..lighting.gels import gel_for, kelvin
from ..lighting.lamps import there
from ..lighting.owned import room_box
from ..lighting.shine import illuminance
from ..lighting.sources import sources_of
from ..plan.kit import Lamp
from ..plan.plate import DAYLIGHT_K, PlacedLamp
from ..stage.case import Case


def inside(lamp: PlacedLamp, case: Case) -> bool:
    """Whether a lamp stands in the room of a case, clear of its walls."""
    box = room_box(case)
    return all(low <= v <= high for v, (low, high) in zip(lamp.at, box, strict=True))


def owned(case: Case) -> list[Lamp]:
    """The lamps there are on the plate's day; the sun only in the open air, no bounce."""
    open_air = (room := case.shot.kit.room(case.plate.room_id)) is None or room.open_air
    return [
        lamp
        for lamp in case.shot.kit.lamps
        if there(lamp, case.plate) and lamp.kind != "bounce" and (lamp.kind != "sun" or open_air)
    ]


def clear_of(spot: PlacedLamp, points: Array) -> bool:
    """Not inside what it lights."""
    if not len(points):
        return True
    low, high = points.min(axis=0) - 0.1, points.max(axis=0) + 0.1
    return not all(a <= v <= b for v, a, b in zip(spot.at, low, high, strict=True))


def gel_of_story(case: Case, lamp: Lamp) -> str:
    """The gel that brings a lamp nearest to the colour of the story's key."""
    if case.shot.key_temperature_k is None:
        return ""
    story = mired_shift(DAYLIGHT_K, case.shot.key_temperature_k)
    wanted = kelvin(1e6 / case.plate.white_k + story)
    return gel_for(lamp.temperature_k, wanted).key


def left_of(case: Case, used: tuple[PlacedLamp, ...]) -> list[Lamp]:
    """Lamps that are not all in use."""
    return [
        lamp
        for lamp in owned(case)
        if lamp.count > sum(p.lamp_id == lamp.id for p in used) and lamp.kind != "sun"
    ]


def lux_of(case: Case, at: tuple[float, float, float], lamp: PlacedLamp) -> float:
    """What one lamp alone gives `at` a point that faces it."""
    plate = replace(case.plate, lamps=(lamp,))
    return float(illuminance(sources_of(case.shot, plate), np.array([at])).sum())
