"""Lamps and shadows: fall-off, hardness, shadow length, colour shift."""

from __future__ import annotations

import math

from .checks_on_input import not_negative, positive
from .impossible import Impossible


def falloff_stops(lamp_distance_m: float, depth_m: float) -> float:
    """Light lost from the near edge of a set to its far edge, 2 log2((D + w) / D), in stops.

    Inverse square of a lamp that is small for its distance; `depth_m` is measured away from it.

    Raises Impossible unless lamp distance is above zero and depth of the set is zero or more.
    """
    d = positive("lamp distance", lamp_distance_m)
    return 2.0 * math.log2((d + not_negative("depth of the set", depth_m)) / d)


def lamp_distance_for_falloff_m(depth_m: float, stops: float) -> float:
    """Nearest lamp distance at which a set `depth_m` deep loses no more than `stops`.

    Raises Impossible unless depth of the set and fall-off are above zero.
    """
    ratio = math.pow(2.0, positive("fall-off", stops) / 2.0)
    return positive("depth of the set", depth_m) / (ratio - 1.0)


def mired_shift(from_k: float, to_k: float) -> float:
    """Colour shift in mired (reciprocal megakelvin), 1e6/to - 1e6/from; negative is bluer.

    Raises Impossible unless target temperature and temperature are above zero.
    """
    return 1e6 / positive("target temperature", to_k) - 1e6 / positive("temperature", from_k)


def shadow_length_m(height_m: float, elevation_deg: float) -> float:
    """Length of a shadow on level ground, h / tan(elevation); inf at the horizon, 0 overhead.

    Raises Impossible for a negative height or an elevation outside 0..90 degrees.
    """
    not_negative("height", height_m)
    if not 0.0 <= elevation_deg <= 90.0:
        raise Impossible(
            f"light elevation must lie in 0..90 degrees, not {elevation_deg!r}.", "elevation_deg"
        )
    if elevation_deg == 0.0:
        return math.inf if height_m > 0 else 0.0
    return 0.0 if elevation_deg == 90.0 else height_m / math.tan(math.radians(elevation_deg))


def width_at_m(size_deg: float, distance_m: float) -> float:
    """How wide a thing is that looks `size_deg` wide from `distance_m`, 2 d tan(a / 2); the soft
    edge of a shadow on a surface that far behind what throws it, too."""
    return 2.0 * distance_m * math.tan(math.radians(size_deg) / 2.0)


def penumbra_m(occluder_distance_m: float, source_size_m: float, source_distance_m: float) -> float:
    """Width of a shadow's soft edge: occluder distance * source size / lamp distance.

    `occluder_distance_m` runs from the edge that casts the shadow to the surface that takes it;
    `source_distance_m` from the lamp to that edge.

    Raises Impossible unless source distance is above zero and occluder distance and source size
    are zero or more.
    """
    not_negative("occluder distance", occluder_distance_m)
    not_negative("source size", source_size_m)
    return occluder_distance_m * source_size_m / positive("source distance", source_distance_m)
