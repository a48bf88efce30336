"""How soft a stage's picture is at a distance, in whichever focus pass has it sharpest."""

from __future__ import annotations

from .. import optics
from .derive import Stage


def sharpest_disc_mm(stage: Stage, distance_m: float) -> float:
    """Blur disc at the sensor of something so far from the lens, stage metres, in the pass that is
    focused best for it. Raises Impossible unless the distance is above zero."""
    ratio = stage.choice.lens.pupil_ratio
    return min(
        optics.blur_disc_mm(stage.focal_mm, stage.plate.f_number, p.focus_m, distance_m, ratio)
        for p in stage.passes
    )
