"""Lamps as surfaces that shine: as large, bright and coloured as the kit and the stage say."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jungoptic.core.lighting.gels import gel_of, gelled_k
from jungoptic.core.plan.kit import Kit, Lamp
from jungoptic.core.plan.plate import PlacedLamp, Plate

from .scene import LAMP, Array, Rgb, Shining, Solid
from .shapes import ball, disc, quad

#: How wide the sun is, degrees (mean; any almanac), and how far away its disc is put, metres.
SUN_DEG, SUN_FAR_M = 0.533, 300.0
#: A bulb is at least this large, metres: from a point no light can be followed.
LEAST_M = 0.004
#: Full angle at half intensity of a lamp with a beam of its own, and of one that shines like paper
#: (common practice; Lambert's cosine law).
FRESNEL_DEG, PAPER_DEG = 40.0, 120.0
#: What a frame of diffusion lets through, and a white card gives back (common practice).
DIFFUSION_LEFT, CARD_WHITE = 0.4, 0.8
#: Primaries of BT.709 as wavelengths near enough for the tint of a lamp, and their brightness.
PRIMARIES_M, LUMA = np.array([600e-9, 550e-9, 450e-9]), np.array([0.2126, 0.7152, 0.0722])


def tint(kelvin: float, white_k: float) -> Array:
    """The colour (3,) of a lamp of `kelvin` to a camera balanced to `white_k`, its brightness 1.
    Source: Planck's law at three wavelengths (an approximation: lamps are no black bodies)."""

    def planck(t: float) -> Array:
        found: Array = 1.0 / (PRIMARIES_M**5 * (np.exp(1.4388e-2 / PRIMARIES_M / t) - 1.0))
        return found

    colour = planck(kelvin) / planck(white_k)
    found: Array = colour / (colour @ LUMA)
    return found


def _rgb(colour: Array, brightness: float) -> Rgb:
    r, g, b = (float(v) for v in colour * brightness)
    return r, g, b


@dataclass(frozen=True)
class Facing:
    """A lamp where it stands: the middle of what shines, which way it looks, and the two half sides
    of it, the longer first."""

    at: Array
    axis: Array
    along: Array
    across: Array

    @property
    def area_m2(self) -> float:
        """Of the ellipse with those half sides."""
        return math.pi * float(np.linalg.norm(self.along) * np.linalg.norm(self.across))


def facing(placed: PlacedLamp, target: Array, sides_m: tuple[float, float]) -> Facing:
    """How a lamp stands that is aimed at `target` unless it is told otherwise."""
    at = np.asarray(placed.at, dtype=np.float64)
    way = (np.asarray(placed.aim, dtype=np.float64) if placed.aim else target) - at
    reach = float(np.linalg.norm(way))
    axis = way / reach if reach > 1e-9 else np.array([0.0, 1.0, 0.0])
    level = np.cross(axis, (0.0, 0.0, 1.0))
    length = float(np.linalg.norm(level))
    level = level / length if length > 1e-9 else np.array([1.0, 0.0, 0.0])
    steep = np.cross(level, axis)
    long, short = (steep, level) if placed.upright else (level, steep)
    return Facing(at, axis, long * sides_m[0] / 2.0, short * sides_m[1] / 2.0)


def _power(lamp: Lamp) -> float:
    """n in cos^n that halves the lamp's intensity at half its beam."""
    beam = lamp.beam_deg or (FRESNEL_DEG if lamp.kind == "fresnel" else PAPER_DEG)
    return math.log(0.5) / math.log(math.cos(math.radians(min(max(beam, 2.0), 179.0) / 2.0)))


def _sides(lamp: Lamp) -> tuple[float, float]:
    narrow = lamp.size_m * 0.25 if lamp.kind == "bank" else lamp.size_m
    return lamp.size_m, narrow if lamp.width_m is None else lamp.width_m


def _radiance(lamp: Lamp) -> float:
    """On its axis, so that the light a metre before the lamp is what the kit says: the sum over
    its face of L cos^(n-1) cos cos / d^2."""
    long, short = (max(side, LEAST_M) for side in _sides(lamp))
    steps = (np.arange(64) + 0.5) / 64.0 * 2.0 - 1.0
    x, y = np.meshgrid(steps, steps)
    inside = np.ones_like(x, dtype=bool) if lamp.kind == "bank" else x * x + y * y <= 1.0
    square = 1.0 + (x * long / 2.0) ** 2 + (y * short / 2.0) ** 2
    share = (square ** (-(_power(lamp) + 3.0) / 2.0))[inside].mean()
    area = long * short if lamp.kind == "bank" else math.pi * long * short / 4.0
    return lamp.lux_at_1m / float(share * area)


