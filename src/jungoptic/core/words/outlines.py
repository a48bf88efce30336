"""Outlines in a picture: lines of space as a camera sees them, cut where they leave it. Delivered
pixels, origin top left."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..camera import Array, Camera
from ..slices import slices_of
from .strokes import Strokes, end_to_end

#: Lines end this many pictures beyond each edge: a shadow at sunset would run for kilometres, and
#: what draws it dashes every one of them.
BEYOND = 1.0


#: Nothing nearer than this is drawn: lines are cut here before they are projected (m, stage).
NEAR_CUT_M = 0.02


#: A line of (x, y) pixels.
Path = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Outline:
    """The drawn lines of one stand-in: `paths` of (x, y) pixels."""

    stand_in_id: str
    paths: tuple[Path, ...]


@dataclass(frozen=True)
class Whisker:
    """A named point in both pictures: from where the story has it to where this stage puts it."""

    name: str
    from_x_px: float
    from_y_px: float
    to_x_px: float
    to_y_px: float


@dataclass(frozen=True)
class Picture:
    """One camera's picture: its outlines and where its horizon meets the left and right edge."""

    outlines: tuple[Outline, ...]
    horizon: tuple[float, float] | None


def cut_behind(camera: Camera, line: Array, near_m: float) -> list[Array]:
    """Camera-axis polylines of `line` (n, 3) with everything nearer than `near_m` cut away."""
    seen = camera.to_camera(line)
    if (seen[:, 2] >= near_m).all():
        return [seen]
    return [np.array(piece) for piece in _one_side(seen.tolist(), 2, near_m, 1.0)]


def path_of(pixels: Array) -> Path:
    """Pixels rounded to a tenth, as plain tuples; a tenth is finer than any screen shows."""
    return tuple(map(tuple, np.round(pixels, 1).tolist()))


def clipped(path: Path, width_px: float, height_px: float) -> list[Path]:
    """The parts of a path that lie within `BEYOND` pictures of the picture. A closed one stays
    closed, along that far edge (Sutherland and Hodgman 1974); an open one ends there."""
    xs, ys = zip(*path, strict=True)
    low = (-BEYOND * width_px, -BEYOND * height_px)
    high = (width_px - low[0], height_px - low[1])
    if low[0] <= min(xs) and max(xs) <= high[0] and low[1] <= min(ys) and max(ys) <= high[1]:
        return [path]
    closed = len(path) > 3 and path[0] == path[-1]
    pieces: list[Sequence[Sequence[float]]] = [path]
    for axis in (0, 1):
        for edge, sign in ((low[axis], 1.0), (high[axis], -1.0)):
            pieces = [q for p in pieces for q in _one_side(p, axis, edge, sign, closed)]
    return [tuple((round(x, 1), round(y, 1)) for x, y in piece) for piece in pieces]


def _one_side(
    line: Sequence[Sequence[float]], axis: int, edge: float, sign: float, closed: bool = False
) -> list[list[Sequence[float]]]:
    """The parts of a line on the inner side of an edge across `axis`; in one piece where it is
    closed."""
    pieces: list[list[Sequence[float]]] = [[]]
    for a, b in itertools.pairwise(line):
        inside = [sign * (p[axis] - edge) >= 0 for p in (a, b)]
        if inside[0] and not pieces[-1]:
            pieces[-1].append(a)
        if inside[0] != inside[1]:
            part = (edge - a[axis]) / (b[axis] - a[axis])
            at = [p + (q - p) * part for p, q in zip(a, b, strict=True)]
            at[axis] = edge
            pieces[-1].append(at)
        if inside[1]:
            pieces[-1].append(b)
        elif inside[0] and not closed:
            pieces.append([])
    if closed and pieces[0] and pieces[0][0] != pieces[0][-1]:
        pieces[0].append(pieces[0][0])
    return [piece for piece in pieces if len(piece) > 1]


#: Of so many cameras it is kept what they saw, of so many things each: while one thing is dragged,
#: nothing else changes.
CAMERAS_KEPT, MOST_KEPT = 8, 1024
#: What a camera saw, by the points of the lines and how many of them each has.
_Kept = dict[tuple[bytes, tuple[int, ...]], tuple[Path, ...]]


