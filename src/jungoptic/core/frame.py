"""The Frame: every plate's stand-ins through the camera that will really film them, as outlines.

All pictures are in delivered pixels, origin top left.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from .camera import Array, Camera
from .judging.backing import backing
from .judging.case import Case
from .plan import Shot
from .standins import StandIn, outlines

#: Nothing nearer than this is drawn: lines are cut here before they are projected (m, stage).
NEAR_CUT_M = 0.02


@dataclass(frozen=True)
class Outline:
    """The drawn lines of one stand-in: `paths` of (x, y) pixels."""

    stand_in_id: str
    paths: tuple[tuple[tuple[float, float], ...], ...]


@dataclass(frozen=True)
class Grip:
    """Where a stand-in is held in the Frame, and how its foot moves in the picture.

    `x_px`, `y_px`: the foot. `across_px_m`: pixels to the right per metre to the right;
    `away_px_m`: pixels downward per metre away (negative: it moves up the picture).
    """

    stand_in_id: str
    x_px: float
    y_px: float
    across_px_m: float
    away_px_m: float


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
    ahead = seen[:, 2] >= near_m
    if ahead.all():
        return [seen]
    pieces: list[Array] = []
    current: list[Array] = []
    for i in range(len(seen) - 1):
        a, b = seen[i], seen[i + 1]
        if not ahead[i] and not ahead[i + 1]:
            continue
        if ahead[i] and ahead[i + 1]:
            current = current or [a]
            current.append(b)
            continue
        at = a + (b - a) * ((near_m - a[2]) / (b[2] - a[2]))
        if ahead[i]:
            pieces.append(np.array([*(current or [a]), at]))
            current = []
        else:
            current = [at, b]
    if len(current) > 1:
        pieces.append(np.array(current))
    return pieces


def path_of(pixels: Array) -> tuple[tuple[float, float], ...]:
    """Pixels rounded to a tenth, as plain tuples; a tenth is finer than any screen shows."""
    return tuple(map(tuple, np.round(pixels, 1).tolist()))


def draw(
    camera: Camera,
    stand_ins: tuple[StandIn, ...],
    scale: float,
    width_px: float,
    height_px: float,
    ground_m: float = 0.0,
) -> Picture:
    """The outlines of `stand_ins` (world metres) as `camera` sees them: shrunk by `scale`, from a
    stage whose ground stands for the world height `ground_m`."""
    down = np.array([0.0, 0.0, ground_m])
    lines = {
        stand_in.id: [(line - down) / scale for line in outlines(stand_in)]
        for stand_in in stand_ins
    }
    return Picture(
        outlines=drawn(camera, lines, width_px, height_px),
        horizon=camera.horizon_px(width_px, height_px),
    )


def drawn(
    camera: Camera, lines: Mapping[str, list[Array]], width_px: float, height_px: float
) -> tuple[Outline, ...]:
    """Polylines (n, 3) by the stand-in they belong to as the camera sees them, cut where they pass
    behind it."""
    owners = [owner for owner, own in lines.items() for _ in own]
    every = [line for own in lines.values() for line in own]
    paths: dict[str, list[tuple[tuple[float, float], ...]]] = {owner: [] for owner in lines}
    if every:
        # One transform for all lines: a call per line would cost more than the arithmetic.
        ends = np.cumsum([len(line) for line in every])[:-1]
        seen = camera.to_camera(np.concatenate(every))
        whole = bool((seen[:, 2] >= NEAR_CUT_M).all())
        pixels = camera.to_pixels(seen, width_px, height_px)
        depths = np.split(seen[:, 2], ends)
        for owner, line, depth, flat in zip(
            owners, every, depths, np.split(pixels, ends), strict=True
        ):
            if whole or (depth >= NEAR_CUT_M).all():
                paths[owner].append(path_of(flat))
            elif (depth >= NEAR_CUT_M).any():
                for piece in cut_behind(camera, line, NEAR_CUT_M):
                    paths[owner].append(path_of(camera.to_pixels(piece, width_px, height_px)))
    return tuple(Outline(owner, tuple(found)) for owner, found in paths.items())


def grips(
    shot: Shot, camera: Camera | None = None, stand_ins: tuple[StandIn, ...] | None = None
) -> tuple[Grip, ...]:
    """Handles for every stand-in whose foot is in front of the world camera: as the shot begins, or
    for a `camera` and `stand_ins` that have moved on."""
    stand_ins = shot.stand_ins if stand_ins is None else stand_ins
    camera = shot.world.camera(shot.delivery) if camera is None else camera
    if not stand_ins:
        return ()
    delivery = shot.delivery
    feet = np.array([(s.x_m, s.y_m, s.z_m) for s in stand_ins])
    step = 0.01
    w, h = delivery.width_px, delivery.height_px
    at = camera.project(feet, w, h)
    right = (camera.project(feet + np.array([step, 0, 0]), w, h) - at) / step
    away = (camera.project(feet + np.array([0, step, 0]), w, h) - at) / step
    return tuple(
        Grip(s.id, float(p[0]), float(p[1]), float(r[0]), float(a[1]))
        for s, p, r, a in zip(stand_ins, at, right, away, strict=True)
        if np.isfinite(p).all() and np.isfinite(r).all() and np.isfinite(a).all()
    )


def screen_edges(case: Case, part: float = 0.0) -> tuple[tuple[tuple[float, float], ...], ...]:
    """The screen of a screen plate as the Frame sees it after `part` of the screen time, one closed
    path; empty without one."""
    plate, needed = case.plate, backing(case)
    if needed is None or plate.screen_width_m <= 0 or plate.screen_height_m <= 0:
        return ()
    half = plate.screen_width_m / 2.0
    x0, x1 = needed.centre_x_m - half, needed.centre_x_m + half
    y, top = needed.distance_m, plate.screen_height_m
    corners = np.array([(x0, y, 0), (x1, y, 0), (x1, y, top), (x0, y, top), (x0, y, 0)])
    delivery = case.shot.delivery
    camera = case.shot.move.moved(case.stage.camera, part, plate.scale)
    return tuple(
        path_of(camera.to_pixels(piece, delivery.width_px, delivery.height_px))
        for piece in cut_behind(camera, corners, NEAR_CUT_M)
    )
