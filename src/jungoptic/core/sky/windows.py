"""Light-match windows: when the sun of a place agrees with the light of a story.

Model and camera can be turned, so only the height of the sun is given; its side follows from where
the camera is pointed. A camera that cannot turn needs both.
"""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..angles import turn_deg
from ..impossible import Impossible
from ..plan.kit import Room
from ..slices import runs_of
from .day import azimuth_amid, day_track, midnight, place_of, spans, zone_of
from .horizon import shines
from .track import Track, sun_track

#: How far the sun may be off in height and in side, degrees (judgement: at 30 degrees three more
#: shorten a shadow by a ninth).
TOLERANCE_DEG = 3.0
SIDE_TOLERANCE_DEG = 10.0
#: Shorter windows are over before the camera is level, minutes (judgement).
SHORTEST_MIN = 10.0


@dataclass(frozen=True)
class LightWindow:
    """One stretch of time that matches, seconds since 1970 UTC; where to point the camera at its
    beginning, middle and end, degrees from north (None: as it stands); the sun's place in the
    middle of it. `turn_deg`: how far to turn the camera between beginning and end."""

    start: float
    end: float
    heading_deg: float
    turn_deg: float
    azimuth_deg: float
    elevation_deg: float

    @property
    def minutes(self) -> float:
        """How long it lasts."""
        return (self.end - self.start) / 60.0


@dataclass(frozen=True)
class LightWindows:
    """What was found from `first` on for `days` days. `strip`: minutes that match by day and hour
    of the place's clock (days, 24). `fails`: why there are none, or few, in words. `highest_deg`:
    how high the sun comes at most, by day."""

    first: datetime.date
    days: int
    found: tuple[LightWindow, ...]
    strip: tuple[tuple[int, ...], ...]
    highest_deg: tuple[float, ...]
    fails: tuple[str, ...]


CLOUD = (
    "This is astronomy: whether the sun shines then is the weather's. Under cloud the side is lost "
    "and shadows go soft, however right the hour; keep a second window."
)


@lru_cache(maxsize=8)
def year_track(latitude: float, longitude: float, start: float, days: int) -> Track:
    """Every minute of so many days."""
    return sun_track(start + np.arange(days * 1440, dtype=np.float64) * 60.0, latitude, longitude)


def matching(
    track: Track,
    room: Room,
    elevation_deg: float,
    key_from_deg: float | None,
    heading_deg: float | None,
    tolerance_deg: float = TOLERANCE_DEG,
) -> np.ndarray:
    """Which times of a track match, (n,) of bool."""
    good = np.abs(track.elevation_deg - elevation_deg) <= tolerance_deg
    good &= track.elevation_deg > 0.0
    rows = np.flatnonzero(good)
    azimuth = track.azimuth_at(rows)
    kept = shines(room.horizon, azimuth, track.elevation_deg[rows])
    if heading_deg is not None and key_from_deg is not None:
        kept &= np.abs(turn_deg(azimuth - heading_deg - key_from_deg)) <= SIDE_TOLERANCE_DEG
    found = np.zeros(len(track.times), dtype=bool)
    found[rows[kept]] = True
    return found


def light_windows(
    room: Room,
    first: datetime.date,
    days: int,
    elevation_deg: float,
    key_from_deg: float | None,
    heading_deg: float | None = None,
    tolerance_deg: float = TOLERANCE_DEG,
) -> LightWindows:
    """Every window in `days` days from `first`. Raises Impossible for a place without sun or more
    than 400 days."""
    if not 1 <= days <= 400:
        raise Impossible("Windows are sought in 1 to 400 days.", "days")
    zone = zone_of(room)
    latitude, longitude = place_of(room)
    start = midnight(first, zone)
    track = year_track(latitude, longitude, start, days)
    good = matching(track, room, elevation_deg, key_from_deg, heading_deg, tolerance_deg)
    found = []
    for span in spans(track.times, good):
        if span.minutes < SHORTEST_MIN:
            continue
        a, b = (round((t - start) / 60.0) for t in (span.start, span.end))
        a, b = max(a, 0), min(b, len(track.times) - 1)
        middle = (a + b) // 2
        side = key_from_deg or 0.0
        azimuths = track.azimuth_at(np.array([a, middle, b]))
        headings = [float((azimuth - side) % 360.0) for azimuth in azimuths]
        turn = turn_deg(headings[2] - headings[0])
        found.append(
            LightWindow(
                span.start,
                span.end,
                headings[1] if heading_deg is None else heading_deg,
                turn if heading_deg is None else 0.0,
                float(azimuths[1]),
                float(track.elevation_deg[middle]),
            )
        )
    # Hours of the strip by the clock of the first day; the hour lost or won in between is left out.
    strip = good.reshape(days, 24, 60).sum(axis=2)
    highest = track.elevation_deg.reshape(days, 1440).max(axis=1)
    return LightWindows(
        first,
        days,
        tuple(found),
        tuple(tuple(int(v) for v in row) for row in strip),
        tuple(round(float(v), 1) for v in highest),
        _fails(
            first,
            highest,
            np.asarray(good.reshape(days, 1440).any(axis=1)),
            elevation_deg,
            tolerance_deg,
            heading_deg is not None,
        ),
    )


def heading_on(
    room: Room,
    date: datetime.date,
    elevation_deg: float | None,
    key_from_deg: float | None,
    heading_deg: float | None,
) -> float | None:
    """Where the camera points on a day, degrees from north: as it stands, or in the middle of the
    first window; None where neither is known."""
    if heading_deg is not None:
        return heading_deg
    if elevation_deg is None or key_from_deg is None:
        return None
    track = day_track(room, date)
    found = spans(track.times, matching(track, room, elevation_deg, key_from_deg, None))
    if not found:
        return None
    return (azimuth_amid(track, found[0]) - key_from_deg) % 360.0


def _fails(
    first: datetime.date,
    highest: np.ndarray,
    matched: np.ndarray,
    elevation_deg: float,
    tolerance_deg: float,
    fixed: bool,
) -> tuple[str, ...]:
    words = []
    low = highest < elevation_deg - tolerance_deg
    for a, b in runs_of(low):
        one, two = (first + datetime.timedelta(days=i) for i in (a, b - 1))
        words.append(
            f"From {one:%-d %B %Y} to {two:%-d %B %Y} the sun does not come up to "
            f"{elevation_deg:.0f}°."
        )
    dark = int((~matched & ~low).sum())
    if dark and fixed:
        words.append(
            f"On {dark} more days it comes that high, but not from the side that this camera "
            "needs: let it turn, or turn the set."
        )
    elif dark:
        words.append(
            f"On {dark} more days it comes that high only behind the skyline, or for an instant."
        )
    return (*words, CLOUD)
