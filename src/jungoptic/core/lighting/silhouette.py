"""Cut-outs that stand in for performers on a scaled set, to see where their shadows will fall."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..light import shadow_length_m, width_at_m
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import SHOULDER_FRACTION
from .stage_light import StageLight


@dataclass(frozen=True)
class CutOut:
    """A card cut to a performer's outline at the scale of this stage: how tall and wide, where its
    foot stands (stage metres right and ahead of the lens), the length of its shadow by the key and
    the soft edge at the end of that shadow; None where no key stands above it."""

    stand_in_id: str
    name: str
    height_m: float
    width_m: float
    x_m: float
    y_m: float
    z_m: float
    shadow_m: float | None
    soft_m: float | None


def cut_outs(shot: Shot, plate: Plate, light: StageLight | None) -> tuple[CutOut, ...]:
    """One for every figure filmed elsewhere, at its place on this scaled set. Life-size stages need
    none: a person stands in."""
    if plate.scale == 1.0 or plate.kind not in ("miniature", "puppet"):
        return ()
    key = None if light is None else light.key_lamp
    found = []
    for s in shot.stand_ins:
        if s.kind != "figure" or s.plate_id == plate.id:
            continue
        tall = s.height_m / plate.scale
        long_m = soft = None
        if key is not None and 1.0 < key.elevation_deg < 90.0:
            long_m = shadow_length_m(tall, key.elevation_deg)
            soft = width_at_m(key.size_deg, math.hypot(tall, long_m))
        found.append(
            CutOut(
                s.id,
                s.name,
                tall,
                tall * SHOULDER_FRACTION,
                s.x_m / plate.scale,
                s.y_m / plate.scale,
                (s.z_m - plate.ground_m) / plate.scale,
                long_m,
                soft,
            )
        )
    return tuple(found)
