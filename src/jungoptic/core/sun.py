"""Where the sun stands. Source: NREL SPA (Reda & Andreas, NREL/TP-560-34302), through pvlib."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

import numpy as np

from .checks_on_input import finite, not_negative
from .impossible import Impossible
from .spa import spa

#: Atmospheric refraction at sunrise and sunset that the SPA report uses, degrees.
REFRACTION_AT_HORIZON_DEG = 0.5667


@dataclass(frozen=True)
class SunPosition:
    """Azimuth from north through east (0..360) and apparent elevation, in degrees."""

    azimuth_deg: float
    elevation_deg: float


def sun_position(
    when: datetime,
    latitude_deg: float,
    longitude_deg: float,
    elevation_m: float = 0.0,
    pressure_pa: float = 101325.0,
    temperature_c: float = 12.0,
) -> SunPosition:
    """The sun at `when` (timezone-aware), seen from a place: north and east are positive.

    The elevation is apparent: refraction is included. Raises Impossible for a naive time or a
    latitude or longitude off the globe.
    """
    if when.tzinfo is None or when.utcoffset() is None:
        raise Impossible(
            "the time must carry a time zone: the sun does not know your clock.", "when"
        )
    if not -90.0 <= latitude_deg <= 90.0:
        raise Impossible(
            f"latitude must lie in -90..90 degrees, not {latitude_deg!r}.", "latitude_deg"
        )
    if not -180.0 <= longitude_deg <= 180.0:
        raise Impossible(
            f"longitude must lie in -180..180 degrees, not {longitude_deg!r}.", "longitude_deg"
        )
    finite("elevation", elevation_m)
    not_negative("pressure", pressure_pa)
    finite("temperature", temperature_c)
    module = spa()
    rows = module.solar_position(
        np.array([when.timestamp()]),
        latitude_deg,
        longitude_deg,
        elevation_m,
        pressure_pa / 100.0,
        temperature_c,
        module.calculate_deltat(when.year, when.month),
        REFRACTION_AT_HORIZON_DEG,
    )
    apparent_elevation, azimuth = rows[2], rows[4]
    return SunPosition(float(azimuth[0]), float(apparent_elevation[0]))
