"""How bright a clear day is: the sun thinned by the air it shines through, and the sky's own light.

Source: IES calculation of daylight availability, RP-21 (from memory); air mass by Kasten and Young
1989.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from ..camera import Array

#: The sun outside the air, lux on what faces it, and what one air mass takes (RP-21, clear sky).
OUTSIDE_LUX, EXTINCTION = 127_500.0, 0.21


def air_mass(elevation_deg: ArrayLike) -> Array:
    """How much more air the sun shines through than from straight above; `inf` below the horizon.
    1 in the zenith, 2 at 30 degrees, 38 at the horizon."""
    e = np.asarray(elevation_deg, dtype=np.float64)
    up = np.maximum(e, 0.0)
    mass = 1.0 / (np.sin(np.radians(up)) + 0.50572 * np.power(up + 6.07995, -1.6364))
    found: Array = np.where(e >= 0.0, mass, np.inf)
    return found


def direct_lux(elevation_deg: ArrayLike) -> Array:
    """The clear sun on what faces it, lux; 0 below the horizon."""
    found: Array = OUTSIDE_LUX * np.exp(-EXTINCTION * air_mass(elevation_deg))
    return found


def sky_lux(elevation_deg: ArrayLike) -> Array:
    """The clear sky on level ground, lux; 0 below the horizon."""
    e = np.asarray(elevation_deg, dtype=np.float64)
    height = np.sin(np.radians(np.maximum(e, 0.0)))
    found: Array = np.where(e > 0.0, 800.0 + 15_500.0 * np.sqrt(height), 0.0)
    return found


def ground_lux(elevation_deg: ArrayLike) -> Array:
    """Sun and clear sky on level ground, lux; 0 below the horizon."""
    height = np.sin(np.radians(np.maximum(np.asarray(elevation_deg, dtype=np.float64), 0.0)))
    found: Array = direct_lux(elevation_deg) * height + sky_lux(elevation_deg)
    return found


def dimmed_low(elevation_deg: float) -> float:
    """The part that is left of the sun's light overhead when it stands lower."""
    return float(np.exp(-EXTINCTION * (air_mass(elevation_deg) - 1.0)))
