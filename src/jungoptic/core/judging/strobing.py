"""Does anything seem to jump from frame to frame?"""

from __future__ import annotations

import math

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..words.quantities import percent, pixels
from .limits import GAP_TO_WIDTH
from .numbers import asked, numbers_of
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .smear import filmed_share, smear_ratio


def judge_step(case: Case) -> Finding | None:
    """Whether anything seems to jump from frame to frame; None when nothing moves."""
    quick = case.motion.jumping
    measured = asked(measure, case)
    if quick is None or measured is None:
        return None
    filmed = quick.step_px * filmed_share(case.shot, quick.frame)
    world_blur = filmed * case.shot.world.shutter_deg / 360.0
    blur = world_blur * smear_ratio(numbers_of(case))
    widths = float(measured.short)
    verdict = verdict_of(measured)
    sentence = (
        f"{quick.stand_in.name} goes {pixels(quick.step_px)} from frame to frame at its "
        f"worst (frame {quick.frame}), {percent(quick.step_px / max(quick.width_px, 1e-9))} of its "
        "width that way"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": it seems to jump. Slow it down, let more blur join the steps, or let the eye "
            "follow it."
        )
    )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="gap = step − blur, as a part of the width of the thing along its way",
                inputs=(
                    Quantity("step", "movement per played frame", quick.step_px, "px"),
                    Quantity("b", "blur in this plate", blur, "px"),
                    Quantity("w", "width of the thing in the picture", quick.width_px, "px"),
                ),
                result=Quantity("g", "gap in widths", widths, ""),
                source="Kinematics; half a width is a judgement.",
            ),
        ),
    )


def measure(n: Numbers) -> Measured | None:
    """The widest gap between the smears of a thing, in its widths along its way; None when nothing
    moves."""
    quick = n.motion.jumping
    if quick is None or n.motion.still:
        return None
    step, width = quick.step_px, quick.width_px
    filmed = step * filmed_share(n.shot, quick.frame)
    blur = filmed * n.shot.world.shutter_deg / 360.0 * smear_ratio(n)
    gap = np.maximum(step - blur, 0.0) / width if width > 0.0 else np.inf + 0.0 * blur
    return Measured(ranked(gap / n.relaxed, GAP_TO_WIDTH, math.inf), gap)


RULE = Rule(
    key="step",
    title="Strobing",
    name="strobing",
    speak=judge_step,
    axes=frozenset({"scale", "setup", "shutter", "slowdown"}),
    measure=measure,
    otherwise="Slower movement, or a framing in which it crosses less of the picture.",
)
