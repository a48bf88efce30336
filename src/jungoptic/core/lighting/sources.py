"""How lamps shine: every lamp as points with an intensity each, and the light they give anywhere.

Light is added without anything standing in its way; shadows are told apart from it. All in stage
metres and lux. A lamp's number is its light on its axis at one metre; everything else follows from
what shines and how it spreads.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..plan.kit import Lamp
from ..plan.plate import PlacedLamp, Plate
from ..plan.shot import SUN_DEG, Shot
from ..sky.daylight import dimmed_low
from .action import action_point_m
from .faces import disc, even_disc, even_strip
from .faces import strip as strip_of
from .gels import gel_of

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
#: Farther than so many sizes away a lamp that shines like paper is one point, within 1 %: seen from
#: a size s and a distance d its edges give (n + 3) s^2 / 16 d^2 less than its middle. A narrow beam
#: takes longer to come together.
POINT_FROM_SIZES = 6.0


@dataclass(frozen=True, eq=False)
class Source:
    """A lamp ready to shine, the same one for as long as it stands and shines as it does.

    `offsets_m` (k, 3) are its points about `at_m`, `weights` (k,) their shares of `intensity_cd`,
    the intensity on its axis from far away; `power` is n in cos^n of the angle to `axis`, 0 for all
    round. `parallel`: from very far away, `intensity_cd` is then the light it gives face on.
    """

    number: int
    lamp: Lamp
    at_m: Array
    axis: Array
    offsets_m: Array
    weights: Array
    intensity_cd: float
    power: float
    size_m: float
    width_m: float
    parallel: bool = False
    #: A rectangle, not a disc.
    strip: bool = False

    @cached_property
    def face_m(self) -> Array:
        """Points (k, 3) about `at_m`, each for as much of what shines: what may hide some of it."""
        if len(self.offsets_m) == 1 or self.size_m <= 0.0:
            return self.offsets_m[:1] * 0.0
        # The two sides that the lamp's own points spread along, the longer first.
        a, b = np.linalg.svd(self.offsets_m, full_matrices=False)[2][:2]
        flat = even_strip() if self.strip else even_disc()
        face: Array = flat[:, :1] * self.size_m / 2.0 * a + flat[:, 1:] * self.width_m / 2.0 * b
        return face


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
    under_sky = room is None or room.height_m is None
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


def illuminance(
    sources: tuple[Source, ...], points_m: NDArray[Any], normal: Array | None = None
) -> Array:
    """Light of each source at each point, (lamps, points), in lux.

    On a flat receptor that faces along `normal` (3,); None: that faces the middle of each lamp in
    turn. E = I
    cos^n(a) cos(b) / d^2 summed over the points of the lamp: the inverse square and the cosine law
    (any illumination text). Nothing is brighter than at 20 mm.
    """
    points = np.asarray(points_m).reshape(-1, 3)
    if points.dtype != np.float32:
        points = points.astype(np.float64)
    found = np.zeros((len(sources), len(points)))
    for row, source in zip(found, sources, strict=True):
        if source.parallel:
            row += _parallel(source, normal)
            continue
        near = _near(source, points)
        if len(source.weights) == 1 or not near.any():
            row += _from_parts(source, points, ONE, np.ones(1), normal)
            continue
        # From afar one point gives what all of them give.
        if not near.all():
            row[~near] = _from_parts(source, points[~near], ONE, np.ones(1), normal)
        row[near] = _from_parts(source, points[near], source.offsets_m, source.weights, normal)
    return found


ONE = np.zeros((1, 3))


def _from_parts(
    source: Source, points: Array, offsets: Array, weights: Array, normal: Array | None
) -> Array:
    if len(weights) * len(points) <= AT_ONCE:
        return _from_points(source, points, offsets, weights, normal)
    total = np.zeros(len(points), dtype=points.dtype)
    for group in np.array_split(np.arange(len(weights)), _groups(len(weights), len(points))):
        total += _from_points(source, points, offsets[group], weights[group], normal)
    return total


#: Numbers that one step works on: more would leave the processor's own memory.
AT_ONCE = 60_000


def _groups(parts: int, points: int) -> int:
    """Into how many groups the points of a lamp are taken, so that each is done in one step."""
    return max(1, min(parts, -(-parts * points // AT_ONCE)))


def _parallel(source: Source, normal: Array | None) -> float:
    if normal is None:
        return source.intensity_cd
    return source.intensity_cd * max(float(-source.axis @ normal), 0.0)


def _from_points(
    source: Source, points: Array, offsets: Array, weights: Array, normal: Array | None
) -> Array:
    """Light (points,) of some points of a lamp."""
    return _rays(source, points, offsets, weights).on(normal)


class Rays(NamedTuple):
    """Light of some points of a lamp on its way to points, each (parts, points): ways `x`, `y`,
    `z`, one over their lengths, and how much `light` there is face on."""

    source: Source
    points: Array
    x: Array
    y: Array
    z: Array
    inverse: Array
    light: Array

    def on(self, normal: Array | None) -> Array:
        """What of it falls (points,) on receptors: see `illuminance`."""
        kind, light = self.points.dtype.type, self.light
        if normal is not None:
            a, b, c = (kind(v) for v in normal)
            across = (self.x * a + self.y * b + self.z * c) * -self.inverse
            light = light * np.maximum(across, kind(0.0))
        elif len(light) > 1:
            # The receptor faces the middle of the lamp, and other parts of it at an angle.
            to = self.points - self.source.at_m.astype(self.points.dtype)
            to /= np.maximum(np.sqrt(np.einsum("ij,ij->i", to, to)), kind(2e-2))[:, None]
            across = (self.x * to[:, 0] + self.y * to[:, 1] + self.z * to[:, 2]) * self.inverse
            light = light * np.maximum(across, kind(0.0))
        found: Array = light.sum(axis=0)
        return found


def _rays(source: Source, points: Array, offsets: Array, weights: Array) -> Rays:
    kind = points.dtype.type
    x, y, z = (points[:, i] - (source.at_m[i] + offsets[:, i, None]).astype(kind) for i in range(3))
    d2 = np.maximum(x * x + y * y + z * z, kind(4e-4))
    light = (weights[:, None] * source.intensity_cd).astype(kind) / d2
    inverse = 1.0 / np.sqrt(d2)
    if source.power:
        a, b, c = (kind(v) for v in source.axis)
        cosine = np.maximum((x * a + y * b + z * c) * inverse, kind(0.0))
        light *= cosine if source.power == 1.0 else cosine ** kind(source.power)
    return Rays(source, points, x, y, z, inverse, light)


class OneSpot:
    """The same lamps seen from one point (3,), asked about receptors that face several ways: what
    does not depend on these is worked out once."""

    def __init__(self, sources: tuple[Source, ...], at_m: Array) -> None:
        self.sources = sources
        point = np.asarray(at_m, dtype=np.float64).reshape(1, 3)
        self._rays = [None if s.parallel else _rays(s, point, *_parts(s, point)) for s in sources]

    def on(self, normal: Array | None) -> Array:
        """`illuminance` there of each lamp (lamps,)."""
        found = np.zeros(len(self.sources))
        for i, (source, rays) in enumerate(zip(self.sources, self._rays, strict=True)):
            found[i] = _parallel(source, normal) if rays is None else rays.on(normal)[0]
        return found


def _parts(source: Source, point: Array) -> tuple[Array, Array]:
    """The points that a lamp is taken as from one point (1, 3), and their shares."""
    if len(source.weights) == 1 or not _near(source, point)[0]:
        return ONE, np.ones(1)
    return source.offsets_m, source.weights


def _near(source: Source, points: Array) -> NDArray[np.bool_]:
    """From which points (p, 3) a lamp is more than one point."""
    away = points - source.at_m.astype(points.dtype)
    reach = POINT_FROM_SIZES * max(source.size_m, source.width_m)
    reach *= math.sqrt((source.power + 3.0) / 4.0)
    found: NDArray[np.bool_] = np.einsum("ij,ij->i", away, away) <= reach * reach
    return found


def angular_size_deg(source: Source, from_m: Array) -> float:
    """How wide the lamp looks from a point, degrees; a strip counts as its mean side."""
    if source.parallel:
        return SUN_DEG
    distance = max(float(np.linalg.norm(from_m - source.at_m)), 0.02)
    across = math.sqrt(source.size_m * source.width_m)
    return math.degrees(2.0 * math.atan(across / 2.0 / distance))
