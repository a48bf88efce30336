"""How finely a model has to be built: what one delivered pixel is on it, and what is never seen."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .. import optics
from ..camera import Array
from ..plan.standins import StandIn, measured_points
from ..stage.case import Case
from ..stage.motion import frame_parts

#: Detail under two pixels cannot be told from texture (sampling theorem: two samples a cycle).
PIXELS_A_DETAIL = 2.0


@dataclass(frozen=True)
class Detail:
    """One thing on this stage. `pixel_mm`: what one delivered pixel is on it at its nearest;
    `blur_px`: its defocus disc there; `smallest_mm`: the smallest detail worth building;
    `unseen`: faces that the camera never sees; `in_frame` (0..1): how much of it is ever in the
    picture's width and height."""

    stand_in_id: str
    name: str
    distance_m: float
    pixel_mm: float
    blur_px: float
    smallest_mm: float
    unseen: tuple[str, ...]
    in_frame: float


_FACES = {
    "front": ((0.0, 0.0, 0.5), (0.0, -1.0, 0.0)),
    "back": ((0.0, 1.0, 0.5), (0.0, 1.0, 0.0)),
    "left": ((-0.5, 0.5, 0.5), (-1.0, 0.0, 0.0)),
    "right": ((0.5, 0.5, 0.5), (1.0, 0.0, 0.0)),
    "top": ((0.0, 0.5, 1.0), (0.0, 0.0, 1.0)),
}


def details(case: Case) -> tuple[Detail, ...]:
    """The detail budget of every thing of the plate; ground left out."""
    found = []
    for stand_in in case.shot.stand_ins_of(case.plate):
        if stand_in.kind != "ground":
            one = _detail(case, stand_in)
            if one is not None:
                found.append(one)
    return tuple(found)


def _detail(case: Case, thing: StandIn) -> Detail | None:
    stage, plate, shot = case.stage, case.plate, case.shot
    delivery = shot.delivery
    parts = np.zeros(1) if shot.move.still else frame_parts(shot)[:: max(1, shot.frames // 24)]
    path = shot.move.along(stage.camera, parts, plate.scale)
    points = plate.on_stage(measured_points(thing).points)
    pixels, depths = path.project(points, float(delivery.width_px), float(delivery.height_px))
    ahead = depths[depths > 0]
    if not len(ahead):
        return None
    nearest = float(ahead.min())
    # Similar triangles: the used sensor width covers the delivered width at this distance.
    pixel_mm = nearest * 1000.0 * stage.camera.sensor_width_mm / stage.pinhole_mm
    pixel_mm /= delivery.width_px
    blur_px = 0.0
    if nearest * 1000.0 > stage.focal_mm:
        disc = min(
            optics.blur_disc_mm(stage.focal_mm, plate.f_number, p.focus_m, nearest)
            for p in stage.passes
        )
        disc = optics.total_blur_mm(disc, stage.airy_mm)
        blur_px = disc / stage.camera.sensor_width_mm * delivery.width_px
    return Detail(
        thing.id,
        thing.name,
        nearest,
        pixel_mm,
        blur_px,
        pixel_mm * max(PIXELS_A_DETAIL, blur_px),
        _unseen(case, thing, path.positions_m),
        _in_frame(pixels, float(delivery.width_px), float(delivery.height_px)),
    )


def _unseen(case: Case, thing: StandIn, positions: Array) -> tuple[str, ...]:
    """Faces whose outside points away from the camera all along its move."""
    if thing.kind not in ("box", "card"):
        return ()
    turn = math.radians(thing.heading_deg)
    c, s = math.cos(turn), math.sin(turn)
    size = np.array([thing.width_m, thing.depth_m, thing.height_m])
    foot = np.array([thing.x_m, thing.y_m, thing.z_m])
    hidden = []
    for name, (middle, normal) in _FACES.items():
        if thing.kind == "card" and name not in ("front", "back"):
            continue
        local, out = np.array(middle) * size, np.array(normal)
        turned = np.array([local[0] * c + local[1] * s, -local[0] * s + local[1] * c, local[2]])
        facing = np.array([out[0] * c + out[1] * s, -out[0] * s + out[1] * c, out[2]])
        at = case.plate.on_stage((foot + turned)[None, :])
        if ((positions - at) @ facing <= 1e-9).all():
            hidden.append(name)
    return tuple(hidden)


def _in_frame(pixels: Array, width: float, height: float) -> float:
    """Largest part, over the move, of the box around the thing that lies in the picture."""
    best = 0.0
    for at in pixels:
        seen = at[np.isfinite(at).all(axis=1)]
        if len(seen) < 2:
            continue
        part = 1.0
        for axis, size in ((0, width), (1, height)):
            low, high = float(seen[:, axis].min()), float(seen[:, axis].max())
            inside = max(0.0, min(high, size) - max(low, 0.0))
            part *= inside / (high - low) if high > low else float(0 <= low <= size)
        best = max(best, part)
    return best
