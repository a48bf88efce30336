"""How far a performer goes to the side: body, reach, what moves while the shutter is open, shadow,
and reflection. Points in stage metres."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..camera import Array
from ..lighting.story_key import LOWEST_DEG, shadow_on_ground, towards_key
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import SHOULDER_FRACTION, StandIn

Part = Literal["body", "reach", "shadow", "reflection"]
#: A hand that waves or throws, m/s (judgement).
GESTURE_M_S = 2.0
#: Arms reach out between these parts of the height (judgement).
ARMS = (0.35, 0.88)


@dataclass(frozen=True)
class Extent:
    """Corners (n, 3) of one part of a performer, stage metres: it is their hull."""

    part: Part
    corners: Array


def half_width_m(stand_in: StandIn) -> float:
    """Half of how wide it is from any side, world metres."""
    wide = stand_in.width_m
    if stand_in.kind == "figure":
        wide = max(wide, SHOULDER_FRACTION * stand_in.height_m)
    elif stand_in.kind == "box":
        wide = float(np.hypot(stand_in.width_m, stand_in.depth_m)) if stand_in.heading_deg else wide
    return wide / 2.0


def blur_m(shot: Shot, stand_in: StandIn) -> float:
    """What a gesture, and the walk, smear while the shutter is open, world metres to each side."""
    open_s = shot.world.shutter_deg / 360.0 / shot.delivery.fps * shot.time.slowest
    gesture = GESTURE_M_S if stand_in.reach_m > 0 else 0.0
    return (gesture + stand_in.speed_m_s) * open_s / 2.0


def _box(stand_in: StandIn, half: float, low: float, high: float) -> Array:
    """Corners of an upright box about a stand-in, world metres."""
    depths = (0.0,) if stand_in.kind in ("figure", "card") else (0.0, stand_in.depth_m)
    zs = np.array([low, high]) * stand_in.height_m + stand_in.z_m
    return np.array(
        [
            (stand_in.x_m + side * half, stand_in.y_m + d, z)
            for side in (-1.0, 1.0)
            for d in depths
            for z in zs
        ]
    )


def extents(shot: Shot, plate: Plate, stand_in: StandIn, shine_m: float | None) -> list[Extent]:
    """Every part of a performer that must stay on its side."""
    blur = blur_m(shot, stand_in)
    body = _box(stand_in, half_width_m(stand_in) + blur, 0.0, 1.0)
    found = [Extent("body", body)]
    whole = body
    if stand_in.reach_m > 0:
        arms = _box(stand_in, half_width_m(stand_in) + stand_in.reach_m + blur, *ARMS)
        found.append(Extent("reach", arms))
        whole = np.concatenate([body, arms])
    if (
        shot.key_from_deg is not None
        and shot.key_elevation_deg is not None
        and shot.key_elevation_deg >= LOWEST_DEG
    ):
        towards = towards_key(shot.key_from_deg + shot.world.pan_deg, shot.key_elevation_deg)
        found.append(Extent("shadow", shadow_on_ground(whole, stand_in.z_m, towards)))
    if shine_m is not None and (whole[:, 2] > shine_m).any():
        above = np.maximum(whole, (-np.inf, -np.inf, shine_m))
        found.append(Extent("reflection", above * (1, 1, -1) + (0, 0, 2.0 * shine_m)))
    return [Extent(e.part, plate.on_stage(e.corners)) for e in found]
