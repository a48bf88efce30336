"""How wide and how high a set, a screen or a backing must be at its distance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..camera import Array, Camera
from ..checks_on_input import positive
from ..impossible import Impossible


@dataclass(frozen=True)
class Coverage:
    """What the lens sees of an upright plane across the view, in metres; `bottom_m` never lies
    below the ground, since nothing is built there."""

    distance_m: float
    left_m: float
    right_m: float
    bottom_m: float
    top_m: float

    @property
    def width_m(self) -> float:
        """From left edge to right edge."""
        return self.right_m - self.left_m

    @property
    def height_m(self) -> float:
        """From the lower edge, or the ground, to the upper edge; 0 where only ground is seen."""
        return max(self.top_m - self.bottom_m, 0.0)


def rays(camera: Camera, pixels: Array, width_px: float, height_px: float) -> Array:
    """World directions (n, 3), not normalised, of picture points (n, 2) in pixels.

    The inverse of `Camera.project` up to the distance.
    """
    across = (pixels[:, 0] / width_px - 0.5) * camera.sensor_width_mm / camera.focal_mm
    down = (pixels[:, 1] / height_px - 0.5) * camera.sensor_height_mm / camera.focal_mm
    found: Array = np.stack([across, down, np.ones(len(pixels))], axis=1) @ camera.axes
    return found


def at_distance(
    camera: Camera, pixels: Array, distance_m: float, width_px: float, height_px: float
) -> Array:
    """World points (n, 3) that picture points (n, 2) show on the upright plane `distance_m` ahead
    of the camera (along y). Points whose ray never gets there are NaN.

    Raises Impossible unless distance is above zero.
    """
    positive("distance", distance_m)
    seen = rays(camera, pixels, width_px, height_px)
    with np.errstate(divide="ignore", invalid="ignore"):
        reach = np.where(seen[:, 1] > 1e-9, distance_m / seen[:, 1], np.nan)
    points: Array = np.asarray(camera.position_m) + seen * reach[:, None]
    return points


def coverage(camera: Camera, distance_m: float) -> Coverage:
    """What `camera` sees of the upright plane at `distance_m`.

    Raises Impossible when the camera is turned so far that an edge of its picture never meets the
    plane. Source: ray geometry.
    """
    corners = np.array([(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)])
    points = at_distance(camera, corners, distance_m, 1.0, 1.0)
    if not np.isfinite(points).all():
        raise Impossible("The camera is turned too far aside to see this plane edge to edge.")
    return Coverage(
        distance_m,
        float(points[:, 0].min()),
        float(points[:, 0].max()),
        float(max(points[:, 2].min(), 0.0)),
        float(points[:, 2].max()),
    )


def covered(cameras: Sequence[Camera], at_m: float) -> Coverage | None:
    """What `cameras`, one after the other, see together of the upright plane at `at_m` (y); None
    where it is not wholly ahead of each of them."""
    seen = []
    for camera in cameras:
        ahead = at_m - camera.position_m[1]
        if ahead <= 0:
            return None
        try:
            seen.append(coverage(camera, ahead))
        except Impossible:
            return None
    return Coverage(
        seen[0].distance_m,
        min(one.left_m for one in seen),
        max(one.right_m for one in seen),
        min(one.bottom_m for one in seen),
        max(one.top_m for one in seen),
    )
