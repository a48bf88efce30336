"""The depth rail: what happens along the distance from the lens, in world metres."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np

from .. import haze, optics
from ..plan.shot import Shot
from ..stage.case import Case

#: The rail runs from here to infinity; curves are drawn as far as `FARTHEST_M`.
NEAREST_M = 0.1
FARTHEST_M = 10_000.0
STEPS = 81


@dataclass(frozen=True)
class Sharp:
    """One focus pass on the rail: its focus and what it keeps sharp, world metres."""

    focus_m: float
    near_m: float
    far_m: float


@dataclass(frozen=True)
class Rail:
    """Curves over `distances_m` (n,), all in world metres from the lens.

    `blur_px`: blur disc in delivered pixels at the tightest view, in the pass that shows each
    distance best, diffraction included; None where the lens cannot form a picture. `haze`: how much
    of a thing the air covers, 0..1; empty in clear air. `drift_px`: pixels per frame that a thing
    standing there moves at the fastest moment of a camera that tracks, pushes or cranes; empty for
    one that does not. `needed_m`: what must be sharp. `front_m`: the lens front.
    """

    distances_m: tuple[float, ...]
    blur_px: tuple[float | None, ...]
    haze: tuple[float, ...]
    drift_px: tuple[float, ...]
    passes: tuple[Sharp, ...]
    needed_m: tuple[float, float] | None
    front_m: float
    scale: float


@cache
def _grid() -> tuple[float, ...]:
    return tuple(float(d) for d in np.geomspace(NEAREST_M, FARTHEST_M, STEPS))


def haze_along(shot: Shot, distances: tuple[float, ...]) -> tuple[float, ...]:
    """Part of each distance's light that the air has replaced, 1 - T; empty in clear air."""
    if shot.visibility_m is None:
        return ()
    return _haze(shot.visibility_m, distances)


@lru_cache(maxsize=256)
def _haze(visibility_m: float, distances: tuple[float, ...]) -> tuple[float, ...]:
    """Kept, since the air stays the same while things are dragged about in it."""
    return tuple(1.0 - haze.transmission(d, visibility_m) for d in distances)


def drift_along(shot: Shot, distances: tuple[float, ...]) -> tuple[float, ...]:
    """Fastest image drift of something standing at each distance, px per frame: f v / d for
    movement across, and for a push what it does at the picture's edge. Source: pinhole projection
    (multiplane rule: speeds go with the inverse distance)."""
    move = shot.move
    if not move.length_m:
        return ()
    delivery, world = shot.delivery, shot.world
    focal_px = world.focal_mm / world.sensor_width_mm * delivery.width_px * move.tightest
    # The easing that starts and ends at rest is half as fast again in the middle; the others twice.
    peak = {"even": 1.0, "in": 2.0, "out": 2.0, "both": 1.5}[move.ease] / shot.frames
    across = math.hypot(move.right_m, move.up_m) * peak
    push = abs(move.away_m) * peak
    edge = delivery.width_px / 2.0
    return tuple(across * focal_px / d + push * edge / d for d in distances)


@lru_cache(maxsize=256)
def _blur_mm(
    focal_mm: float,
    f_number: float,
    focused_m: tuple[float, ...],
    airy_mm: float,
    scale: float,
    pupil_ratio: float,
) -> tuple[float | None, ...]:
    """The blur on the sensor along the grid. Kept, since lens, stop and focus stay the same while
    things are dragged about before them."""
    found: list[float | None] = []
    for d in _grid():
        at = d / scale
        if at * 1000.0 <= focal_mm / pupil_ratio:
            found.append(None)
            continue
        disc = min(optics.blur_disc_mm(focal_mm, f_number, u, at, pupil_ratio) for u in focused_m)
        found.append(optics.total_blur_mm(disc, airy_mm))
    return tuple(found)


def rail(case: Case) -> Rail:
    """The rail of one plate: its own focus and blur at its own scale, told in world metres."""
    stage, scale = case.stage, case.plate.scale
    distances = _grid()
    per_mm = case.shot.delivery.width_px / stage.tightest_mm
    focused = tuple(p.focus_m for p in stage.passes)
    blur = _blur_mm(
        stage.focal_mm,
        case.plate.f_number,
        focused,
        stage.airy_mm,
        scale,
        stage.choice.lens.pupil_ratio,
    )
    needed = None
    if stage.near_m is not None and stage.far_m is not None:
        needed = (stage.near_m * scale, stage.far_m * scale)
    return Rail(
        distances,
        tuple(None if b is None else b * per_mm for b in blur),
        haze_along(case.shot, distances),
        drift_along(case.shot, distances),
        tuple(Sharp(p.focus_m * scale, p.near_m * scale, p.far_m * scale) for p in stage.passes),
        needed,
        (stage.sensor_to_front_m - stage.sensor_to_pupil_m) * scale,
        scale,
    )
