"""What of a plate's things faces the camera, in parts small enough to have one tone each. Stage
metres."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ...camera import Array, Camera
from ...plan.standins import StandIn
from ...stage.case import Case
from ...stage.solids import solid_of

#: What things give back of the light on them (judgement): people are mostly cloth.
GIVES = {"figure": 0.28, "box": 0.35, "card": 0.4, "ground": 0.2}
#: A floor that nobody has drawn.
FLOOR = 0.18
#: A ground is shaded in so many parts along it; a floor ends at these world distances.
CELLS = 5
FLOOR_M = tuple(np.geomspace(0.5, 400.0, 15))
UP = np.array([0.0, 0.0, 1.0])


@dataclass(frozen=True)
class Face:
    """A flat part: its corners `ring` (n, 3), closed, its middle, the way it looks, and what it
    gives back of the light on it. No `thing`: the floor."""

    thing: StandIn | None
    ring: Array
    at: Array
    normal: Array
    gives: float


def faces_of(case: Case, thing: StandIn, camera: Camera) -> list[Face]:
    """The faces of a box that the camera sees, a card, or the parts of a ground."""
    corners, topology = solid_of(thing)
    points = case.plate.on_stage(corners)
    gives, eye = GIVES[thing.kind], np.asarray(camera.position_m)
    if thing.kind == "ground":
        return _ground(thing, points, gives)
    # Boxes and cards have faces of four corners each: (f, 4, 3).
    rings = points[[list(ring) for ring in topology.faces]]
    at = rings.mean(axis=1)
    normals = _across(rings[:, 1] - rings[:, 0], rings[:, 2] - rings[:, 1])
    long = np.sqrt((normals * normals).sum(axis=1))
    towards = eye - at
    outwards = at - points.mean(axis=0) if thing.kind == "box" else towards
    turn = np.where((normals * outwards).sum(axis=1) < 0.0, -1.0, 1.0)
    normals = normals * (turn / np.maximum(long, 1e-12))[:, None]
    seen = ((normals * towards).sum(axis=1) > 0.0) & (long > 1e-12)
    closed = np.concatenate([rings, rings[:, :1]], axis=1)
    return [Face(thing, closed[i], at[i], normals[i], gives) for i in np.flatnonzero(seen)]


def _across(a: Array, b: Array) -> Array:
    """Cross products (f, 3): NumPy's own costs ten times as much for so few."""
    found: Array = a[:, [1, 2, 0]] * b[:, [2, 0, 1]] - a[:, [2, 0, 1]] * b[:, [1, 2, 0]]
    return found


def _ground(thing: StandIn, points: Array, gives: float) -> list[Face]:
    """A ground patch, corners as `standins` numbers them, cut across into parts."""
    left, right, far_left, far_right = points[:4]
    cuts = np.linspace(0.0, 1.0, CELLS + 1)
    found = []
    for a, b in pairwise(cuts):
        ring = np.array(
            [
                left + (far_left - left) * a,
                right + (far_right - right) * a,
                right + (far_right - right) * b,
                left + (far_left - left) * b,
            ]
        )
        found.append(Face(thing, np.concatenate([ring, ring[:1]]), ring.mean(axis=0), UP, gives))
    return found


def floor_of(case: Case, camera: Camera) -> list[Face]:
    """The ground of a plate that is kept whole, out to where nobody can tell."""
    scale, pan = case.plate.scale, math.radians(camera.pan_deg)
    ahead = np.array([math.sin(pan), math.cos(pan), 0.0])
    right = np.array([math.cos(pan), -math.sin(pan), 0.0])
    eye = np.asarray(camera.position_m) * (1.0, 1.0, 0.0)
    if camera.position_m[2] <= 0.0:
        return []
    found = []
    for near, far in pairwise(FLOOR_M):
        a, b = near / scale, far / scale
        ring = np.array(
            [
                eye + d * ahead + s * 3.0 * d * right
                for d, s in ((a, -1), (a, 1), (b, 1), (b, -1), (a, -1))
            ]
        )
        at = eye + math.sqrt(a * b) * ahead
        found.append(Face(None, ring, at, UP, FLOOR))
    return found
