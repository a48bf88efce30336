"""Where points go, and where in the picture they lie, at many frames at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..camera import Array, CameraPath
from ..plan.standins import StandIn
from .solids import Numbers


def velocities(things: Sequence[StandIn]) -> Array:
    """World velocity (t, 3) of things, m/s."""
    if not things:
        return np.empty((0, 3))
    turn = np.radians([thing.course_deg for thing in things])
    speed = np.array([thing.speed_m_s for thing in things])
    return np.stack([speed * np.sin(turn), speed * np.cos(turn), np.zeros(len(things))], axis=1)


def to_pixels(path: CameraPath, at: Array, width_px: float, height_px: float) -> Array:
    """Points (k, 3, f) in camera axes to delivered pixels (k, 2, f)."""
    slopes = path.camera.slopes_px(width_px, height_px)[:, None]
    if path.zooms is not None:
        slopes = slopes * path.zooms
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        flat: Array = at[:, :2] / at[:, 2:]
        flat *= slopes
    flat += np.array((width_px / 2.0, height_px / 2.0))[:, None]
    return flat


def spots_px(
    path: CameraPath, at: Array, frames: Numbers, width_px: float, height_px: float
) -> Array:
    """Points (p, 3) in the camera's axes, each at its frame (p,), to delivered pixels (p, 2)."""
    there = replace(path, zooms=None if path.zooms is None else path.zooms[frames])
    found: Array = to_pixels(there, at.T[None], width_px, height_px)[0].T
    return found
