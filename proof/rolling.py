"""How far uprights lean where a sensor is read row by row."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from jungoptic.core.judging.rolling_shutter import lean_deg
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.solids import solid_of
from jungoptic.render.engine import Stage
from jungoptic.render.scene import Scene, Solid
from jungoptic.render.shapes import quad
from jungoptic.render.staged import eye_of, open_part, rolling_of

from .looks import Array
from .reading import LEAN, Reading

#: How long sensors take to be read, milliseconds (common practice: 8 to 25 for video).
READOUTS_MS = (8.0, 15.0, 25.0)
#: A lean smaller than this is lost in the pixels, degrees.
LEAST_DEG = 0.1
#: The stick that is looked at: its length and thickness as parts of the picture's height, the
#: width of the picture, how far about the stick it is looked at, and the fewest rows that say
#: anything, pixels.
LONG, THICK, WIDE_PX, REACH, LEAST_ROWS = 0.12, 0.008, 1920, 128, 60


def leans(plan: int, case: Case) -> Iterator[Reading]:
    """The lean of an upright stick that is carried by what goes sideways fastest."""
    read = _read_in(case, random.Random(plan).choice(READOUTS_MS))
    quick = read.motion.sideways
    if quick is None or read.motion.still:
        return
    told = lean_deg(read)
    if told is None or told < LEAST_DEG:
        return
    part = (quick.frame - 1) / max(read.shot.frames - 1, 1)
    ends = (part, min(part + open_part(read), 1.0))
    if ends[0] == ends[1]:
        return
    middles = [
        read.plate.on_stage(solid_of(quick.stand_in.after(read.shot.time.after(at)))[0]).mean(0)
        for at in ends
    ]
    scene = _stick(read, part, middles[0], middles[1] - middles[0])
    both = [_slope(one, middles[0]) for one in (scene, replace(scene, rolling=None))]
    if both[0] is None or both[1] is None:
        return
    yield Reading(LEAN, plan, told, abs(math.degrees(math.atan(both[0] - both[1]))))


def _read_in(case: Case, readout_ms: float) -> Case:
    """The same plate filmed with a sensor that takes that long to be read."""
    kit = case.shot.kit
    bodies = tuple(
        replace(body, modes=tuple(replace(m, readout_ms=readout_ms) for m in body.modes))
        for body in kit.bodies
    )
    found = Case.of(replace(case.shot, kit=replace(kit, bodies=bodies)), case.plate)
    assert found is not None
    return found


def _stick(case: Case, part: float, at: Array, gone: Array) -> Scene:
    """An upright stick about a place, which goes that far while the shutter is open, before the
    camera of the stage: all of it sharp."""
    eye = eye_of(case, part, pinhole=True)
    right, down, ahead = eye.pose.axes
    depth = float((at - np.asarray(eye.pose.at_m)) @ ahead)
    high = depth * eye.sensor_mm[1] / eye.picture_mm
    along, aside = down * high * LONG / 2.0, right * high * THICK / 2.0
    corners = (at + s * along + t * aside for s, t in ((1, -1), (1, 1), (-1, 1), (-1, -1)))
    x, y, z = (float(v) for v in gone)
    stick = Solid("stick", *quad(*corners), (1.0, 1.0, 1.0), carried_m=(x, y, z))
    return Scene((stick,), (), eye, rolling=rolling_of(case, part))


def _slope(scene: Scene, at: Array) -> float | None:
    """How far across the stick's middle goes from row to row; None where the frame cuts it."""
    eye, away = scene.eye, at - np.asarray(scene.eye.pose.at_m)
    right, down, ahead = eye.pose.axes
    per = eye.picture_mm / float(away @ ahead) / eye.sensor_mm[0] * WIDE_PX
    tall = round(WIDE_PX * eye.sensor_mm[1] / eye.sensor_mm[0])
    left = round(WIDE_PX / 2.0 + float(away @ right) * per) - REACH
    top = round(tall / 2.0 + float(away @ down) * per) - REACH
    if left < 0 or top < 0 or left + 2 * REACH > WIDE_PX or top + 2 * REACH > tall:
        return None
    stage = Stage(scene, WIDE_PX, tall, 0, (left, top, 2 * REACH, 2 * REACH))
    seen = stage.seen(512, passes=1).colour[..., 0].astype(np.float64)
    weight = seen.sum(axis=1)
    rows = np.flatnonzero(weight > 0.98 * weight.max()) if weight.max() > 0.0 else np.empty(0)
    if len(rows) < LEAST_ROWS or seen[:, :2].any() or seen[:, -2:].any():
        return None
    middle = (seen[rows] @ (np.arange(2 * REACH) + 0.5)) / weight[rows]
    return float(np.polyfit(rows, middle, 1)[0])
