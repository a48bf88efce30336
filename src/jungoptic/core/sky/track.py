"""Where the sun stands at many times at once, fast enough for a year in steps of a minute.

The slow part of the algorithm, the sun's own place among the stars, is worked out a few times a day
and joined by cubics; the quick part, the turning of the earth, is exact at every time.
Source: NREL SPA (Reda & Andreas, NREL/TP-560-34302) through pvlib; a test compares every step with
the whole algorithm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from ..camera import Array
from ..impossible import Impossible
from ..spa import spa as whole_algorithm
from ..sun import REFRACTION_AT_HORIZON_DEG

#: Hours between the times at which the slow part is worked out.
NODE_HOURS = 6
DAY_S = 86_400
YEAR_S = 365.2425 * DAY_S
#: Outside these nobody plans a shot, and the length of the day is a guess.
YEARS = (1900, 2200)
#: Radius of the earth over the distance of the sun: horizontal parallax, degrees (SPA, eq. 38).
PARALLAX_DEG = 8.794 / 3600.0


@dataclass(frozen=True)
class Track:
    """The sun at `times` (n,), seconds since 1970 UTC: apparent elevation and azimuth from north
    through east 0..360, degrees, (n,) each. `west` and `south` are what the azimuth is told by."""

    times: Array
    elevation_deg: Array
    west: Array
    south: Array

    @cached_property
    def azimuth_deg(self) -> Array:
        """Azimuths (n,): worked out when they are asked for, since the height often decides."""
        return self.azimuth_at(slice(None))

    def azimuth_at(self, which: Any) -> Array:
        """Azimuths of some of the times."""
        found: Array = (np.degrees(np.arctan2(self.west[which], self.south[which])) + 180.0) % 360.0
        return found


@lru_cache(maxsize=16)
def _nodes(first: int, last: int) -> tuple[Array, Array, Array, Array]:
    """(times, right ascension unwrapped, declination, apparent sidereal time less mean) in degrees
    at every node from `first` to `last` (node numbers)."""
    spa = whole_algorithm()
    times = np.arange(first, last + 1, dtype=np.float64) * NODE_HOURS * 3600.0
    middle = float(times[len(times) // 2])
    year = 1970 + int(middle / (365.2425 * DAY_S))
    delta_t = spa.calculate_deltat(year, 6)
    jd = spa.julian_day(times)
    jde = spa.julian_ephemeris_day(jd, delta_t)
    jc, jce = spa.julian_century(jd), spa.julian_ephemeris_century(jde)
    jme = spa.julian_ephemeris_millennium(jce)
    radius = spa.heliocentric_radius_vector(jme)
    longitude = spa.geocentric_longitude(spa.heliocentric_longitude(jme))
    latitude = spa.geocentric_latitude(spa.heliocentric_latitude(jme))
    xs = [
        f(jce)
        for f in (
            spa.mean_elongation,
            spa.mean_anomaly_sun,
            spa.mean_anomaly_moon,
            spa.moon_argument_latitude,
            spa.moon_ascending_longitude,
        )
    ]
    nutation = np.empty((2, len(times)))
    spa.longitude_obliquity_nutation(jce, *xs, nutation)
    obliquity = spa.true_ecliptic_obliquity(spa.mean_ecliptic_obliquity(jme), nutation[1])
    seen = spa.apparent_sun_longitude(longitude, nutation[0], spa.aberration_correction(radius))
    ascension = spa.geocentric_sun_right_ascension(seen, obliquity, latitude)
    declination = spa.geocentric_sun_declination(seen, obliquity, latitude)
    mean = spa.mean_sidereal_time(jd, jc)
    apparent = spa.apparent_sidereal_time(mean, nutation[0], obliquity)
    extra = (apparent - mean + 180.0) % 360.0 - 180.0
    unwrapped = np.degrees(np.unwrap(np.radians(ascension)))
    return times, unwrapped, declination, extra


def _cubic(at: Array, values: Array) -> Array:
    """Values between nodes by four-point Lagrange; `at` in nodes from the first, 1..n-2."""
    i = np.clip(np.floor(at).astype(np.int64), 1, len(values) - 3)
    t = at - i
    a, b, c, d = values[i - 1], values[i], values[i + 1], values[i + 2]
    found: Array = (
        -t * (t - 1.0) * (t - 2.0) / 6.0 * a
        + (t + 1.0) * (t - 1.0) * (t - 2.0) / 2.0 * b
        - (t + 1.0) * t * (t - 2.0) / 2.0 * c
        + (t + 1.0) * t * (t - 1.0) / 6.0 * d
    )
    return found


def sun_track(
    times: Array,
    latitude_deg: float,
    longitude_deg: float,
    pressure_pa: float = 101325.0,
    temperature_c: float = 12.0,
) -> Track:
    """The sun at `times` (n,), seconds since 1970 UTC, all at once. Within 0.001 degrees of
    `sun.sun_position`. Raises Impossible off the globe or without times."""
    times = np.asarray(times, dtype=np.float64)
    if not len(times):
        raise Impossible("The sun needs at least one time.")
    if not (-90.0 <= latitude_deg <= 90.0 and -180.0 <= longitude_deg <= 180.0):
        raise Impossible(
            "Latitude lies in -90..90 and longitude in -180..180 degrees.", "latitude_deg"
        )
    if not YEARS[0] <= 1970.0 + times.min() / YEAR_S <= 1970.0 + times.max() / YEAR_S <= YEARS[1]:
        raise Impossible(f"The sun is told for the years {YEARS[0]} to {YEARS[1]}.", "date")
    span = NODE_HOURS * 3600
    first, last = math.floor(times.min() / span) - 2, math.ceil(times.max() / span) + 2
    nodes, ascension, declination, extra = _nodes(first, last)
    hours = np.arange(math.floor(times.min() / 3600), math.ceil(times.max() / 3600) + 1) * 3600.0
    at = (hours - nodes[0]) / span
    right, down, shift = (_cubic(at, v) for v in (ascension, declination, extra))
    days = hours / DAY_S + 2440587.5 - 2451545.0
    # Mean sidereal time at Greenwich (SPA, equation 28).
    sidereal = 280.46061837 + 360.98564736629 * days + 0.000387933 * (days / 36525.0) ** 2
    turned = sidereal + shift - right + longitude_deg
    turned -= 360.0 * math.floor(turned[0] / 360.0)
    # The earth turns evenly and the slow part runs almost straight within an hour: from here on
    # straight lines are exact to a millionth of a degree, and cost little. What is as long as the
    # times is changed in place, since new memory costs more than the arithmetic.
    hour = np.interp(times, hours, np.radians(turned))
    sin_d = np.interp(times, hours, np.sin(np.radians(down)))
    cos_d = np.sqrt(1.0 - sin_d * sin_d)
    west = np.sin(hour)
    west *= cos_d
    ahead = np.cos(hour, out=hour)
    ahead *= cos_d
    phi = math.radians(latitude_deg)
    height = ahead * math.cos(phi)
    height += sin_d * math.sin(phi)
    np.clip(height, -1.0, 1.0, out=height)
    south = np.multiply(ahead, math.sin(phi), out=ahead)
    south -= np.multiply(sin_d, math.cos(phi), out=sin_d)
    true = np.degrees(np.arcsin(height))
    # Seen from the surface it stands lower by its parallax (under 9 seconds of arc).
    height *= height
    true -= PARALLAX_DEG * np.sqrt(1.0 - height)
    up = true >= -(0.26667 + REFRACTION_AT_HORIZON_DEG)
    true[up] += _refraction(true[up], pressure_pa, temperature_c)
    return Track(times, true, west, south)


def _refraction(true_deg: Array, pressure_pa: float, temperature_c: float) -> Array:
    """How much the air lifts the sun while any of it is up (SPA, equation 42)."""
    with np.errstate(divide="ignore", invalid="ignore"):
        lift = (
            pressure_pa
            / 101000.0
            * 283.0
            / (273.0 + temperature_c)
            * 1.02
            / (60.0 * np.tan(np.radians(true_deg + 10.3 / (true_deg + 5.11))))
        )
    found: Array = lift
    return found
