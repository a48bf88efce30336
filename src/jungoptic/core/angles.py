"""Angles on a compass: turns and what lies between two directions."""

from __future__ import annotations

import math
from typing import TypeVar

import numpy as np

from .camera import Array

T = TypeVar("T", float, Array)


def turn_deg(angle: T) -> T:
    """An angle, or an array of them, as a turn from -180 up to 180 degrees."""
    return (angle + 180.0) % 360.0 - 180.0


def towards(bearing_deg: Array, elevation_deg: Array) -> Array:
    """Unit vectors (n, 3) of directions (n,): x east, y north, z up."""
    a, e = np.radians(bearing_deg), np.radians(elevation_deg)
    found: Array = np.stack([np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), np.sin(e)], axis=1)
    return found


def angle_between_deg(
    a_bearing: float, a_elevation: float, b_bearing: float, b_elevation: float
) -> float:
    """Angle between two directions of light, degrees from 0 to 180 (spherical law of cosines)."""
    one, two = math.radians(a_elevation), math.radians(b_elevation)
    turn = math.radians(a_bearing - b_bearing)
    cosine = math.sin(one) * math.sin(two) + math.cos(one) * math.cos(two) * math.cos(turn)
    return math.degrees(math.acos(min(max(cosine, -1.0), 1.0)))
