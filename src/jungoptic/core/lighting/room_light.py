"""Light that floor, walls and ceiling of a room give back to the action.

Every wall is taken in patches that give back a part of what falls on them, alike to all sides, to
each other and to the action, as often as it bounces (radiosity: Goral and others 1984). Things in
the room, which keep some of it, are left out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ..camera import Array
from ..stage.case import Case
from ..stage.rooms import room_fit
from .facing import on_faces
from .shine import Source

#: Patches along each side of a wall.
PATCHES = 8


@dataclass(frozen=True)
class Walls:
    """A room as a box between `low` and `high`, stage metres, and the part of light that all of it
    gives back."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]
    reflectance: float

    @property
    def area_m2(self) -> float:
        """Of floor, walls and ceiling together."""
        x, y, z = np.array(self.high) - np.array(self.low)
        return float(2.0 * (x * y + y * z + z * x))


def walls_of(case: Case) -> Walls | None:
    """The room chosen for a stage as it stands round it; None in the open air, without a room, and
    for cards of before, which leave its light out."""
    if case.shot.old_rules:
        return None
    fit = room_fit(case)
    if fit is None or fit.ceiling_m is None or fit.room.reflectance <= 0.0:
        return None
    low = fit.left_m, fit.rear_m, fit.floor_m
    high = fit.right_m, fit.front_m, fit.ceiling_m
    return Walls(low, high, min(fit.room.reflectance, 0.95))


def given_back(walls: Walls, sources: tuple[Source, ...], at_m: Array, facing: Array) -> Array:
    """Light (s, k) that the room gives back of each of s lamps, on flat receptors at `at_m` (3,)
    that face along `facing` (k, 3), lux; a lamp outside the room gives none."""
    low, high = np.array(walls.low), np.array(walls.high)
    inside = [i for i, s in enumerate(sources) if ((s.at_m >= low) & (s.at_m <= high)).all()]
    found = np.zeros((len(sources), len(facing)))
    if not inside:
        return found
    box = _box(*(round(float(v), 6) for v in high - low), walls.reflectance)
    ways = box.centres + low - at_m
    d2 = np.einsum("ij,ij->i", ways, ways)
    away = np.sqrt(np.maximum(d2, 1e-12))
    leaves = np.maximum(-np.einsum("ij,ij->i", ways, box.inwards) / away, 0.0)
    lands = np.maximum(facing @ ways.T / away, 0.0)
    # A patch as near as its own side is no point any more.
    seen = lands * leaves * box.areas / (math.pi * (d2 + box.areas / 4.0))
    found[inside] = _sent(walls, tuple(sources[i] for i in inside)) @ seen.T
    return found


@lru_cache(maxsize=64)
def _sent(walls: Walls, lit: tuple[Source, ...]) -> Array:
    """What every patch sends out of each lamp (s, n). Kept: neither walls nor lamps go along with
    what is dragged between them."""
    low, high = np.array(walls.low), np.array(walls.high)
    box = _box(*(round(float(v), 6) for v in high - low), walls.reflectance)
    falling = on_faces(lit, box.centres + low, box.inwards, box.areas)
    found: Array = falling @ box.spreads
    return found


class _Box(NamedTuple):
    """A room of one size from its corner on: middles of its patches (n, 3), the ways they look
    (n, 3), areas (n,), and `spreads` (n, n): what each sends out after all bounces for light that
    falls on each."""

    centres: Array
    inwards: Array
    areas: Array
    spreads: Array


@lru_cache(maxsize=64)
def _box(wide: float, long: float, high: float, part: float) -> _Box:
    size = np.array([wide, long, high])
    steps = (np.arange(PATCHES) + 0.5) / PATCHES
    u, v = (g.ravel() for g in np.meshgrid(steps, steps))
    centres, inwards, areas = [], [], []
    for axis in range(3):
        one, two = (a for a in range(3) if a != axis)
        for end, sign in ((0.0, 1.0), (size[axis], -1.0)):
            here = np.zeros((len(u), 3))
            here[:, axis], here[:, one], here[:, two] = end, u * size[one], v * size[two]
            centres.append(here)
            inwards.append(np.tile(sign * np.eye(3)[axis], (len(u), 1)))
            areas.append(np.full(len(u), size[one] * size[two] / len(u)))
    at, ways, area = np.concatenate(centres), np.concatenate(inwards), np.concatenate(areas)
    apart = at[None, :, :] - at[:, None, :]
    d2 = np.einsum("ijk,ijk->ij", apart, apart)
    away = np.sqrt(np.maximum(d2, 1e-12))
    lands = np.maximum(np.einsum("ijk,ik->ij", apart, ways) / away, 0.0)
    leaves = np.maximum(-np.einsum("ijk,jk->ij", apart, ways) / away, 0.0)
    seen = lands * leaves * area[None, :] / (math.pi * (d2 + area[None, :] / 4.0))
    # From inside a closed room every patch sees walls wherever it looks.
    seen /= seen.sum(axis=1, keepdims=True)
    spreads = part * np.linalg.inv(np.eye(len(at)) - part * seen)
    return _Box(at, ways, area, spreads.T.copy())
