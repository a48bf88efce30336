"""The judgements on one plate. One file per question a supervisor asks.

`view`: is the picture filled? `sharpness`: is it sharp? `position`: does the camera stand where
the story needs it? `move`: at every frame? `rate`: is it fast enough? `shutter`: does movement look
the same? `light`: is it bright enough? `key_light`, `key_quality`: does the key agree with the
story's?
`mains`: do the circuits carry it? `sunlight`: does the sun? `backing`: is the screen large enough?
`keying`, `key_edge`: will it key? `breathing`: do focus
passes lie on one another? `room`: does it fit in? `loan`: is everything there on the day?
"""

from ..plan.findings import Finding, worst_first
from ..stage.case import Case
from .backing import judge_backing
from .breathing import judge_passes
from .evenness import judge_evenness
from .key_edge import judge_recording, judge_screen_colour, judge_sweep
from .key_light import judge_falloff, judge_key_side, judge_ratio
from .key_quality import judge_colour, judge_hardness
from .light import judge_light
from .loan import judge_loan
from .mains import judge_mains
from .move import judge_move
from .position import judge_floor, judge_mismatch
from .rate import judge_rate
from .room import judge_room
from .screen_level import judge_screen_level
from .screen_shadow import judge_screen_shadow
from .sharpness import judge_close_focus, judge_depth, judge_diffraction
from .shutter import judge_blur, judge_flicker, judge_skew, judge_step
from .spill import judge_spill
from .sunlight import judge_sunlight
from .view import judge_view

__all__ = ["OF_A_PLACE", "Case", "judge_plate"]

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
    judge_key_side,
    judge_hardness,
    judge_colour,
    judge_ratio,
    judge_falloff,
    judge_sunlight,
    judge_flicker,
    judge_mains,
    judge_backing,
    judge_evenness,
    judge_screen_level,
    judge_spill,
    judge_screen_shadow,
    judge_sweep,
    judge_screen_colour,
    judge_recording,
    judge_room,
    judge_loan,
)


#: Judges whose answer hangs on where the camera stands and how large the set is, but on no number
#: of the exposure: the planner asks them once for each place.
OF_A_PLACE = (
    judge_key_side,
    judge_hardness,
    judge_colour,
    judge_ratio,
    judge_falloff,
    judge_sunlight,
    judge_mains,
    judge_evenness,
    judge_screen_level,
    judge_spill,
    judge_screen_shadow,
    judge_sweep,
    judge_screen_colour,
)


def judge_plate(case: Case) -> list[Finding]:
    """Every finding on the plate, worst first. A rule with nothing to say is left out."""
    found = [judge(case) for judge in JUDGES]
    return worst_first([finding for finding in found if finding is not None])
