"""Does the stage camera put things where the world camera does?"""

from __future__ import annotations

import math

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..stage.compared import compared
from ..words.quantities import length, pixels
from .limits import MISMATCH_STRAINS_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def off_by(case: Case) -> str:
    """How far apart the two pictures are, before and after the best reframe, in one sentence."""
    plain, fitted = case.matched
    points, worst = case.compared, fitted.worst_index
    when = f" (frame {points.frame(worst)})" if points.seen.frames > 1 else ""
    return (
        f"Off by {pixels(plain.max_px)} at most, {pixels(fitted.max_px)} after the best "
        f"reframe in post; worst at {points.name(worst)}{when}. "
        f"Tolerance {pixels(case.tolerance.px)}."
    )


def fitted_px(case: Case) -> float:
    """The largest departure after the best reframe; NaN where nothing is in view."""
    stage, plate = case.stage, case.plate
    if (
        abs(stage.axis_m - stage.ideal_axis_m) < 1e-12
        and plate.tilt_deg is None
        and plate.setback_m == 0.0
    ):
        # Where it is derived: the same picture.
        return 0.0
    return case.matched[1].max_px


def match_verdict(case: Case) -> Verdict | None:
    """None where nothing is in view that could differ."""
    measured = asked(measure, case)
    return None if measured is None or math.isnan(measured.short) else verdict_of(measured)


def too_high_m(case: Case) -> float:
    """How much too high the lens axis must stay for body and support; negative is to spare."""
    return case.stage.floor_axis_m - case.stage.ideal_axis_m


def let_down(case: Case) -> str:
    """The camera base low enough, whatever it stands on."""
    mm = math.ceil(too_high_m(case) * 1000.0 / 5.0 - 1e-9) * 5.0
    return (
        f"The camera base {length(mm / 1000.0)} below this stage's ground (past the table's edge, "
        "or in a cut-out), or a mirror at 45°."
    )


def judge_mismatch(case: Case) -> Finding | None:
    """How far the stage camera as built puts things from where the world camera does."""
    plain, fitted = case.matched
    verdict = match_verdict(case)
    if verdict is None:
        return None
    if plain.max_px < 0.05:
        sentence = "Every point falls where the world camera puts it."
    else:
        sentence = off_by(case)
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="|project(world camera, p) − project(stage camera, p / S)|, largest over "
                "what the plate films and what touches it, as far as it is in frame, after the "
                "best scale, turn and shift",
                inputs=(
                    Quantity("S", "scale", case.plate.scale, ""),
                    Quantity("n", "points in frame", float(len(case.compared.frames)), ""),
                    Quantity("h_w", "axis height derived", case.stage.ideal_axis_m * 1000, "mm"),
                    Quantity("h_s", "axis height as built", case.stage.axis_m * 1000, "mm"),
                    Quantity("t_w", "world tilt", case.shot.world.tilt_deg, "°"),
                    Quantity("t_s", "tilt as built", case.stage.tilt_deg, "°"),
                    Quantity("b", "set back", case.plate.setback_m * 1000, "mm"),
                    Quantity("raw", "largest before the reframe", plain.max_px, "px"),
                    Quantity("rms", "root mean square after it", fitted.rms_px, "px"),
                ),
                result=Quantity("max", "largest after the reframe", fitted.max_px, "px"),
                source="Pinhole projection; least-squares similarity (Umeyama 1991).",
            ),
            case.tolerance.working,
        ),
    )


def _ways(case: Case) -> list[Way]:
    back = {"axis_height_m": None, "tilt_deg": None, "setback_m": 0.0}
    drop_m = drop_needed_m(case)
    ways = [Way("Put the camera back where it is derived.", back)]
    if drop_m > 0:
        words = f"Let the camera base sit {length(drop_m)} below this stage's ground."
        ways.append(Way(words, {**back, "drop_m": drop_m}))
    return ways


def drop_needed_m(case: Case) -> float:
    """How far below this stage's ground the base must sit, rounded up to 5 mm."""
    short_mm = case.choice.body.axis_height_mm - case.stage.ideal_axis_m * 1000.0
    return max(0.0, math.ceil(short_mm / 5.0 - 1e-9) * 5.0 / 1000.0)


def measure(n: Numbers) -> Measured | None:
    """Departure in pixels after the best reframe; None where nothing is in view, or where post lays
    it in moment by moment: see `placed`."""
    if n.shot.placing is not None or not len(compared(n.shot, n.plate).points):
        return None
    off = n.of_place("mismatch", fitted_px)
    most = n.tolerance_px * MISMATCH_STRAINS_TO
    ranks = np.where(np.isnan(off), 0, ranked(off, n.tolerance_px, most))
    return Measured(ranks, off - most)


def takes(case: Case, short: float) -> tuple[str, str]:
    """Lowered as far as the floor asks where that is why; else as the judgement itself says."""
    apart = f"{pixels(short + case.tolerance.px * MISMATCH_STRAINS_TO)} apart"
    return (let_down(case) if too_high_m(case) > 1e-6 else ""), apart


RULE = Rule(
    key="mismatch",
    title="Match with the world camera",
    name="match with the world camera",
    speak=judge_mismatch,
    ways=_ways,
    measure=measure,
    takes=takes,
)
