"""How finely a model has to be built: what one delivered pixel is on it, and what is never seen."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .. import optics
from ..plan.standins import StandIn
from ..stage.case import Case
from ..stage.seen import Seen
from ..stage.sharpest import sharpest_disc_mm
from ..stage.spots import velocities

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
    for stand_in in case.own:
        one = _detail(case, stand_in)
        if one is not None:
            found.append(one)
    return tuple(found)


def _detail(case: Case, thing: StandIn) -> Detail | None:
    stage, plate, shot = case.stage, case.plate, case.shot
    delivery, seen = shot.delivery, case.seen
    (row,) = seen.numbers([thing])
    if not seen.shows[row].any():
        return None
    # Where it is largest in the picture: nearest or, of a zoom, shown closest.
    shown = seen.near_m[row] / seen.path.closer
    largest = int(np.nanargmin(shown))
    nearest = float(seen.near_m[row][largest]) / plate.scale
    used_mm = stage.camera.sensor_width_mm * float(shown[largest] / seen.near_m[row][largest])
    # Similar triangles: the used sensor width covers the delivered width at this distance.
    pixel_mm = nearest * 1000.0 * used_mm / stage.pinhole_mm
    pixel_mm /= delivery.width_px
    blur_px = 0.0
    ratio = stage.choice.lens.pupil_ratio
    if nearest * 1000.0 > stage.focal_mm / ratio:
        disc = sharpest_disc_mm(stage, nearest)
        disc = optics.total_blur_mm(disc, stage.airy_mm)
        blur_px = disc / used_mm * delivery.width_px
    return Detail(
        thing.id,
        thing.name,
        nearest,
        pixel_mm,
        blur_px,
        pixel_mm * max(PIXELS_A_DETAIL, blur_px),
        _unseen(case, thing),
        _in_frame(seen, row),
    )


def _unseen(case: Case, thing: StandIn) -> tuple[str, ...]:
    """Faces whose outside points away from the camera all along its move."""
    if thing.kind not in ("box", "card"):
        return ()
    turn = math.radians(thing.heading_deg)
    c, s = math.cos(turn), math.sin(turn)
    size = np.array([thing.width_m, thing.depth_m, thing.height_m])
    foot = np.array([thing.x_m, thing.y_m, thing.z_m])
    seen, hidden = case.seen, []
    # As the thing sees it: the camera's way, less its own.
    gone = seen.seconds[:, None] * velocities([thing])
    positions = seen.path.positions_m - gone
    for name, (middle, normal) in _FACES.items():
        if thing.kind == "card" and name not in ("front", "back"):
            continue
        local, out = np.array(middle) * size, np.array(normal)
        turned = np.array([local[0] * c + local[1] * s, -local[0] * s + local[1] * c, local[2]])
        facing = np.array([out[0] * c + out[1] * s, -out[0] * s + out[1] * c, out[2]])
        if ((positions - (foot + turned)) @ facing <= 1e-9).all():
            hidden.append(name)
    return tuple(hidden)


def _in_frame(seen: Seen, row: int) -> float:
    """Largest part, over the shot, of the box around the thing that lies in the picture."""
    shown = (seen.right_px - seen.left_px)[row] * (seen.bottom_px - seen.top_px)[row]
    wide, high = seen.size_px[:, row]
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = shown / (wide * high)
    # Something seen edge on has no area, and is in frame all the same.
    parts = np.where(np.isfinite(parts), parts, 1.0)[seen.shows[row]]
    return float(min(parts.max(), 1.0))
