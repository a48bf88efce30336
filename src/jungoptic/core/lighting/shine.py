"""The light of lamps that are ready to shine, anywhere: see `sources` for what makes them so.

All in stage metres and lux. Light is added without anything standing in its way; shadows are told
apart from it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..plan.kit import Lamp
from ..plan.shot import SUN_DEG
from .faces import even_disc, even_strip

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
        return _rays(source, points, offsets, weights).on(normal)
    total = np.zeros(len(points), dtype=points.dtype)
    for group in np.array_split(np.arange(len(weights)), _groups(len(weights), len(points))):
        total += _rays(source, points, offsets[group], weights[group]).on(normal)
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