def _sun(lamp: Lamp, stands: Facing, target: Array, left: float, colour: Array) -> Shining:
    """The sun: a disc half a degree wide, weaker the more air it shines through (IES RP-21 with
    Kasten and Young's air mass, from memory)."""
    up = math.degrees(math.asin(max(min(-float(stands.axis[2]), 1.0), -1.0)))
    mass = 1.0 / (math.sin(math.radians(up)) + 0.50572 * (max(up, 0.0) + 6.07995) ** -1.6364)
    lux = left * lamp.lux_at_1m * math.exp(-0.21 * (mass - 1.0)) if up > 0.0 else 0.0
    half = math.radians(SUN_DEG / 2.0)
    radius = SUN_FAR_M * math.tan(half)
    side = np.cross(stands.axis, (0.0, 0.3, 1.0))
    side /= np.linalg.norm(side)
    shape = disc(
        target - stands.axis * SUN_FAR_M,
        stands.axis,
        side * radius,
        np.cross(side, stands.axis) * radius,
    )
    return Shining(LAMP, *shape, _rgb(colour, lux / (math.pi * math.sin(half) ** 2)))


def _shining(lamp: Lamp, placed: PlacedLamp, target: Array, white_k: float) -> Shining:
    colour = tint(gelled_k(lamp.temperature_k, placed.gel), white_k)
    left = placed.level * 2.0 ** -gel_of(placed.gel).loss_stops
    if lamp.kind == "sun":
        return _sun(lamp, facing(placed, target, (1.0, 1.0)), target, left, colour)
    opening = placed.size_m
    if lamp.kind in ("bulb", "practical") and (opening is None or opening <= lamp.size_m):
        radius = max(lamp.size_m / 2.0, LEAST_M)
        # An opening in a card before a bulb hides as much of it as its area says.
        seen = 1.0 if opening is None else (opening / max(lamp.size_m, LEAST_M)) ** 2
        shape = ball(placed.at, (radius,) * 3)
        bright = left * seen * lamp.lux_at_1m / (math.pi * radius * radius)
        return Shining(LAMP, *shape, _rgb(colour, bright), radius_m=radius)
    if opening is not None and opening > lamp.size_m:
        return _framed(lamp, placed, target, opening, left, colour)
    sides = _sides(lamp) if opening is None else (opening, opening)
    stands = facing(placed, target, (max(sides[0], LEAST_M), max(sides[1], LEAST_M)))
    if lamp.kind == "bank" and opening is None:
        a, b = stands.along, stands.across
        corners = [stands.at + x * a + y * b for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        flat = np.cross(corners[1] - corners[0], corners[2] - corners[0]) @ stands.axis
        shape = quad(*(corners if flat > 0.0 else corners[::-1]))
    else:
        shape = disc(stands.at, stands.axis, stands.along, stands.across)
    return Shining(LAMP, *shape, _rgb(colour, left * _radiance(lamp)), power=_power(lamp) - 1.0)


def _framed(
    lamp: Lamp, placed: PlacedLamp, target: Array, size_m: float, left: float, colour: Array
) -> Shining:
    """A frame of diffusion before a lamp shines like paper, with what it lets through of the light
    that falls on it: all of a beam, or a cone of 90 degrees from a bulb half its own size behind
    it (judgement)."""
    stands = facing(placed, target, (size_m, size_m))
    if lamp.kind in ("bulb", "practical"):
        flux = lamp.lux_at_1m * 2.0 * math.pi * (1.0 - math.cos(math.radians(45.0)))
    else:
        long, short = _sides(lamp)
        area = long * short if lamp.kind == "bank" else math.pi * long * short / 4.0
        candela = _radiance(lamp) * max(area, math.pi * LEAST_M**2 / 4.0)
        flux = 2.0 * math.pi / (_power(lamp) + 1.0) * candela
    bright = left * DIFFUSION_LEFT * flux / (math.pi * stands.area_m2)
    shape = disc(stands.at, stands.axis, stands.along, stands.across)
    return Shining(LAMP, *shape, _rgb(colour, bright))


def _card(lamp: Lamp, placed: PlacedLamp, target: Array) -> Solid:
    """A bounce: a white card that gives back what falls on it."""
    side = max(placed.size_m or lamp.size_m, LEAST_M)
    stands = facing(placed, target, (side, side))
    shape = disc(stands.at, stands.axis, stands.along, stands.across)
    white = CARD_WHITE * placed.level
    return Solid(LAMP, *shape, (white, white, white))


def lamps_of(
    kit: Kit, plate: Plate, target_m: Array, under_sky: bool
) -> tuple[tuple[Shining, ...], tuple[Solid, ...]]:
    """What shines on a stage, and the white cards there; the sun only in the open air."""
    shining, cards = [], []
    for placed in plate.lamps:
        lamp = kit.lamp(placed.lamp_id)
        if lamp is None or (lamp.kind == "sun" and not under_sky):
            continue
        if lamp.kind == "bounce":
            cards.append(_card(lamp, placed, target_m))
        elif placed.level > 0.0 and lamp.lux_at_1m > 0.0:
            shining.append(_shining(lamp, placed, target_m, plate.white_k))
    return tuple(shining), tuple(cards)
