"""Solids clipped against what a camera shows: which part of each is in the picture.

Everything a rule asks of a clipped solid (nearest, farthest, outermost) lies at one of a few spots:
a point of it that is in the picture, a place where an edge runs into or out of it, or one where a
corner of the picture looks through a face. Source: clipping of edges by planes (Cyrus and Beck
1978; Liang and Barsky 1984); a ray meets a convex face where it lies on one side of all the planes
through the eye and an edge (any text on computational geometry, e.g. O'Rourke).

Arrays run over points first and frames last: n points, t things, f frames.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from .solids import Mesh, Numbers

Flags = NDArray[np.bool_]
Codes = NDArray[np.uint8]

#: Nothing nearer to the entrance pupil than this can be in a picture, world metres.
NEAREST_M = 0.01


@dataclass(frozen=True)
class Cuts:
    """Where the picture cuts things: spots (p, 3) in the axes of the camera at their `frames` (p,),
    and the `things` (p,) they belong to."""

    at: Array
    things: Numbers
    frames: Numbers

    @staticmethod
    def joined(parts: list[Cuts]) -> Cuts:
        """All in one list."""
        if not parts:
            none = np.empty(0, dtype=np.intp)
            return Cuts(np.empty((0, 3)), none, none)
        return Cuts(
            np.concatenate([c.at for c in parts]),
            np.concatenate([c.things for c in parts]),
            np.concatenate([c.frames for c in parts]),
        )


@dataclass(frozen=True)
class View:
    """What a camera takes in, as slopes from its axis to each side and up and down: at all frames
    alike, or at each (f,)."""

    across: float | Array
    down: float | Array

    def at(self, frames: Numbers) -> View:
        """The view at some of the frames."""
        return View(*(v if isinstance(v, float) else v[frames] for v in (self.across, self.down)))

    def inside(self, at: Array) -> Array:
        """How far points `at` (n, 3, f) lie inside each of the five planes of the view (5, n, f):
        left, right, top, bottom, too near. Below zero outside."""
        x, y, z = at[:, 0], at[:, 1], at[:, 2]
        wide, high = z * self.across, z * self.down
        found = np.empty((5, *z.shape))
        np.add(wide, x, out=found[0])
        np.subtract(wide, x, out=found[1])
        np.add(high, y, out=found[2])
        np.subtract(high, y, out=found[3])
        np.subtract(z, NEAREST_M, out=found[4])
        return found


#: The picture's corners as parts of its half width and half height.
_RIGHT, _DOWN = np.array([-1.0, 1.0, 1.0, -1.0]), np.array([-1.0, -1.0, 1.0, 1.0])
#: Which planes of the view a point lies outside of, as bits in the order of `View.inside`.
LEFT, RIGHT, TOP, BOTTOM, NEAR = (1 << i for i in range(5))


@dataclass(frozen=True)
class Tunnel:
    """The way that a lens takes: as far as `radius` from its axis, straight ahead."""

    radius: float

    def inside(self, at: Array) -> Array:
        """As `View.inside`, of the tunnel's walls."""
        x, y, z = at[:, 0], at[:, 1], at[:, 2]
        r = self.radius
        return np.stack([r + x, r - x, r + y, r - y, z - NEAREST_M])


def clipped(mesh: Mesh, at: Array, view: View | Tunnel) -> tuple[Flags, Cuts]:
    """What `view` shows of the solids of `mesh`, whose points lie `at` (n, 3, f) in the camera's
    axes: which of the points are in the picture (n, f), and where it cuts their things."""
    inside = view.inside(at)
    outside = inside < 0.0
    code = outside[0].astype(np.uint8)
    for bit, out in zip((RIGHT, TOP, BOTTOM, NEAR), outside[1:], strict=True):
        code |= out.view(np.uint8) * np.uint8(bit)
    there: Flags = code == 0
    if there.all():
        return there, Cuts.joined([])
    parts = [_along_edges(mesh, at, inside, code)]
    if isinstance(view, View):
        # A face that a tunnel goes through in its middle also has the picture go through it.
        parts += _through_faces(mesh, at, code, view)
    return there, Cuts.joined(parts)


