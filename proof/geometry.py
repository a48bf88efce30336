"""Where things are in the picture, how sharp they are, and how they smear."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import numpy as np

from jungoptic.core import optics
from jungoptic.core.judging.numbers import numbers_of
from jungoptic.core.judging.smear import filmed_share, smear_ratio
from jungoptic.core.plan.standins import StandIn, measured_points
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.solids import solid_of
from jungoptic.render.scene import Eye
from jungoptic.render.staged import eye_of, open_part

from .looks import Array, Spot, disc_px, spot_of
from .reading import DISC, PARALLAX, PLACE, SHARP, SMEAR, Reading

#: So many points of a plan are looked at, and so wide a blur disc is drawn, pixels.
POINTS, DISC_PX = 3, 24.0
#: So many of the fastest points of what moves are looked at.
FASTEST = 6


def _still(case: Case, part: float) -> Eye:
    """The stage's camera as a pinhole that holds still."""
    eye = eye_of(case, part, pinhole=True)
    return replace(eye, closing=eye.pose)


def _predicted(case: Case, points: Array, part: float) -> Array:
    """Pixels (n, 2) where the core has points (n, 3) of the stage at a part of the shot."""
    shot = case.shot
    camera = shot.move.moved(case.stage.camera, part, case.plate.scale)
    return camera.project(points, shot.delivery.width_px, shot.delivery.height_px)


def _spot(case: Case, eye: Eye, at: Array, pixel: Array) -> Spot | None:
    if not np.isfinite(pixel).all():
        return None
    return spot_of(eye, at, (float(pixel[0]), float(pixel[1])), case.shot.delivery.width_px)


def places(plan: int, case: Case) -> Iterator[Reading]:
    """Named points where the core has them, as the shot begins and as it ends, and how far a move
    draws them apart."""
    points = case.plate.on_stage(
        np.concatenate([measured_points(s).points for s in case.shot.stand_ins])
    )
    ends = (0.0, 1.0) if not case.shot.move.still else (0.0,)
    pixels = [_predicted(case, points, part) for part in ends]
    width, height = case.shot.delivery.width_px, case.shot.delivery.height_px
    inside = np.all(
        [(p > 14.0).all(axis=1) & (p < (width - 14, height - 14)).all(axis=1) for p in pixels],
        axis=0,
    )
    rows = np.flatnonzero(inside)
    random.Random(plan).shuffle(chosen := rows.tolist())
    gone = []
    for row in chosen[:POINTS]:
        found = []
        for part, pixel in zip(ends, pixels, strict=True):
            spot = _spot(case, _still(case, part), points[row], pixel[row])
            if spot is None:
                break
            found.append((spot.x_px, spot.y_px))
            off = math.hypot(spot.x_px - pixel[row, 0], spot.y_px - pixel[row, 1])
            yield Reading(PLACE, plan, 0.0, off)
        if len(found) == 2:
            gone.append((np.subtract(found[1], found[0]), pixels[1][row] - pixels[0][row]))
    for (a, b), (c, d) in pairwise(gone):
        yield Reading(PARALLAX, plan, float(np.linalg.norm(b - d)), float(np.linalg.norm(a - c)))


def _disc(case: Case, z_m: float, disc_mm: float) -> tuple[float, float] | None:
    """(predicted, measured) width of the blur of a point straight ahead, drawn large."""
    eye = eye_of(case, 0.0)
    eye = replace(eye, closing=eye.pose)
    wide = round(DISC_PX * eye.sensor_mm[0] / disc_mm)
    if not 64 < wide < 4_000_000:
        return None
    tall = round(wide * eye.sensor_mm[1] / eye.sensor_mm[0])
    at = np.asarray(eye.pose.at_m) + eye.pose.axes[2] * z_m
    spot = spot_of(eye, at, (wide / 2.0, tall / 2.0), wide, radius_px=2.0, reach=22, samples=2304)
    return None if spot is None else (disc_mm / eye.sensor_mm[0] * wide, disc_px(spot))


def blurs(plan: int, case: Case) -> Iterator[Reading]:
    """How large a point is drawn at the limits of sharpness, and anywhere else."""
    stage, lens = case.stage, case.choice.lens
    first = stage.passes[0]
    for z in (first.near_m, first.far_m):
        if 0.1 < z < 200.0:
            pair = _disc(case, z, stage.coc_mm)
            if pair is not None:
                yield Reading(SHARP, plan, *pair)
    z = stage.focus_m * random.Random(plan).choice((0.55, 0.7, 1.6, 2.5))
    disc = optics.blur_disc_mm(
        stage.focal_mm, case.plate.f_number, stage.focus_m, z, lens.pupil_ratio
    )
    pair = _disc(case, z, disc)
    if pair is not None:
        yield Reading(DISC, plan, *pair)


def _along_edges(case: Case, thing: StandIn) -> Array:
    """Points (n, 3) of the stage along the edges of a thing: the frame may cut it anywhere."""
    corners, shape = solid_of(thing)
    a, b = (corners[shape.edges[:, i]] for i in (0, 1))
    parts = np.linspace(0.0, 1.0, 17)[:, None, None]
    return case.plate.on_stage((a + (b - a) * parts).reshape(-1, 3))


def smears(plan: int, case: Case) -> Iterator[Reading]:
    """How far the fastest thing in the picture goes while the shutter is open. One that shows none
    of its corners has no point that could be followed."""
    quick = case.motion.fastest
    if quick is None or quick.step_px < 1.0:
        return
    shot = case.shot
    step = quick.step_px * filmed_share(shot, quick.frame)
    told = step * shot.world.shutter_deg / 360.0 * float(smear_ratio(numbers_of(case)))
    begin = (quick.frame - 1) / max(shot.frames - 1, 1)
    ends = (begin, min(begin + open_part(case), 1.0))
    points = [_along_edges(case, quick.stand_in.after(shot.time.after(part))) for part in ends]
    pixels = [_predicted(case, p, part) for p, part in zip(points, ends, strict=True)]
    size = (shot.delivery.width_px, shot.delivery.height_px)
    with np.errstate(invalid="ignore"):
        inside = np.all([((p > 13) & (p < np.subtract(size, 13))).all(axis=1) for p in pixels], 0)
        gone = np.where(inside, np.hypot(*(pixels[1] - pixels[0]).T), -1.0)
    corners = _predicted(
        case, case.plate.on_stage(solid_of(quick.stand_in.after(shot.time.after(begin)))[0]), begin
    )
    if not ((corners > 0) & (corners < size)).all(axis=1).any():
        return
    rows = [row for row in np.argsort(-gone)[:FASTEST] if gone[row] > 0.0]
    found = []
    for part, at, pixel in zip(ends, points, pixels, strict=True):
        eye = _still(case, part)
        found.append([_spot(case, eye, at[row], pixel[row]) for row in rows])
    longest = [
        math.hypot(b.x_px - a.x_px, b.y_px - a.y_px)
        for a, b in zip(*found, strict=True)
        if a is not None and b is not None
    ]
    if longest:
        yield Reading(SMEAR, plan, told, max(longest))
