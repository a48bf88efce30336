"""How lamps shine: every lamp as points with an intensity each, and the light they give anywhere.

Light is added without anything standing in its way; shadows are told apart from it. All in stage
metres and lux. A lamp's number is its light on its axis at one metre; everything else follows from
what shines and how it spreads.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from ..camera import Array
from ..plan.kit import Lamp
from ..plan.plate import PlacedLamp, Plate
from ..plan.shot import Shot
from ..sky.daylight import dimmed_low
from .action import action_point_m
from .faces import disc
from .faces import strip as strip_of
from .gels import gel_of
from .shine import Source, illuminance

#: Full angle at half intensity where a kind has a beam of its own (common practice).
BEAM_DEG = {"fresnel": 40.0}
#: Shine alike to all sides.
ROUND = frozenset({"bulb", "practical"})
#: A bank's shorter side as a part of its longer, unless told (judgement).
BANK_WIDTH = 0.25
#: What a white card gives back (common practice).
BOUNCE_REFLECTANCE = 0.8
#: What a frame of diffusion lets through (common practice: one to one and a half stops lost).
DIFFUSION_LEFT = 0.4
#: What a frame catches of a lamp that shines to all sides, steradians: it stands half its own size
#: before it (judgement).
CAUGHT_SR = 2.0 * math.pi * (1.0 - math.cos(math.radians(45.0)))


def beam_power(beam_deg: float) -> float:
    """n in cos^n that halves the intensity at half of `beam_deg`: ln 0.5 / ln cos(beam / 2).

    120 degrees is n = 1, a surface that shines like paper (Lambert's cosine law).
    """
    half = min(max(beam_deg, 2.0), 179.0) / 2.0
    power = math.log(0.5) / math.log(math.cos(math.radians(half)))
    return 1.0 if abs(power - 1.0) < 1e-9 else power


def _sides(axis: Array, upright: bool) -> tuple[Array, Array]:
    """Unit vectors along the longer and the shorter side of a lamp that looks along `axis`."""
    x, y, z = (float(v) for v in axis)
    flat = math.hypot(x, y)
    level = np.array([1.0, 0.0, 0.0]) if flat < 1e-9 else np.array([y / flat, -x / flat, 0.0])
    a, b, _ = (float(v) for v in level)
    steep = np.array([-b * z, a * z, b * x - a * y]) * -1.0
    return (steep, level) if upright else (level, steep)


def shining_size(lamp: Lamp, placed: PlacedLamp) -> tuple[float, float]:
    """(longer side, shorter side) of what shines: the lamp, the opening or frame before it."""
    if placed.size_m is not None:
        return placed.size_m, placed.size_m
    width = lamp.width_m
    if width is None:
        width = lamp.size_m * BANK_WIDTH if lamp.kind == "bank" else lamp.size_m
    return lamp.size_m, width


def source_of(
    number: int, lamp: Lamp, placed: PlacedLamp, target: tuple[float, float, float], fine: bool
) -> Source:
    """One lamp ready to shine at its level through its gel; `fine`: for points close to it."""
    return _source_of(number, lamp, placed, placed.aim or target, fine)


@lru_cache(maxsize=512)
def _source_of(
    number: int, lamp: Lamp, placed: PlacedLamp, aim: tuple[float, float, float], fine: bool
) -> Source:
    """Kept: lamps stay where they are while other things are dragged."""
    at = np.asarray(placed.at, dtype=np.float64)
    way = np.asarray(aim, dtype=np.float64) - at
    reach = float(np.linalg.norm(way))
    axis = way / reach if reach > 1e-9 else np.array([0.0, 1.0, 0.0])
    left = placed.level * 2.0 ** -gel_of(placed.gel).loss_stops
    if lamp.kind == "sun":
        one = np.zeros((1, 3)), np.ones(1)
        # A lamp's number is for the sun overhead: lower, it shines through more air.
        lux = left * lamp.lux_at_1m * dimmed_low(_up_deg(-axis))
        return Source(number, lamp, at, axis, *one, lux, 0.0, 0.0, 0.0, parallel=True)
    long_m, short_m = shining_size(lamp, placed)
    own = lamp.size_m
    framed = placed.size_m is not None and placed.size_m > own
    power = 1.0 if framed else _beam_power(lamp)
    strip = lamp.kind == "bank" and placed.size_m is None
    flat, weights = _cells(strip, fine)
    a, b = _sides(axis, placed.upright)
    half_long, half_short = long_m / 2.0, short_m / 2.0
    offsets = flat[:, :1] * half_long * a + flat[:, 1:] * half_short * b
    intensity = left * _on_axis_cd(lamp)
    if placed.size_m is not None:
        intensity *= _behind_frame(lamp) if framed else _opening_share(lamp, placed.size_m)
    return Source(
        number, lamp, at, axis, offsets, weights, intensity, power, long_m, short_m, False, strip
    )


def _up_deg(way: Array) -> float:
    """How far above level a direction points."""
    return math.degrees(math.atan2(float(way[2]), math.hypot(float(way[0]), float(way[1]))))


def _beam_power(lamp: Lamp) -> float:
    """n of a lamp's own beam, 0 for one that shines to all sides."""
    if lamp.kind in ROUND:
        return 0.0
    return beam_power(lamp.beam_deg or BEAM_DEG.get(lamp.kind, 120.0))


def _behind_frame(lamp: Lamp) -> float:
    """Intensity on the axis of a frame of diffusion before a lamp, as a part of the lamp's own.

    The frame shines like paper, pi times its intensity in all, and gives no more than it lets
    through of what falls on it: all of a beam, 2 pi / (n + 1) times the lamp's intensity. The
    narrower the beam, the more its axis loses to the sides.
    """
    power = _beam_power(lamp)
    flux = 2.0 * math.pi / (power + 1.0) if power else CAUGHT_SR
    return DIFFUSION_LEFT * flux / math.pi


def _opening_share(lamp: Lamp, opening_m: float) -> float:
    """Part of what shines that an opening in a card lets be seen: the ratio of the areas."""
    if lamp.size_m <= 0.0:
        return 1.0
    if lamp.kind == "bank":
        width = lamp.width_m if lamp.width_m is not None else lamp.size_m * BANK_WIDTH
        return min(math.pi * opening_m**2 / 4.0 / (lamp.size_m * width), 1.0) if width else 1.0
    return min((opening_m / lamp.size_m) ** 2, 1.0)


def _cells(strip: bool, fine: bool) -> tuple[Array, Array]:
    if strip:
        return strip_of(12, 3) if fine else strip_of(5, 1)
    return disc(4, 10) if fine else disc(1, 6)


def _on_axis_cd(lamp: Lamp) -> float:
    """Intensity on the axis from far away that gives `lux_at_1m` a metre before the lamp."""
    if lamp.size_m <= 0.0 or lamp.kind in ROUND:
        return lamp.lux_at_1m
    strip = lamp.kind == "bank"
    flat, weights = _cells(strip, True)
    width = lamp.width_m
    if width is None:
        width = lamp.size_m * BANK_WIDTH if strip else lamp.size_m
    power = beam_power(lamp.beam_deg or BEAM_DEG.get(lamp.kind, 120.0))
    d2 = 1.0 + (flat[:, 0] * lamp.size_m / 2.0) ** 2 + (flat[:, 1] * width / 2.0) ** 2
    per_candela = float((weights * d2 ** (-(power + 1.0) / 2.0 - 1.0)).sum())
    return lamp.lux_at_1m / per_candela


def sources_of(shot: Shot, plate: Plate, fine: bool = True) -> tuple[Source, ...]:
    """Every lamp on the stage that the kit still has, ready to shine. A bounce gives back 0.8 of
    what the other lamps throw on all of its face: E in the mean, so 0.8 E r^2 candela on its axis.
    In the open air the sun shines on it too; indoors there is none."""
    target = action_point_m(shot, plate) or (0.0, 1.0, 0.5)
    room = shot.kit.room(plate.room_id)
    under_sky = room is None or room.open_air
    found: list[Source] = []
    bounces: list[Source] = []
    for number, placed in enumerate(plate.lamps):
        lamp = shot.kit.lamp(placed.lamp_id)
        if lamp is None or (lamp.kind == "sun" and not under_sky):
            continue
        source = source_of(number, lamp, placed, target, fine)
        (bounces if lamp.kind == "bounce" else found).append(source)
    given: list[Source] = []
    for bounce in bounces:
        radius = bounce.size_m / 2.0
        flat, shares = _cells(False, True)
        a, b = _sides(bounce.axis, True)
        face = bounce.at_m + radius * (flat[:, :1] * a + flat[:, 1:] * b)
        falling = illuminance(tuple(found), face, bounce.axis).sum(axis=0) @ shares
        candela = BOUNCE_REFLECTANCE * float(falling) * radius * radius
        given.append(
            Source(
                bounce.number,
                bounce.lamp,
                bounce.at_m,
                bounce.axis,
                bounce.offsets_m,
                bounce.weights,
                candela * plate.lamps[bounce.number].level,
                1.0,
                bounce.size_m,
                bounce.width_m,
            )
        )
    return tuple(sorted([*found, *given], key=lambda s: s.number))
