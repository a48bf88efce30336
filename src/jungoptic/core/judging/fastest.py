"""The thing of a plate that crosses the picture fastest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..plan.standins import StandIn
from ..stage.case import Case
from ..stage.motion import frame_at


@dataclass(frozen=True)
class Fastest:
    """The fastest thing of a plate: who, when, and in played pixels per frame."""

    stand_in: StandIn
    step_px: float
    width_px: float
    frame: int


def fastest(case: Case) -> Fastest | None:
    """The point of this plate that crosses the picture fastest; None when all stand still."""
    motion = case.motion
    if motion.still:
        return None
    i = int(np.argmax(motion.fastest_px))
    owner = next(s for s in case.shot.stand_ins if s.id == motion.owners[i])
    return Fastest(
        owner,
        float(motion.fastest_px[i]),
        float(motion.widths_px[i]),
        frame_at(case.shot, float(motion.fastest_part[i])),
    )
