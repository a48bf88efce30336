"""One day of a place: rise and set, golden and blue hours, minutes of usable sun."""

from __future__ import annotations

import datetime
from contextlib import suppress
from dataclasses import dataclass
from functools import lru_cache
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import numpy as np

from ..impossible import Impossible
from ..plan.kit import Room
from ..slices import runs_of
from .horizon import horizon_at, shines
from .track import YEARS, Track, sun_track

#: The sun's middle at rising and setting, without the air's lift: 34 minutes of arc that the air
#: lifts it by, and half its width (the almanacs' rule).
RISE_DEG = -50.0 / 60.0
#: Golden: low and warm; blue: gone, the sky still bright (common practice).
GOLDEN = (-4.0, 6.0)
BLUE = (-6.0, -4.0)


@dataclass(frozen=True)
class SunSpan:
    """From one time to another, seconds since 1970 UTC."""

    start: float
    end: float

    @property
    def minutes(self) -> float:
        """How long it is."""
        return (self.end - self.start) / 60.0


@dataclass(frozen=True)
class SunHour:
    """The sun at a full hour of the place's own clock."""

    clock: str
    azimuth_deg: float
    elevation_deg: float


@dataclass(frozen=True)
class SunDay:
    """The sun over one day. `path` holds (azimuth, elevation) every ten minutes while it is up;
    `hours` the full ones. `lit`: when it clears the skyline. `rise` (the first) and `set` (the
    last) over a level horizon are None where it does not rise or does not set on that day; where
    the clock and the sun disagree, it may set first and rise later."""

    date: datetime.date
    rise: float | None
    set: float | None
    highest_deg: float
    lit: tuple[SunSpan, ...]
    golden: tuple[SunSpan, ...]
    blue: tuple[SunSpan, ...]
    path: tuple[tuple[float, float], ...]
    hours: tuple[SunHour, ...]

    @property
    def usable_min(self) -> float:
        """Minutes in which the sun shines on the place."""
        return sum(s.minutes for s in self.lit)


def zone_of(room: Room) -> ZoneInfo:
    """The clock of a place. Raises Impossible for a name that is not known."""
    try:
        return ZoneInfo(room.time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError) as error:
        raise Impossible(
            f"There is no time zone called {room.time_zone!r}.", "time_zone"
        ) from error


def clock_of(*names: str) -> ZoneInfo:
    """The clock that a day's work goes by: the first of these time zones that is known ("" is
    none), else UTC."""
    for name in names:
        with suppress(ZoneInfoNotFoundError, ValueError, OSError):
            if name:
                return ZoneInfo(name)
    return ZoneInfo("UTC")


def place_of(room: Room) -> tuple[float, float]:
    """(latitude, longitude). Raises Impossible where the place is not known."""
    if room.latitude_deg is None or room.longitude_deg is None:
        raise Impossible(
            f"{room.name} has no latitude and longitude yet: give them in the kit.", "latitude_deg"
        )
    return room.latitude_deg, room.longitude_deg


def within_years(date: datetime.date) -> datetime.date:
    """The date itself. Raises Impossible where the sun is not told for its year."""
    if not YEARS[0] <= date.year <= YEARS[1]:
        raise Impossible(f"The sun is told for the years {YEARS[0]} to {YEARS[1]}.", "film_on")
    return date


def days_after(date: datetime.date, days: int) -> datetime.date:
    """The date so many days later. Raises Impossible as `within_years` does."""
    return within_years(date) + datetime.timedelta(days=days)


def midnight(date: datetime.date, zone: ZoneInfo) -> float:
    """Seconds since 1970 UTC at the beginning of a day. Raises Impossible for a day of a year that
    the sun is not told for."""
    within_years(date)
    return datetime.datetime.combine(date, datetime.time(), zone).timestamp()


@lru_cache(maxsize=256)
def _minutes(latitude: float, longitude: float, start: float, end: float) -> Track:
    return sun_track(np.arange(start, end + 1.0, 60.0), latitude, longitude)


def day_track(room: Room, date: datetime.date) -> Track:
    """Every minute of one day, by the clock of the place. Raises Impossible for a place or a
    day without sun."""
    zone = zone_of(room)
    return _minutes(*place_of(room), midnight(date, zone), midnight(days_after(date, 1), zone))


def azimuth_amid(track: Track, span: SunSpan) -> float:
    """Where the sun stands in the middle of a span."""
    middle = int(np.argmin(np.abs(track.times - (span.start + span.end) / 2.0)))
    return float(track.azimuth_at(np.array([middle]))[0])


def spans(times: np.ndarray, good: np.ndarray) -> tuple[SunSpan, ...]:
    """Runs of True as times; each reaches half a step beyond its ends, none beyond the list."""
    if not good.any():
        return ()
    half = float(times[1] - times[0]) / 2.0 if len(times) > 1 else 0.0
    first, last = float(times[0]), float(times[-1])
    return tuple(
        SunSpan(max(float(times[a]) - half, first), min(float(times[b - 1]) + half, last))
        for a, b in runs_of(good)
    )


def _crossing(track: Track, minute: int, place: tuple[float, float]) -> float:
    """The second of a minute in which the sun comes up or goes down."""
    times = track.times[minute] + np.arange(61.0)
    up = sun_track(times, *place, pressure_pa=0.0).elevation_deg > RISE_DEG
    return float(times[int((up != up[0]).argmax())])


@lru_cache(maxsize=64)
def sun_day(room: Room, date: datetime.date) -> SunDay:
    """The sun over `room` on `date`, by its own clock."""
    zone, track = zone_of(room), day_track(room, date)
    place = place_of(room)
    up = sun_track(track.times, *place, pressure_pa=0.0).elevation_deg > RISE_DEG
    turns = np.diff(up.astype(np.int8))
    rises, sets = np.flatnonzero(turns > 0), np.flatnonzero(turns < 0)
    elevation, azimuth = track.elevation_deg, track.azimuth_deg

    def between(low: float, high: float) -> tuple[SunSpan, ...]:
        return spans(track.times, (elevation >= low) & (elevation < high))

    tens = np.flatnonzero(up)[::10]
    full = [i for i in range(0, len(track.times), 60) if elevation[i] > -6.0]
    return SunDay(
        date,
        _crossing(track, int(rises[0]), place) if len(rises) else None,
        _crossing(track, int(sets[-1]), place) if len(sets) else None,
        float(elevation.max()),
        spans(track.times, shines(room.horizon, azimuth, elevation)),
        between(*GOLDEN),
        between(*BLUE),
        tuple((round(float(azimuth[i]), 2), round(float(elevation[i]), 2)) for i in tens),
        tuple(
            SunHour(
                datetime.datetime.fromtimestamp(float(track.times[i]), zone).strftime("%H"),
                round(float(azimuth[i]), 2),
                round(float(elevation[i]), 2),
            )
            for i in full
        ),
    )


def skyline(room: Room) -> tuple[tuple[float, float], ...]:
    """The horizon of a place every five degrees, for drawing."""
    azimuths = np.arange(0.0, 361.0, 5.0)
    return tuple(
        (float(a), round(float(e), 2))
        for a, e in zip(azimuths, horizon_at(room.horizon, azimuths), strict=True)
    )
