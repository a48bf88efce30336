"""How much mismatch nobody notices: it grows with motion blur and for very brief shots, and the
realism a shot asks for scales it. The three numbers here are judgements, kept together."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.findings import Quantity, Working
from ..plan.shot import Shot
from .motion import Motion

#: An edge smeared over b pixels is placed by eye to about a quarter of them (judgement).
PART_OF_BLUR = 0.25
#: Shots under a second leave no time to compare; at half a second and less it counts double
#: (judgement).
BRIEF_S = 1.0
MOST_FOR_BREVITY = 2.0
#: How far the rules of looks give way: must read as real, light, openly stylised (judgement).
REALISM = {3: 1.0, 2: 1.5, 1: 3.0}


def relaxed(shot: Shot) -> float:
    """By how much the realism of the shot stretches tolerances: 1 for one that must read as
    real."""
    return REALISM[min(max(shot.realism, 1), 3)]


@dataclass(frozen=True)
class Tolerance:
    """Mismatch nobody notices in one plate, and what it is made of, in delivered pixels."""

    px: float
    base_px: float
    blur_px: float
    brevity: float
    realism: float

    @property
    def working(self) -> Working:
        """How it came about."""
        return Working(
            formula="T = max(T₀, b / 4) · brevity · realism",
            inputs=(
                Quantity("T₀", "nobody notices: 2 px at 1920 wide unless set", self.base_px, "px"),
                Quantity("b", "shortest motion blur in this plate", self.blur_px, "px"),
                Quantity("brevity", "1, up to 2 under a second of screen time", self.brevity, ""),
                Quantity("realism", "1 real, 1.5 light, 3 stylised", self.realism, ""),
            ),
            result=Quantity("T", "mismatch nobody notices", self.px, "px"),
            source="Judgement of this project: an edge cannot be placed finer than about a "
            "quarter of its own smear.",
        )


def allowed(shot: Shot, motion: Motion) -> Tolerance:
    """The tolerance for a plate whose things have `motion`: by what stands stillest in it, so that
    nothing sharp slips."""
    base = shot.base_tolerance_px
    exposed = shot.world.shutter_deg / 360.0
    blur = motion.slowest_px * exposed
    brevity = min(max(BRIEF_S / shot.screen_time_s, 1.0), MOST_FOR_BREVITY)
    realism = relaxed(shot)
    return Tolerance(
        max(base, PART_OF_BLUR * blur) * brevity * realism, base, blur, brevity, realism
    )
