"""Which plates make the picture, what of each lies how far away, and which side of its dividers a
plate has: the same for simulated plates and for filmed ones."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..pictures.composite import divided
from ..plan.plate import Plate
from ..plan.shot import Shot
from .divider import shown_at, sides_at


def pieces(shot: Shot) -> list[Plate]:
    """The plates that make the picture. Passes for focus or light, and clean plates beside a
    picture that shows the same place whole, are other takes of the same; behind what is cut out, a
    clean plate is the picture."""
    found = []
    for plate in shot.plates:
        beside = any(
            p.id != plate.id
            and p.lock_group == plate.lock_group
            and not p.cut_out
            and shot.stand_ins_of(p)
            for p in shot.plates
        )
        if plate.pass_for or (plate.lock_group and beside and not shot.stand_ins_of(plate)):
            continue
        found.append(plate)
    return found


def nearest_m(shot: Shot, plate: Plate, part: float) -> float:
    """How far away the nearest that a plate films stands in the story after a part (0..1) of the
    screen time, ground left out; infinite where it films nothing of the kind."""
    gone = shot.time.after(part)
    own = [s.after(gone) for s in shot.stand_ins_of(plate)]
    return float(min((s.y_m for s in own if s.kind != "ground"), default=np.inf))


def side_matte(
    shot: Shot, plate: Plate, part: float, width: int, height: int
) -> NDArray[np.float32] | None:
    """The matte (h, w) of a plate's side of its dividers after a part of the screen time; None for
    one that has none."""
    found: NDArray[np.float32] | None = None
    frame = 1.0 + part * max(shot.frames - 1, 1)
    for split in shot.splits:
        if plate.id not in (split.first_id, split.second_id) or not split.keys:
            continue
        line, feather = shown_at(shot, split, frame, width, height)
        soft = feather * width / shot.delivery.width_px
        if split.upright:
            at = np.mean(sides_at(line, np.arange(height, dtype=np.float64) + 0.5), axis=0)
            mask = divided((height, width), at, soft)
        else:
            at = np.mean(sides_at(line[:, ::-1], np.arange(width, dtype=np.float64) + 0.5), axis=0)
            mask = divided((width, height), at, soft).T
        mask = mask if plate.id == split.first_id else 1.0 - mask
        found = mask if found is None else found * mask
    return found


def air_of(shot: Shot) -> float:
    """How bright the story's air is, light, 1 for a white surface in normal light: as bright as
    its fill."""
    return float(2.0 ** (shot.key_level_stops - (shot.key_ratio_stops or 3.0)))
