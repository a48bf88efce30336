"""The thing that tapes are laid to."""

from __future__ import annotations

import math

from ..plan.standins import StandIn
from .case import Case
from .derive import floor_tape_m


def mark_of(case: Case) -> StandIn | None:
    """The stand-in that tapes are laid to: the first filmed in the plate that is not ground."""
    own = [s for s in case.shot.stand_ins_of(case.plate) if s.kind != "ground"]
    return own[0] if own else None


def mark_tape_m(case: Case) -> float | None:
    """The tape along the floor from the sensor mark to that stand-in, metres; None without one."""
    mark = mark_of(case)
    if mark is None:
        return None
    ahead = mark.y_m / case.plate.scale
    if case.shot.old_rules:
        # Cards of then told it along the lens axis.
        tilt = math.radians(case.stage.tilt_deg)
        return ahead + case.plate.setback_m + case.stage.sensor_to_pupil_m * math.cos(tilt)
    return floor_tape_m(case.stage, ahead)
