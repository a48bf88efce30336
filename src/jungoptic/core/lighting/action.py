"""Where on a stage light is asked for: at the action and across what stands there."""

from __future__ import annotations

import numpy as np

from ..camera import Array
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import measured_points


def action_point_m(shot: Shot, plate: Plate) -> tuple[float, float, float] | None:
    """Where light is measured on this stage: the middle of its first thing; None without one."""
    own = [s for s in shot.stand_ins_of(plate) if s.kind != "ground"]
    if not own:
        return None
    s = own[0]
    x, y, z = (v / plate.scale for v in (s.x_m, s.y_m, s.z_m - plate.ground_m + s.height_m / 2))
    return x, y, z


def set_points_m(shot: Shot, plate: Plate) -> Array:
    """Every measured point (n, 3) of what stands on this stage, ground left out, stage metres."""
    own = [measured_points(s).points for s in shot.stand_ins_of(plate) if s.kind != "ground"]
    return plate.on_stage(np.concatenate(own)) if own else np.empty((0, 3))
