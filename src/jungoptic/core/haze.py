"""Air: how much of a distant thing is left behind the haze. Source: Koschmieder's law."""

from __future__ import annotations

import math

from .checks_on_input import not_negative, positive
from .impossible import Impossible


def extinction_per_m(visibility_m: float, contrast: float = 0.02) -> float:
    """How fast air of that visibility takes contrast away, per metre: b = -ln(contrast) / V.

    Raises Impossible unless the visibility is above zero and the contrast between 0 and 1.
    """
    positive("visibility", visibility_m)
    if not 0.0 < contrast < 1.0:
        raise Impossible(f"contrast must lie between 0 and 1, not {contrast!r}.", "contrast")
    return -math.log(contrast) / visibility_m


def transmission(distance_m: float, visibility_m: float, contrast: float = 0.02) -> float:
    """Part of the light (0..1) that crosses `distance_m` of air with that visibility.

    T = exp(-b d), b = -ln(contrast) / V. 2 % contrast gives b = 3.912 / V; the meteorological
    convention of 5 % gives 2.996 / V (WMO No. 8, from memory). Overlay opacity is 1 - T.

    Raises Impossible unless distance is zero or more.
    """
    not_negative("distance", distance_m)
    return math.exp(-extinction_per_m(visibility_m, contrast) * distance_m)
