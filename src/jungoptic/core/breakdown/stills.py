"""The camera of a sketch or scout still, and the things in it as solids.

Where a camera is known, planned or worked out from one thing of known distance and height, a
crossing can also be said in metres and degrees."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Array, Camera
from ..checks_on_input import positive
from ..plan.standins import StandIn, outlines
from ..polyline import dense
from ..stage.coverage import at_distance, rays
from .sketch_marks import Drawn


@dataclass(frozen=True)
class Still:
    """A picture with its camera: `planned` is the shot's own, otherwise worked out from a thing."""

    width_px: float
    height_px: float
    camera: Camera
    planned: bool


def camera_from_thing(mark: Drawn, width_px: float, height_px: float) -> Still | None:
    """The camera of a still in which one thing of known height stands at a known distance.

    The thing's drawn height gives the angle of view: f_px = h_px · D / H, for a camera held about
    level and the horizon near the middle. None when the mark says neither. Source: similar
    triangles.

    Raises Impossible unless height and distance are above zero.
    """
    if mark.distance_m is None or mark.height_m is None or len(mark.points) < 2:
        return None
    drawn = float(np.ptp(mark.array[:, 1]))
    if drawn < 1.0:
        return None
    focal_px = drawn * positive("distance", mark.distance_m) / positive("height", mark.height_m)
    sensor = 36.0
    return Still(
        width_px,
        height_px,
        Camera(
            sensor_width_mm=sensor,
            sensor_height_mm=sensor * height_px / width_px,
            focal_mm=focal_px * sensor / width_px,
            position_m=(0.0, 0.0, 0.0),
        ),
        planned=False,
    )


@dataclass(frozen=True)
class Solid:
    """Something with a place in the world that must respect the matte line: points (n, 3)."""

    id: str
    name: str
    points_m: Array
    height_m: float
    distance_m: float
    held_out: bool = False


def solid_of_stand_in(stand_in: StandIn, held_out: bool = False) -> Solid:
    """A stand-in as what may cross a line: its outline, finely divided."""
    lines = [_dense3(line) for line in outlines(stand_in)]
    return Solid(
        stand_in.id,
        stand_in.name,
        np.concatenate(lines),
        stand_in.height_m,
        stand_in.y_m,
        held_out,
    )


def _dense3(line: Array, parts: int = 12) -> Array:
    """Points along a polyline (n, 3), each segment in equal parts."""
    steps = np.linspace(0.0, 1.0, parts, endpoint=False)[None, :, None]
    fine = line[:-1, None, :] + np.diff(line, axis=0)[:, None, :] * steps
    return np.concatenate([fine.reshape(-1, 3), line[-1:]])


def solid_of_mark(mark: Drawn, still: Still) -> Solid | None:
    """A drawn thing put at its distance in the world.

    Without a distance the foot of the drawing is taken to stand on the ground; None where that is
    at or above the horizon, or where the camera's height is not known.
    """
    if len(mark.points) < 2:
        return None
    points = mark.array
    distance = mark.distance_m
    if distance is None:
        if not still.planned:
            return None
        foot = points[np.argmax(points[:, 1])][None, :]
        ray = rays(still.camera, foot, still.width_px, still.height_px)[0]
        if ray[2] >= -1e-6 or ray[1] <= 0:
            return None
        distance = float(-still.camera.position_m[2] / ray[2] * ray[1])
    placed = at_distance(still.camera, dense(points), distance, still.width_px, still.height_px)
    placed = placed[np.isfinite(placed).all(axis=1)]
    if len(placed) < 2:
        return None
    tall = mark.height_m or float(np.ptp(placed[:, 2]))
    return Solid(mark.id, mark.label, placed, tall, distance, mark.kind == "holdout")
