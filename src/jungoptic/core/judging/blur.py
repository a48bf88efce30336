"""Do moving things smear as they do in the world camera?"""

from __future__ import annotations

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import TIMELESS
from ..stage.case import Case
from ..words.quantities import degrees, pixels, shutter
from .limits import BLUR_HOLDS_TO, BLUR_SEEN_PX, BLUR_STRAINS_TO
from .numbers import asked, numbers_of
from .rule import Measured, Numbers, Rule, ranked, sentence_of, verdict_of
from .smear import filmed_share, smear_ratio
from .way import Way


def judge_blur(case: Case) -> Finding | None:
    """Whether moving things smear as they do in the world camera; None when nothing moves."""
    quick = case.motion.fastest
    measured = asked(measure, case)
    if quick is None or measured is None:
        return None
    step = quick.step_px * filmed_share(case.shot, quick.frame)
    world_px = step * case.shot.world.shutter_deg / 360.0
    stage_px = world_px * smear_ratio(numbers_of(case))
    one_by_one = case.plate.kind in TIMELESS
    verdict = verdict_of(measured)
    who = f"{quick.stand_in.name} smears over {pixels(world_px)} in the story (frame {quick.frame})"
    if one_by_one:
        sentence = f"{who}; frames taken one by one are sharp" + (
            "." if verdict is Verdict.HOLDS else ": add the blur in post, or move while exposing."
        )
    else:
        sentence = f"{who} and over {pixels(stage_px)} here."
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="b = step · angle / 360 · rate needed / rate recorded",
                inputs=(
                    Quantity("step", "movement per filmed frame", step, "px"),
                    Quantity(
                        "a_w", "shutter of the world camera", case.shot.world.shutter_deg, "°"
                    ),
                    Quantity("a", "shutter here", case.plate.shutter_deg, "°"),
                    Quantity("need", "rate needed", case.stage.needed_fps, "fps"),
                    Quantity("rec", "rate recorded", case.stage.capture_fps, "fps"),
                    Quantity("b_w", "blur in the world camera", world_px, "px"),
                ),
                result=Quantity("b", "blur in this plate", stage_px, "px"),
                source="Image speed times exposure time (kinematics).",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    stage = case.stage
    wanted = case.shot.world.shutter_deg * stage.capture_fps / stage.needed_fps
    angle = min(360.0, round(wanted, 1))
    return [
        Way(
            f"Set the shutter to {degrees(angle)}.",
            {"shutter_deg": angle},
            lambda t: f"{sentence_of(judge_blur, t)} {shutter(t.stage.exposure_s)} each.",
        )
    ]


def measure(n: Numbers) -> Measured | None:
    """How far the smear is from the world camera's; None when nothing moves."""
    quick = n.motion.fastest
    if quick is None or n.motion.still:
        return None
    step = quick.step_px * filmed_share(n.shot, quick.frame)
    world = step * n.shot.world.shutter_deg / 360.0
    ratio = smear_ratio(n)
    seen = BLUR_SEEN_PX * n.shot.delivery.width_px / 1920.0
    hidden = abs(world * ratio - world) <= seen
    if n.plate.kind in TIMELESS:
        # What is taken frame by frame never smears by itself; it can be added in post.
        return Measured(np.where(hidden, 0, 1), np.where(hidden, 0.0, 1.0))
    off = (np.maximum(ratio, 1.0 / ratio) - 1.0) / n.relaxed
    ranks = ranked(off, BLUR_HOLDS_TO - 1.0, BLUR_STRAINS_TO - 1.0)
    return Measured(np.where(hidden, 0, ranks), off)


def takes(case: Case, short: float) -> tuple[str, str]:
    """A shutter that smears alike."""
    ratio = case.stage.capture_fps / case.stage.needed_fps
    return f"A shutter of {degrees(case.shot.world.shutter_deg * ratio)}.", "blur differs"


RULE = Rule(
    key="blur",
    title="Motion blur",
    name="motion blur",
    speak=judge_blur,
    ways=_ways,
    axes=frozenset({"scale", "setup", "shutter", "slowdown"}),
    measure=measure,
    takes=takes,
)