@lru_cache(maxsize=CAMERAS_KEPT)
def _kept(camera: Camera, width_px: float, height_px: float) -> _Kept:
    return {}


def drawn(
    camera: Camera, lines: Mapping[str, Strokes], width_px: float, height_px: float
) -> tuple[Outline, ...]:
    """Lines by the stand-in they belong to as the camera sees them, cut where they pass behind
    it."""
    kept = _kept(camera, width_px, height_px)
    # With the length of each line, since two may also be one.
    keys = {owner: (own.points.tobytes(), own.lengths) for owner, own in lines.items()}
    known = {owner: kept.get(key) for owner, key in keys.items()}
    new = {owner: own for owner, own in lines.items() if known[owner] is None}
    if new:
        if len(kept) > MOST_KEPT:
            kept.clear()
        for owner, paths in _drawn(camera, new, width_px, height_px).items():
            known[owner] = kept[keys[owner]] = tuple(paths)
    return tuple(Outline(owner, paths or ()) for owner, paths in known.items())


def _drawn(
    camera: Camera, lines: Mapping[str, Strokes], width_px: float, height_px: float
) -> dict[str, list[Path]]:
    owners = [owner for owner, own in lines.items() for _ in own.lengths]
    paths: dict[str, list[Path]] = {owner: [] for owner in lines}
    if owners:
        # One transform for all lines: a call per line would cost more than the arithmetic.
        points, _ = end_to_end(list(lines.values()))
        seen = camera.to_camera(points)
        ends = list(
            itertools.accumulate((n for own in lines.values() for n in own.lengths), initial=0)
        )
        starts, parts = ends[:-1], list(itertools.starmap(slice, itertools.pairwise(ends)))
        # The nearest and the farthest point of each line.
        near = np.minimum.reduceat(seen[:, 2], starts).tolist()
        far = np.maximum.reduceat(seen[:, 2], starts).tolist()
        pixels = camera.to_pixels(seen, width_px, height_px)
        flat = path_of(pixels)
        # Most lines lie near the picture as a whole; what is behind is NaN, and not inside.
        size = np.array([width_px, height_px])
        low = np.minimum.reduceat(pixels, starts, axis=0) >= -BEYOND * size
        high = np.maximum.reduceat(pixels, starts, axis=0) <= (1.0 + BEYOND) * size
        inside = set(np.flatnonzero((low & high).all(axis=1)).tolist())
        for i, owner in enumerate(owners):
            if i in inside and near[i] >= NEAR_CUT_M:
                paths[owner].append(flat[parts[i]])
            elif near[i] >= NEAR_CUT_M:
                paths[owner] += clipped(flat[parts[i]], width_px, height_px)
            elif far[i] >= NEAR_CUT_M:
                for piece in cut_behind(camera, points[parts[i]], NEAR_CUT_M):
                    cut = path_of(camera.to_pixels(piece, width_px, height_px))
                    paths[owner] += clipped(cut, width_px, height_px)
    return paths


def areas(
    camera: Camera, rings: Sequence[Array], width_px: float, height_px: float
) -> list[tuple[Path, ...]]:
    """Flat areas, each a closed ring (n, 3) whose last point is its first, as the camera sees them:
    cut where they pass behind it, and far beyond the picture."""
    if not rings:
        return []
    seen = camera.to_camera(np.concatenate(rings))
    found: list[tuple[Path, ...]] = []
    for part in slices_of(rings):
        ring = seen[part]
        if not (ring[:, 2] >= NEAR_CUT_M).all():
            cut = _one_side(ring.tolist(), 2, NEAR_CUT_M, 1.0, closed=True)
            if not cut:
                found.append(())
                continue
            ring = np.array(cut[0])
        path = path_of(camera.to_pixels(ring, width_px, height_px))
        found.append(tuple(p for p in clipped(path, width_px, height_px) if len(p) > 3))
    return found


def band(path: Path, low: float, high: float) -> Path:
    """The part of a closed path between two upright lines; empty where there is none."""
    piece: list[Sequence[float]] = list(path)
    for edge, sign in ((low, 1.0), (high, -1.0)):
        cut = _one_side(piece, 0, edge, sign, closed=True)
        if not cut:
            return ()
        piece = list(cut[0])
    return tuple((round(x, 1), round(y, 1)) for x, y in piece)
