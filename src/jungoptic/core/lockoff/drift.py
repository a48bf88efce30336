"""How long the sun leaves for the halves of a lock-off before they no longer match."""

from __future__ import annotations

import datetime
import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..angles import towards
from ..camera import Array
from ..plan.kit import Room
from ..sky.day import day_track
from ..sky.daylight import ground_lux
from ..sky.horizon import shines

#: How far the sun may go between two halves before a shadow is seen to have moved, degrees, and how
#: much its light on the ground may change, stops (judgement).
TURN_DEG = 2.0
LEVEL_STOPS = 0.1


@dataclass(frozen=True)
class SunDrift:
    """Minutes until the sun has turned or its light changed too much, for the worst and the best
    start on that day while it stands above the skyline, and where between they lie at `around`
    (seconds since 1970). `by`: what runs out first then."""

    around: float
    minutes: float
    by: str
    worst_min: float
    best_min: float


def drift_minutes(azimuth: Array, elevation: Array) -> tuple[Array, Array]:
    """From minute tables (n,) of the sun: for every minute how many more until it has turned by
    `TURN_DEG`, and until light on level ground has changed by `LEVEL_STOPS`, by the height of the
    sun and by the air it shines through; inf where the day ends before."""
    ways = towards(azimuth, elevation)
    with np.errstate(divide="ignore", invalid="ignore"):
        level = np.log2(np.maximum(ground_lux(elevation), 1e-6))
    n = len(azimuth)
    turned, changed = np.full(n, np.inf), np.full(n, np.inf)
    limit = math.cos(math.radians(TURN_DEG))
    for step in range(1, min(n, 241)):
        gone = (ways[:-step] * ways[step:]).sum(axis=1) <= limit
        other = np.abs(level[:-step] - level[step:]) >= LEVEL_STOPS
        for found, now in ((turned, gone), (changed, other)):
            head = found[:-step]
            head[now & np.isinf(head)] = step
    return turned, changed


@lru_cache(maxsize=64)
def sun_drift(room: Room, date: datetime.date) -> SunDrift | None:
    """How long halves may lie apart under the sun of a place on a day, told for the middle of its
    shining; None while it never shines. Raises Impossible for an impossible place."""
    track = day_track(room, date)
    shining = shines(room.horizon, track.azimuth_deg, track.elevation_deg)
    if not shining.any():
        return None
    turned, changed = drift_minutes(track.azimuth_deg, track.elevation_deg)
    both = np.minimum(turned, changed)
    at = np.flatnonzero(shining)
    middle = int(at[len(at) // 2])
    seen = both[at]
    return SunDrift(
        float(track.times[middle]),
        float(both[middle]) if np.isfinite(both[middle]) else 240.0,
        "its direction" if turned[middle] <= changed[middle] else "its level",
        float(seen.min()),
        float(np.where(np.isfinite(seen), seen, 240.0).max()),
    )
