"""A pinhole camera: where it stands, how it is turned, and where it puts a point in the picture.

Source: ray geometry; checked in the tests against OpenCV's `projectPoints`.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks_on_input import finite, positive

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Camera:
    """A pinhole camera with its entrance pupil at `position_m`.

    pan + turns right, tilt + looks up, roll + turns the camera clockwise seen from behind, all
    in degrees, applied pan, then tilt, then roll. `focal_mm` is the pinhole distance (the focal
    length at infinity, f (1 + m) close up). The sensor size is the part of it that is used.
    """

    sensor_width_mm: float
    sensor_height_mm: float
    focal_mm: float
    position_m: tuple[float, float, float] = (0.0, 0.0, 0.0)
    pan_deg: float = 0.0
    tilt_deg: float = 0.0
    roll_deg: float = 0.0

    def __post_init__(self) -> None:
        positive("sensor width", self.sensor_width_mm)
        positive("sensor height", self.sensor_height_mm)
        positive("focal length", self.focal_mm)
        for name in ("pan_deg", "tilt_deg", "roll_deg"):
            finite(name, getattr(self, name))
        for axis, value in zip("xyz", self.position_m, strict=True):
            finite(f"camera position {axis}", value)

    @cached_property
    def axes(self) -> Array:
        """Rows right, down, forward: the (3, 3) rotation from world to camera axes."""
        pan, tilt, roll = (math.radians(a) for a in (self.pan_deg, self.tilt_deg, self.roll_deg))
        forward = np.array(
            [math.sin(pan) * math.cos(tilt), math.cos(pan) * math.cos(tilt), math.sin(tilt)]
        )
        level_right = np.array([math.cos(pan), -math.sin(pan), 0.0])
        level_up = np.array(
            [-math.sin(pan) * math.sin(tilt), -math.cos(pan) * math.sin(tilt), math.cos(tilt)]
        )
        right = level_right * math.cos(roll) - level_up * math.sin(roll)
        up = level_up * math.cos(roll) + level_right * math.sin(roll)
        return np.stack([right, -up, forward])

    def to_camera(self, points_m: ArrayLike) -> Array:
        """Points (n, 3) in camera axes: right, down, depth along the lens axis, metres."""
        points = np.asarray(points_m, dtype=np.float64)
        if points.ndim != 2 or points.shape[1] != 3:
            raise ValueError(f"points must have the shape (n, 3), not {points.shape}.")
        seen: Array = (points - np.asarray(self.position_m, dtype=np.float64)) @ self.axes.T
        return seen

    def to_pixels(self, seen: Array, width_px: float, height_px: float) -> Array:
        """Camera-axis points (n, 3) to pixels (n, 2); depth at or behind the pupil gives NaN."""
        depth = np.where(seen[:, 2] > 1e-12, seen[:, 2], np.nan)
        slopes = self.slopes_px(width_px, height_px)
        centre = np.array([width_px / 2.0, height_px / 2.0])
        pixels: Array = centre + seen[:, :2] / depth[:, None] * slopes
        return pixels

    def slopes_px(self, width_px: float, height_px: float) -> Array:
        """Pixels (2,) across and down that a slope of 1 to the lens axis comes to in a picture so
        large."""
        return np.array(
            [
                self.focal_mm / self.sensor_width_mm * width_px,
                self.focal_mm / self.sensor_height_mm * height_px,
            ]
        )

    def project(self, points_m: ArrayLike, width_px: float, height_px: float) -> Array:
        """Pixels (n, 2) of world points (n, 3): origin top left, +x right, +y down.

        A point at or behind the camera gives NaN; a point outside the picture gives pixels
        outside 0..width, 0..height.

        Raises Impossible unless picture width and picture height are above zero.
        """
        positive("picture width", width_px)
        positive("picture height", height_px)
        return self.to_pixels(self.to_camera(points_m), width_px, height_px)

    def focal_px(self, width_px: float) -> float:
        """The pinhole distance in pixels of a picture so wide."""
        return self.focal_mm / self.sensor_width_mm * width_px

    def scaled(self, scale: float) -> Camera:
        """The camera with the same view of a world shrunk by `scale`: position divided by it.

        Raises Impossible unless scale is above zero.
        """
        positive("scale", scale)
        x, y, z = self.position_m
        return replace(self, position_m=(x / scale, y / scale, z / scale))

    def horizon_px(self, width_px: float, height_px: float) -> tuple[float, float] | None:
        """Heights (px from the top) where the horizon meets the left and right picture edges.

        None when it runs vertically or the camera looks straight up or down.
        """
        right, down, forward = self.axes
        # A far-away direction d lies on the horizon when d.z = 0; with d = a right + b down +
        # forward that is a linear equation in the picture coordinates a and b.
        if abs(down[2]) < 1e-9:
            return None
        half = self.sensor_width_mm / 2.0 / self.focal_mm
        to_px = self.focal_mm / self.sensor_height_mm * height_px
        left, right_px = (
            height_px / 2.0 - (forward[2] + a * right[2]) / down[2] * to_px for a in (-half, half)
        )
        return float(left), float(right_px)


def axes_along(pan_deg: Array, tilt_deg: Array, roll_deg: float) -> Array:
    """`Camera.axes` for many directions at once: (f,) angles to (f, 3, 3), rows right, down,
    forward."""
    pan, tilt, roll = np.radians(pan_deg), np.radians(tilt_deg), math.radians(roll_deg)
    east, north, rise, level = np.sin(pan), np.cos(pan), np.sin(tilt), np.cos(tilt)
    along, across = math.cos(roll), math.sin(roll)
    found = np.empty((len(pan), 3, 3))
    for axis, right, up in ((0, north, -east * rise), (1, -east, -north * rise), (2, 0.0, level)):
        found[:, 0, axis] = right * along - up * across
        found[:, 1, axis] = -(up * along + right * across)
    found[:, 2, 0], found[:, 2, 1], found[:, 2, 2] = east * level, north * level, rise
    return found


def turns_of(axes: Array) -> tuple[float, float, float]:
    """(pan, tilt, roll) in degrees of a camera whose axes (3, 3) are right, down, forward:
    `Camera.axes` turned round."""
    right, _, ahead = axes
    pan = math.atan2(ahead[0], ahead[1])
    tilt = math.asin(min(max(float(ahead[2]), -1.0), 1.0))
    level = np.array([math.cos(pan), -math.sin(pan), 0.0])
    roll = math.atan2(-float(right @ np.cross(level, ahead)), float(right @ level))
    return math.degrees(pan), math.degrees(tilt), math.degrees(roll)


@dataclass(frozen=True)
class CameraPath:
    """One camera at f moments: `positions_m` (f, 3) and `axes` (f, 3, 3) replace its own, and its
    pictures are `zooms` (f,) times as close as its own (None: not at all). It `stays` where these
    are the same at all moments."""

    camera: Camera
    positions_m: Array
    axes: Array
    zooms: Array | None = None
    stays: bool = False

    @property
    def closer(self) -> Array:
        """`zooms` (f,), or as many as the moments share (1,)."""
        return np.ones(1) if self.zooms is None else self.zooms

    def project(self, points_m: Array, width_px: float, height_px: float) -> tuple[Array, Array]:
        """Pixels (f, n, 2) and depths (f, n) of points (n, 3), or (f, n, 3) that move themselves;
        behind the camera NaN, as in `Camera.project`."""
        seen = np.matmul(points_m - self.positions_m[:, None, :], self.axes.transpose(0, 2, 1))
        depth = seen[..., 2]
        ahead = np.where(depth > 1e-12, depth, np.nan)
        slopes = self.camera.slopes_px(width_px, height_px)
        centre = np.array([width_px / 2.0, height_px / 2.0])
        pixels: Array = seen[..., :2] / ahead[..., None] * slopes
        if self.zooms is not None:
            pixels *= self.zooms[:, None, None]
        pixels += centre
        return pixels, depth

    def at(self, frames: NDArray[np.intp]) -> CameraPath:
        """The path at some of its moments."""
        return replace(
            self,
            positions_m=self.positions_m[frames],
            axes=self.axes[frames],
            zooms=None if self.zooms is None else self.zooms[frames],
        )
