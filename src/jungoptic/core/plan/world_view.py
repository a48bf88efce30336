"""The points at which cameras are compared, as the world camera sees them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Array, Camera
from .standins import NamedPoints, StandIn, measured_points, reference_points

#: How far outside the delivered frame a point may lie and still count, as a part of its size.
#: What nobody sees cannot mismatch.
EDGE = 0.05


@dataclass(frozen=True)
class WorldView:
    """The points cameras are compared at: world metres with names, and the world picture (n, 2).

    They are the shot's stand-ins, a 3 x 3 ground grid and 1.7 m figures at near, middle and far,
    as far as the world camera has them in frame.
    """

    points: NamedPoints
    world_px: Array

    @staticmethod
    def of(
        world: Camera, stand_ins: tuple[StandIn, ...], width_px: float, height_px: float
    ) -> WorldView:
        """What `world` sees of `stand_ins` and of the reference points between them."""
        own = NamedPoints.joined([measured_points(s) for s in stand_ins])
        depths = world.to_camera(own.points)[:, 2]
        ahead = depths[depths > 0.1]
        near, far = (float(ahead.min()), float(ahead.max())) if len(ahead) else (2.0, 10.0)
        half_width = world.sensor_width_mm / 2.0 / world.focal_mm
        points = NamedPoints.joined([own, reference_points(near, max(far, near * 1.5), half_width)])
        world_px = world.project(points.points, width_px, height_px)
        with np.errstate(invalid="ignore"):
            inside = (
                (world_px[:, 0] >= -EDGE * width_px)
                & (world_px[:, 0] <= (1 + EDGE) * width_px)
                & (world_px[:, 1] >= -EDGE * height_px)
                & (world_px[:, 1] <= (1 + EDGE) * height_px)
            )
        return WorldView(points.where(inside), world_px[inside])
