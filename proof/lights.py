"""Light, shadows and the screen of a stage, as a meter would read them in the picture."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from jungoptic.core.exposure import stops_between
from jungoptic.core.lighting.action import set_points_m
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.room_light import Walls, given_back
from jungoptic.core.lighting.shine import illuminance
from jungoptic.core.lighting.sources import sources_of
from jungoptic.core.screens.lit import lit_screen, sources
from jungoptic.core.screens.screen_light import on_screen
from jungoptic.core.stage.backing import backing
from jungoptic.core.stage.case import Case
from jungoptic.render.film import linear
from jungoptic.render.lamps import lamps_of
from jungoptic.render.scene import Eye, Pose, Scene, Solid
from jungoptic.render.shapes import quad
from jungoptic.render.staged import eye_of, film_of, target_of, walled

from .looks import WHITE, Array, brightness, look, lux
from .plans import BEAMS
from .reading import CLOTH, EDGE, FALL, GREY, LUX, ROOM, SHADOW, SPOT_LUX, Reading

#: Where 10 and 90 % of an even disc is seen over an edge, as a part of its width.
TEN_TO_NINETY = 0.687
#: Shadows are read of lamps that look narrower than this part of their height above the ground.
NARROW = 0.5
#: Lamps that take more of one another's light than this part are not asked about together.
SHADED = 0.01


def lamps_alone(case: Case, only: int | None = None) -> Scene:
    """The lamps of a stage and nothing that could stand in their way; or one of them."""
    plate = case.plate
    if only is not None:
        plate = replace(plate, lamps=(plate.lamps[only],))
    shining, _ = lamps_of(case.shot.kit, plate, target_of(case), False)
    return Scene((), shining, eye_of(case, 0.0))


def _beamed(case: Case) -> bool:
    return any(p.lamp_id in BEAMS for p in case.plate.lamps)


def meters(plan: int, case: Case) -> Iterator[Reading]:
    """Light at the action on a meter that faces the key, how it exposes a grey card, and how it
    falls off across the set."""
    light = lighting(case)
    if light is None or light.key is None or light.lux <= 0.0:
        return
    at = np.asarray(light.at_m)
    key = next(s for s in sources_of(case.shot, case.plate) if s.number == light.key)
    towards = key.at_m - at
    if np.linalg.norm(towards) < 0.25:
        return
    found = sum(
        lux(lamps_alone(case, only=n), at, towards, seed=plan) for n in range(len(case.plate.lamps))
    )
    yield Reading(SPOT_LUX if _beamed(case) else LUX, plan, light.lux, found)
    yield from _in_a_room(plan, case, at, towards, found)

    told = stops_between(light.lux, case.stage.lux_needed)
    grey = np.full((1, 1, 3), found * 0.18 / math.pi, dtype=np.float32)
    level = float(linear(grey, film_of(case)).mean())
    yield Reading(GREY, plan, told, math.log2(level / 0.18))
    yield from _falls(plan, case, light.key, key.at_m)


def _in_a_room(plan: int, case: Case, at: Array, towards: Array, alone: float) -> Iterator[Reading]:
    """How much brighter the same stage is in a room of a few metres that holds it."""
    dice = random.Random(plan)
    lit = sources_of(case.shot, case.plate)
    if alone <= 0.0 or any(s.lamp.kind == "sun" for s in lit):
        return
    held = [at]
    for source in lit:
        reach = source.size_m / 2.0 + 0.1
        held += [source.at_m - reach, source.at_m + reach]
    low = np.minimum(np.min(held, axis=0), 0.0) - [dice.uniform(0.5, 2.0) for _ in range(3)]
    high = np.maximum(np.max(held, axis=0), 1.0) + [dice.uniform(0.5, 2.0) for _ in range(3)]
    part = dice.choice((0.2, 0.4, 0.5, 0.7))
    corners = [(float(x), float(y), float(z)) for x, y, z in (low, high)]
    walls = Walls(corners[0], corners[1], part)
    facing = towards[None, :] / np.linalg.norm(towards)
    told = float(given_back(walls, lit, at, facing).sum())
    scene = lamps_alone(case)
    if abs(lux(scene, at, towards, seed=plan) / alone - 1.0) > SHADED:
        # Lamps that stand in each other's light: the core adds them up one by one.
        return
    closed = replace(scene, solids=tuple(walled(walls.low, walls.high, part)))
    seen = lux(closed, at, towards, bounces=16, seed=plan)
    yield Reading(ROOM, plan, math.log2(1.0 + told / alone), math.log2(max(seen / alone, 1e-9)))


def _falls(plan: int, case: Case, key: int, lamp_m: Array) -> Iterator[Reading]:
    light = lighting(case)
    points = set_points_m(case.shot, case.plate)
    if light is None or not len(points) or not math.isfinite(light.falloff_stops):
        return
    source = tuple(s for s in sources_of(case.shot, case.plate) if s.number == key)
    given = illuminance(source, points)[0]
    ends = points[int(given.argmax())], points[int(given.argmin())]
    if min(float(np.linalg.norm(p - lamp_m)) for p in ends) < 0.25 or light.falloff_stops > 6.0:
        return
    alone = lamps_alone(case, only=key)
    most, least = (lux(alone, p, lamp_m - p, seed=plan) for p in ends)
    if least > 0.0:
        yield Reading(FALL, plan, light.falloff_stops, math.log2(most / least))


def shadows(plan: int, case: Case) -> Iterator[Reading]:
    """The shadow that the middle of the action throws on the ground: how long, and how soft."""
    light = lighting(case)
    key = None if light is None else light.key_lamp
    if light is None or key is None or key.shadow_m is None or key.penumbra_m is None:
        return
    lamp = case.shot.kit.lamp(case.plate.lamps[key.number].lamp_id)
    at = np.asarray(light.at_m)
    if lamp is None or lamp.kind == "bank" or not 10.0 < key.elevation_deg < 70.0 or at[2] < 0.02:
        return
    if key.size_deg > key.elevation_deg * NARROW:
        # Its upper half gives the ground more light than its lower: half the light is not half the
        # lamp, which is what the core tells.
        return
    source = next(s for s in sources_of(case.shot, case.plate) if s.number == key.number)
    way = at - source.at_m
    flow = np.array([way[0], way[1], 0.0]) / math.hypot(way[0], way[1])
    aside = np.array([-flow[1], flow[0], 0.0])
    foot, up = at * (1, 1, 0), np.array([0.0, 0.0, float(at[2])])
    soft = key.penumbra_m / math.sin(math.radians(key.elevation_deg))
    low = max(key.shadow_m - 2.5 * soft, 0.02 * key.shadow_m)
    high = key.shadow_m + 3.0 * soft + 0.02 * key.shadow_m
    wide = max(key.shadow_m, 1.0) * 4.0
    wall = Solid(
        "wall",
        *quad(
            *(foot - aside * wide, foot + aside * wide),
            *(foot + aside * wide + up, foot - aside * wide + up),
        ),
        (0.0, 0.0, 0.0),
    )
    span = high - low
    floor = quad(
        *(
            foot + flow * x + aside * y
            for x, y in ((-wide, -wide), (wide, -wide), (wide, wide), (-wide, wide))
        )
    )
    ground = Solid("floor", *floor, WHITE)
    pixels = 240
    above = foot + flow * (low + high) / 2.0 + np.array([0.0, 0.0, float(at[2]) + span * 4.0])
    pose = Pose(
        (float(above[0]), float(above[1]), float(above[2])),
        math.degrees(math.atan2(-flow[1], flow[0])),
        -90.0,
    )
    eye = Eye(pose, pose, (span, span / pixels), float(above[2]))
    alone = lamps_alone(case, only=key.number)

    def strip(*solids: Solid) -> Array:
        scene = replace(alone, solids=(ground, *solids), eye=eye)
        row: Array = brightness(look(scene, pixels, 1, 1, 8100, plan))[0]
        return row

    open_light = strip()
    seen = strip(wall) / np.maximum(open_light, 1e-12)
    rising = (
        np.maximum.accumulate(seen) if seen[-1] > seen[0] else np.maximum.accumulate(seen[::-1])
    )
    places = low + (np.arange(pixels) + 0.5) * span / pixels
    if rising[0] > 0.08 or rising[-1] < 0.95:
        return
    half = float(np.interp(0.5, rising, places))
    yield Reading(SHADOW, plan, key.shadow_m, half)
    ten, ninety = (float(np.interp(v, rising, places)) for v in (0.1, 0.9))
    across = (ninety - ten) / TEN_TO_NINETY * math.sin(math.radians(key.elevation_deg))
    yield Reading(EDGE, plan, key.penumbra_m, across)


def cloths(plan: int, case: Case) -> Iterator[Reading]:
    """How evenly the part of the screen behind the action is lit."""
    lit, hung = lit_screen(case), backing(case)
    if lit is None or hung is None or lit.level_lux <= 0.0 or not math.isfinite(lit.spread_stops):
        return
    xs, zs, told = on_screen(
        sources(case), lit.left_m, lit.right_m, lit.bottom_m, lit.top_m, hung.distance_m, 17, 13
    )
    rows = {divmod(int(i), told.shape[1]) for i in (told.argmax(), told.argmin())}
    rows |= {(0, 0), (0, 16), (12, 0), (12, 16), (6, 8)}
    scene = lamps_alone(case)
    found = [
        lux(scene, np.array([xs[c], hung.distance_m, zs[r]]), np.array([0.0, -1.0, 0.0]), seed=plan)
        for r, c in sorted(rows)
    ]
    if min(found) > 0.0 and lit.spread_stops < 6.0:
        yield Reading(CLOTH, plan, lit.spread_stops, math.log2(max(found) / min(found)))
