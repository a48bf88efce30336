"""What a shot is delivered as, and the one pretended camera with its move."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from ..camera import Array, Camera, CameraPath, axes_along
from ..moves import Ease, ease_of, eased


@dataclass(frozen=True)
class Delivery:
    """What the finished shot is delivered as."""

    width_px: int
    height_px: int
    fps: float

    @property
    def aspect(self) -> float:
        """Width over height."""
        return self.width_px / self.height_px


@dataclass(frozen=True)
class WorldCamera:
    """The one pretended camera. Its picture is the delivered picture, edge to edge."""

    sensor_width_mm: float
    focal_mm: float
    height_m: float
    tilt_deg: float = 0.0
    pan_deg: float = 0.0
    roll_deg: float = 0.0
    shutter_deg: float = 180.0

    def camera(self, delivery: Delivery) -> Camera:
        """The pinhole camera it is: sensor height from the delivery aspect, at (0, 0, height)."""
        return Camera(
            sensor_width_mm=self.sensor_width_mm,
            sensor_height_mm=self.sensor_width_mm / delivery.aspect,
            focal_mm=self.focal_mm,
            position_m=(0.0, 0.0, self.height_m),
            pan_deg=self.pan_deg,
            tilt_deg=self.tilt_deg,
            roll_deg=self.roll_deg,
        )


@dataclass(frozen=True)
class Move:
    """How far the world camera has gone when the shot ends, world metres and degrees: track to
    the right, push away from where it began, crane up, pan to the right, tilt up. `zoom`: its
    focal length then, over that at the beginning.

    The zoom is made in post: every plate is filmed with the widest of the story's views and cut
    down, which changes no perspective, needs no zoom lens and is alike in all of them."""

    right_m: float = 0.0
    away_m: float = 0.0
    up_m: float = 0.0
    pan_deg: float = 0.0
    tilt_deg: float = 0.0
    ease: Ease = "both"
    zoom: float = 1.0

    @property
    def stands(self) -> bool:
        """Whether the camera stays where it is, as on its stage: it may zoom."""
        return not (self.right_m or self.away_m or self.up_m or self.pan_deg or self.tilt_deg)

    @property
    def still(self) -> bool:
        """Whether what the camera shows stays the same: it stands, and does not zoom."""
        return self.stands and self.zoom == 1.0

    @property
    def widest(self) -> float:
        """The widest of the views over the first, as a focal length: 1, or less where it zooms
        out."""
        return min(self.zoom, 1.0)

    @property
    def tightest(self) -> float:
        """The same of the tightest: 1, or more where it zooms in."""
        return max(self.zoom, 1.0)

    @property
    def closes(self) -> float:
        """How many times as tight as the widest of the views the tightest is: 1 without a zoom."""
        return self.tightest / self.widest

    def closer(self, part: float) -> float:
        """How many times as tight as the widest of the views, which is what is filmed, the picture
        is after `part` (0..1) of the screen time."""
        return self.zoomed(part) / self.widest

    def at_widest(self, camera: Camera) -> Camera:
        """A camera as the shot begins, with the widest of the views: what is filmed of a zoom."""
        wide, high = camera.sensor_width_mm / self.widest, camera.sensor_height_mm / self.widest
        return replace(camera, sensor_width_mm=wide, sensor_height_mm=high)

    def zoomed(self, part: float) -> float:
        """The focal length after `part` (0..1) of the screen time, over that at the beginning: by
        even ratios, so that an even zoom looks even."""
        return float(self.zoom ** eased(min(max(part, 0.0), 1.0), self.ease))

    def zooms(self, parts: Array) -> Array | None:
        """`zoomed` for many parts (f,) at once; None without a zoom."""
        if self.zoom == 1.0:
            return None
        gone = ease_of(np.clip(np.asarray(parts, dtype=np.float64), 0.0, 1.0), self.ease)
        found: Array = self.zoom**gone
        return found

    @property
    def length_m(self) -> float:
        """Straight distance from the first position to the last, world metres."""
        return math.hypot(self.right_m, self.away_m, self.up_m)

    def moved(self, camera: Camera, part: float, scale: float = 1.0) -> Camera:
        """`camera` after `part` (0..1) of the screen time, distances divided by `scale`: of a zoom
        as much less of its sensor."""
        if self.still or part <= 0.0:
            return camera
        gone = eased(part, self.ease)
        x, y, z = camera.position_m
        step = gone / scale
        closer = self.zoom**gone
        return replace(
            camera,
            sensor_width_mm=camera.sensor_width_mm / closer,
            sensor_height_mm=camera.sensor_height_mm / closer,
            position_m=(
                x + self.right_m * step,
                y + self.away_m * step,
                z + self.up_m * step,
            ),
            pan_deg=camera.pan_deg + self.pan_deg * gone,
            tilt_deg=camera.tilt_deg + self.tilt_deg * gone,
        )

    def along(self, camera: Camera, parts: Array, scale: float = 1.0) -> CameraPath:
        """`moved` for many parts (f,) at once."""
        if self.still:
            return _standing(camera, len(parts))
        gone = ease_of(np.clip(np.asarray(parts, dtype=np.float64), 0.0, 1.0), self.ease)
        way = np.array([self.right_m, self.away_m, self.up_m]) / scale
        positions = np.asarray(camera.position_m) + gone[:, None] * way
        axes = axes_along(
            camera.pan_deg + gone * self.pan_deg,
            camera.tilt_deg + gone * self.tilt_deg,
            camera.roll_deg,
        )
        return CameraPath(camera, positions, axes, self.zooms(parts))


@lru_cache(maxsize=64)
def _standing(camera: Camera, moments: int) -> CameraPath:
    """A camera that stays as it is. Kept: while things are dragged, it is asked for again and
    again."""
    once = axes_along(np.full(1, camera.pan_deg), np.full(1, camera.tilt_deg), camera.roll_deg)
    return CameraPath(
        camera,
        np.broadcast_to(np.array(camera.position_m, dtype=np.float64), (moments, 3)),
        np.broadcast_to(once, (moments, 3, 3)),
        stays=True,
    )
