"""Stand-ins as solids of flat, convex faces: what can be clipped against a picture.

A figure is its outline as it is drawn, with its arms as far out as they reach; a card and a ground
are one face each, a box has six.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..plan.standins import StandIn, hull_points, measured_points

Numbers = NDArray[np.intp]

#: Arms reach out between these parts of a figure's height.
ARMS = (0.35, 0.88)


@dataclass(frozen=True)
class Topology:
    """How the points of a solid hang together: `edges` (e, 2), and each face as a ring of points.
    Edges of a figure are those of its outline."""

    edges: Numbers
    faces: tuple[tuple[int, ...], ...]
    #: The rings, edge by edge (w, 2).
    wedges: Numbers


def _of_rings(*faces: tuple[int, ...]) -> Topology:
    wedges = [pair for ring in faces for pair in zip(ring, (*ring[1:], ring[0]), strict=True)]
    pairs = {(min(pair), max(pair)) for pair in wedges}
    return Topology(np.array(sorted(pairs)), faces, np.array(wedges))


#: Corners as `standins` numbers them: left and right, front and back, bottom and top.
_BOX = _of_rings((0, 1, 3, 2), (4, 5, 7, 6), (0, 1, 5, 4), (2, 3, 7, 6), (0, 2, 6, 4), (1, 3, 7, 5))
_QUAD = _of_rings((0, 1, 3, 2))


@lru_cache(maxsize=32)
def _ring(count: int) -> Topology:
    return _of_rings(tuple(range(count)))


@lru_cache(maxsize=2048)
def solid_of(thing: StandIn) -> tuple[Array, Topology]:
    """The points (n, 3) of a stand-in in world metres as the shot begins, and how they hang
    together."""
    if thing.kind == "box":
        return measured_points(thing).points, _BOX
    if thing.kind != "figure":
        return measured_points(thing).points, _QUAD
    points = hull_points(thing)
    return (points, _ring(len(points))) if not thing.reach_m else _with_arms(thing, points)


def _with_arms(thing: StandIn, points: Array) -> tuple[Array, Topology]:
    """A figure's outline with its arms out."""
    turn = math.radians(thing.heading_deg)
    right = np.array([math.cos(turn), -math.sin(turn)])
    aside = (points[:, :2] - (thing.x_m, thing.y_m)) @ right
    up = points[:, 2] - thing.z_m
    arms = (up >= ARMS[0] * thing.height_m) & (up <= ARMS[1] * thing.height_m)
    aside = np.where(arms, aside + np.sign(aside) * thing.reach_m, aside)
    from scipy.spatial import ConvexHull

    # The head does not stand out between arms held wide: what is left is the hull of it all.
    keep = ConvexHull(np.stack([aside, up], axis=1)).vertices
    flat = np.array((thing.x_m, thing.y_m)) + aside[keep, None] * right
    found = np.concatenate([flat, points[keep, 2:]], axis=1)
    return found, _ring(len(found))


@dataclass(frozen=True, eq=False)
class Mesh:
    """The `solids` of t things laid end to end, as far as is asked for."""

    solids: tuple[tuple[Array, Topology], ...]

    @cached_property
    def points(self) -> Array:
        """The points (n, 3) in world metres as the shot begins."""
        return np.concatenate([points for points, _ in self.solids])

    @cached_property
    def _counts(self) -> list[int]:
        return [len(points) for points, _ in self.solids]

    @cached_property
    def starts(self) -> Numbers:
        """Where each thing's points begin (t,)."""
        return np.cumsum([0, *self._counts[:-1]])

    @cached_property
    def points_of(self) -> Numbers:
        """Which thing each point (n,) belongs to."""
        return self._each(self._counts)

    @cached_property
    def edges(self) -> Numbers:
        """The edges (e, 2), by their points."""
        return np.concatenate([s.edges + at for (_, s), at in self._begun()])

    @cached_property
    def edges_of(self) -> Numbers:
        """Which thing each edge (e,) belongs to."""
        return self._each([len(s.edges) for _, s in self.solids])

    @cached_property
    def wedges(self) -> Numbers:
        """The edges of each face, one way round (w, 2), by their points."""
        return np.concatenate([s.wedges + at for (_, s), at in self._begun()])

    @cached_property
    def sizes(self) -> Numbers:
        """How many wedges each face has."""
        return np.array([len(ring) for _, s in self.solids for ring in s.faces])

    @cached_property
    def faces(self) -> Numbers:
        """Where each face's wedges begin."""
        return np.cumsum([0, *self.sizes[:-1].tolist()])

    @cached_property
    def faces_of(self) -> Numbers:
        """Which thing each face belongs to."""
        return self._each([len(s.faces) for _, s in self.solids])

    def _each(self, counts: list[int]) -> Numbers:
        return np.repeat(np.arange(len(self.solids)), counts)

    def _begun(self) -> Iterator[tuple[tuple[Array, Topology], int]]:
        return zip(self.solids, self.starts, strict=True)


@lru_cache(maxsize=64)
def mesh_of(things: tuple[StandIn, ...]) -> Mesh:
    """The solids of `things`, one at least."""
    return Mesh(tuple(solid_of(thing) for thing in things))
