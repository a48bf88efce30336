"""Does the screen cover the action, and hang far enough behind it?"""

from __future__ import annotations

import math

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.backing import Backing, backing
from ..stage.case import Case
from ..words.quantities import length, scale
from .cloth import covering, covers
from .limits import SCREEN_USUAL_GAP_M
from .rule import Measured, Numbers, Rule
from .way import Way


def backing_verdict(case: Case) -> Verdict | None:
    """The verdict of `judge_backing` without its words."""
    plate, needed = case.plate, backing(case)
    if needed is None or plate.screen_width_m <= 0 or plate.screen_height_m <= 0:
        return None
    if plate.screen_width_m < needed.width_m or plate.screen_top_m < needed.top_m:
        return Verdict.BREAKS
    if plate.screen_foot_m > needed.bottom_m + 1e-9:
        return Verdict.BREAKS
    return Verdict.STRAINS if plate.screen_gap_m < SCREEN_USUAL_GAP_M else Verdict.HOLDS


def judge_backing(case: Case) -> Finding | None:
    """Whether the screen covers the action with a margin, and hangs far enough away."""
    plate = case.plate
    needed, verdict = backing(case), backing_verdict(case)
    if needed is None or verdict is None:
        return None
    if verdict is Verdict.BREAKS:
        sentence = (
            f"The action needs {_needs(needed)} of screen at {length(needed.distance_m)}"
            f"{_from(needed.bottom_m)}; this one is {length(plate.screen_width_m)} × "
            f"{length(plate.screen_height_m)}{_from(plate.screen_foot_m)}."
        )
    elif verdict is Verdict.STRAINS:
        sentence = (
            f"The screen covers the action but hangs {length(plate.screen_gap_m)} behind it; "
            f"under {length(SCREEN_USUAL_GAP_M)} spill and shadows usually trouble the key."
        )
    else:
        sentence = (
            f"The screen covers the action ({_needs(needed)} needed{_from(needed.bottom_m)}); the "
            "rest of the frame is garbage matte."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="size on the screen = size · screen distance / subject distance, plus "
                "150 mm all round",
                inputs=(
                    Quantity("d", "screen distance", needed.distance_m, "m"),
                    Quantity("gap", "screen behind the action", plate.screen_gap_m, "m"),
                    Quantity("S", f"scale ({scale(plate.scale)})", plate.scale, ""),
                    Quantity("top", "upper edge needed", needed.top_m, "m"),
                    Quantity("foot", "lower edge needed", needed.bottom_m, "m"),
                ),
                result=Quantity("width", "width needed", needed.width_m, "m"),
                source="Similar triangles; margin and 2 m gap are common practice.",
            ),
        ),
    )


def _needs(needed: Backing) -> str:
    return f"{length(needed.width_m)} × {length(needed.top_m - needed.bottom_m)}"


def _from(foot_m: float) -> str:
    """That a lower edge need not, or does not, reach the ground."""
    return "" if foot_m <= 0.0 else f", from {length(foot_m)} up"


def _ways(case: Case) -> list[Way]:
    plate, needed = case.plate, backing(case)
    ways = []
    if needed is not None:
        # As low as it must, told to the centimetre.
        foot = math.floor(needed.bottom_m * 100.0) / 100.0
        if foot != plate.screen_foot_m:
            word = f"with its lower edge {length(foot)} up" if foot else "down to the ground"
            ways.append(Way(f"Hang it {word}.", {"screen_foot_m": foot}))
    ways += [
        Way(
            f"Hang the screen {length(gap)} behind the action.", {"screen_gap_m": gap}, family="gap"
        )
        for gap in (2.0, 2.5, 1.5, 1.0)
        if gap != plate.screen_gap_m
    ]
    return [*ways, *(covering(case, cloth, hung) for cloth, hung in covers(case))]


def measure(n: Numbers) -> Measured | None:
    """Whether the screen covers the action; None for plates without screen or action."""
    if n.plate.kind != "screen":
        return None
    ranks = n.of_place("screen", _rank)
    return None if np.isnan(ranks).all() else Measured(np.nan_to_num(ranks), np.nan_to_num(ranks))


def _rank(case: Case) -> float:
    verdict = backing_verdict(case)
    return math.nan if verdict is None else float(verdict.rank)


def takes(case: Case, short: float) -> tuple[str, str] | None:
    """A larger screen, or more room before it."""
    needed = backing(case)
    if needed is None:
        return None
    if backing_verdict(case) is Verdict.STRAINS:
        return f"{length(SCREEN_USUAL_GAP_M)} between the action and the screen.", "too near"
    # Hung where it hangs, unless that is too high already.
    high = needed.top_m - min(case.plate.screen_foot_m, needed.bottom_m)
    return f"A screen {length(needed.width_m)} × {length(high)}.", "too small"


RULE = Rule(
    key="backing",
    title="Screen",
    name="screen",
    speak=judge_backing,
    ways=_ways,
    measure=measure,
    takes=takes,
)
