"""How soft a thing is in the picture, and how far away."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from ... import thin_lens
from ...camera import Array, Camera
from ...plan.plate import TIMELESS
from ...plan.standins import StandIn
from ...stage.case import Case

#: An even disc so wide spreads like a bell of a quarter of it; a line, of its length over root 12.
DISC, LINE = 0.25, 1.0 / math.sqrt(12.0)
#: Nothing is softer than this part of the picture's width.
SOFTEST = 1.0 / 8.0


def middle_of(case: Case, thing: StandIn) -> Array:
    at = np.array([[thing.x_m, thing.y_m, thing.z_m + thing.height_m / 2.0]])
    found: Array = case.plate.on_stage(at)[0]
    return found


def depth_of(case: Case, camera: Camera, thing: StandIn) -> float:
    """How far away a thing's middle is along the lens axis, world metres."""
    way = middle_of(case, thing) - np.asarray(camera.position_m)
    return float(way @ camera.axes[2]) * case.plate.scale


def softness_of(
    case: Case, camera: Camera, things: Iterable[StandIn], part: float
) -> dict[str, tuple[float, float]]:
    """What blurs each thing across and down, standard deviations in delivered pixels: the lens
    where it is not in focus, and its way through the picture while the shutter is open."""
    shot, plate, stage = case.shot, case.plate, case.stage
    w, h = shot.delivery.width_px, shot.delivery.height_px
    open_for = 0.0
    if plate.kind not in TIMELESS:
        open_for = min(stage.exposure_s * stage.capture_fps, 1.0) / max(shot.frames - 1, 1)
    later = shot.move.moved(case.stage.camera, min(part + open_for, 1.0), plate.scale)
    seconds = shot.time.after(min(part + open_for, 1.0)) - shot.time.after(part)
    found = {}
    for thing in things:
        at = middle_of(case, thing)
        away = float((at - np.asarray(camera.position_m)) @ camera.axes[2])
        blur = 0.0
        if away > 1e-3:
            discs = [
                thin_lens.blur_disc(
                    stage.focal_mm,
                    plate.f_number,
                    focus.focus_m * 1000.0,
                    away * 1000.0,
                    stage.choice.lens.pupil_ratio,
                )
                for focus in stage.passes
                if focus.focus_m * 1000.0 > stage.focal_mm / stage.choice.lens.pupil_ratio
            ]
            blur = min(discs, default=0.0) / camera.sensor_width_mm * w * DISC
        then = middle_of(case, thing.after(seconds))
        gone = later.project(then[None], w, h)[0] - camera.project(at[None], w, h)[0]
        dx, dy = np.nan_to_num(np.abs(gone)) * LINE
        most = w * SOFTEST
        across, down = math.hypot(blur, dx), math.hypot(blur, dy)
        found[thing.id] = round(min(across, most), 1), round(min(down, most), 1)
    return found
