"""The Frame: every plate's stand-ins through the camera that will really film them, as outlines.

All pictures are in delivered pixels, origin top left."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Camera
from ..plan.shot import Shot
from ..plan.standins import StandIn, strokes
from ..stage.backing import backing
from ..stage.case import Case
from ..words.outlines import NEAR_CUT_M, Path, Picture, cut_behind, drawn, path_of
from ..words.strokes import end_to_end


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
    every = [strokes(stand_in) for stand_in in stand_ins]
    points, parts = end_to_end(every)
    points = (points - np.array([0.0, 0.0, ground_m])) / scale
    lines = {
        stand_in.id: own.at(points[part])
        for stand_in, own, part in zip(stand_ins, every, parts, strict=True)
    }
    return Picture(
        outlines=drawn(camera, lines, width_px, height_px),
        horizon=camera.horizon_px(width_px, height_px),
    )


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
    held = np.isfinite(at + right + away).all(axis=1)
    every = np.column_stack([at, right[:, 0], away[:, 1]])[held].tolist()
    return tuple(
        Grip(stand_ins[i].id, *row) for i, row in zip(np.flatnonzero(held), every, strict=True)
    )


def screen_edges(case: Case, part: float = 0.0) -> tuple[Path, ...]:
    """The screen of a screen plate as the Frame sees it after `part` of the screen time, one closed
    path; empty without one."""
    plate, needed = case.plate, backing(case)
    if needed is None or plate.screen_width_m <= 0 or plate.screen_height_m <= 0:
        return ()
    half = plate.screen_width_m / 2.0
    x0, x1 = needed.centre_x_m - half, needed.centre_x_m + half
    y, foot, top = needed.distance_m, plate.screen_foot_m, plate.screen_top_m
    corners = np.array([(x0, y, foot), (x1, y, foot), (x1, y, top), (x0, y, top), (x0, y, foot)])
    delivery = case.shot.delivery
    camera = case.shot.move.moved(case.stage.camera, part, plate.scale)
    return tuple(
        path_of(camera.to_pixels(piece, delivery.width_px, delivery.height_px))
        for piece in cut_behind(camera, corners, NEAR_CUT_M)
    )
