"""The judgements on one plate. One file per question a supervisor asks.

`view`: is the picture filled? `sharpness`: is it sharp? `position`: does the camera stand where
the story needs it? `rate`: is it fast enough? `light`: is it bright enough? `backing`: is the
screen large enough?
"""

from ..findings import Finding, worst_first
from .backing import judge_backing
from .case import Case
from .light import judge_light
from .position import judge_floor, judge_mismatch
from .rate import judge_rate
from .sharpness import judge_close_focus, judge_depth, judge_diffraction
from .view import judge_view

__all__ = ["Case", "judge_plate"]

JUDGES = (
    judge_view,
    judge_floor,
    judge_mismatch,
    judge_close_focus,
    judge_depth,
    judge_diffraction,
    judge_rate,
    judge_light,
    judge_backing,
)


def judge_plate(case: Case) -> list[Finding]:
    """Every finding on the plate, worst first. A rule with nothing to say is left out."""
    found = [judge(case) for judge in JUDGES]
    return worst_first([finding for finding in found if finding is not None])