def _along_edges(mesh: Mesh, at: Array, inside: Array, code: Codes) -> Cuts:
    """Where edges run into the picture, and where out of it."""
    frames = at.shape[2]
    code_a, code_b = code[mesh.edges[:, 0]], code[mesh.edges[:, 1]]
    crosses = ((code_a ^ code_b) != 0) & ((code_a & code_b) == 0)
    edge, frame = np.nonzero(crosses)
    a, b = (mesh.edges[edge, end] * frames + frame for end in (0, 1))
    flat = inside.reshape(5, -1)
    from_a, from_b = flat.take(a, axis=1), flat.take(b, axis=1)
    outside_a, outside_b = from_a < 0.0, from_b < 0.0
    with np.errstate(divide="ignore", invalid="ignore"):
        part = from_a / (from_a - from_b)
    comes = np.where(outside_a & ~outside_b, part, 0.0).max(axis=0)
    goes = np.where(outside_b & ~outside_a, part, 1.0).min(axis=0)
    into = np.flatnonzero((comes <= goes) & (comes > 0.0))
    leaves = np.flatnonzero((comes <= goes) & (goes < 1.0))
    which = np.concatenate([into, leaves])
    part = np.concatenate([comes[into], goes[leaves]])[:, None]
    edge, frame = edge[which], frame[which]
    start = at[mesh.edges[edge, 0], :, frame]
    way = at[mesh.edges[edge, 1], :, frame] - start
    return Cuts(start + part * way, mesh.edges_of[edge], frame)


def _through_faces(mesh: Mesh, at: Array, code: Codes, view: View) -> Iterator[Cuts]:
    """Where the picture's corners look through faces."""
    of_wedges = code[mesh.wedges[:, 0]]
    any_out = np.bitwise_or.reduceat(of_wedges, mesh.faces, axis=0)
    all_out = np.bitwise_and.reduceat(of_wedges, mesh.faces, axis=0)
    # Only where the face passes both of the edges that meet there.
    cornered = ((any_out & (LEFT | RIGHT)) != 0) & ((any_out & (TOP | BOTTOM)) != 0)
    cornered &= all_out == 0
    every_face, every_frame = np.nonzero(cornered)
    sizes = mesh.sizes[every_face]
    for size in sorted(set(sizes.tolist())):
        which = np.flatnonzero(sizes == size)
        face, frame = every_face[which], every_frame[which]
        rings = mesh.wedges[mesh.faces[face][:, None] + np.arange(size), 0]
        # (corners of the face, pairs of a face and a frame)
        x, y, z = (at[rings.T, axis, frame] for axis in range(3))
        on = [*range(1, size), 0]
        x2, y2, z2 = x[on], y[on], z[on]
        seen = view.at(frame)
        # The planes through the eye and an edge, as their normals along the picture's slopes.
        nx, ny = (y * z2 - z * y2) * seen.across, (z * x2 - x * z2) * seen.down
        nz = x * y2 - y * x2
        # They add up to the normal of the face: with one of its points, how far away it is.
        rx, ry, rz = nx.sum(axis=0), ny.sum(axis=0), nz.sum(axis=0)
        away = rx / seen.across * x[0] + ry / seen.down * y[0] + rz * z[0]
        side = _RIGHT[:, None, None] * nx + _DOWN[:, None, None] * ny + nz
        hit = (side.min(axis=1) >= 0.0) | (side.max(axis=1) <= 0.0)
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            depth = away / (_RIGHT[:, None] * rx + _DOWN[:, None] * ry + rz)
            hit &= (depth > NEAREST_M) & np.isfinite(depth)
        corner, which = np.nonzero(hit)
        seen = seen.at(which)
        found = np.empty((len(which), 3))
        found[:, 2] = depth[corner, which]
        found[:, 0] = _RIGHT[corner] * seen.across * found[:, 2]
        found[:, 1] = _DOWN[corner] * seen.down * found[:, 2]
        yield Cuts(found, mesh.faces_of[face[which]], frame[which])
