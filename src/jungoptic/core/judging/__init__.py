"""The judgements on one plate. One file per question a supervisor asks.

`view`: is the picture filled? `sharpness`: is it sharp? `position`: does the camera stand where
the story needs it? `move`: at every frame? `rate`: is it fast enough? `shutter`: does movement look
the same? `light`: is it bright enough? `backing`: is the screen large enough? `breathing`: do focus
passes lie on one another? `room`: does it fit in? `loan`: is everything there on the day?
"""

from ..findings import Finding, worst_first
from .backing import judge_backing
from .breathing import judge_passes
from .case import Case
from .light import judge_light
from .loan import judge_loan
from .move import judge_move
from .position import judge_floor, judge_mismatch
from .rate import judge_rate
from .room import judge_room
from .sharpness import judge_close_focus, judge_depth, judge_diffraction
from .shutter import judge_blur, judge_flicker, judge_skew, judge_step
from .view import judge_view

__all__ = ["Case", "judge_plate"]

JUDGES = (
    judge_view,
    judge_floor,
    judge_mismatch,
    judge_move,
    judge_close_focus,
    judge_depth,
    judge_passes,
    judge_diffraction,
    judge_rate,
    judge_blur,
    judge_step,
    judge_skew,
    judge_light,
    judge_flicker,
    judge_backing,
    judge_room,
    judge_loan,
)


def judge_plate(case: Case) -> list[Finding]:
    """Every finding on the plate, worst first. A rule with nothing to say is left out."""
    found = [judge(case) for judge in JUDGES]
    return worst_first([finding for finding in found if finding is not None])
