"""Can the lens focus as near as the stage asks?"""

from __future__ import annotations

import math

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..words.quantities import length, pixels, scale
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_close_focus(case: Case) -> Finding:
    """Whether the lens can focus as near as the stage asks, by the tape from the sensor mark."""
    stage = case.stage
    limit = stage.choice.lens.close_focus_m
    nearest = min(p.focus_m for p in stage.passes) + stage.sensor_to_pupil_m
    verdict = verdict_of(asked(measure, case))
    at = f"{length(nearest)} from the sensor mark" if math.isfinite(nearest) else "at infinity"
    sentence = (
        f"Focus is {at}; the lens reaches down to {length(limit)}."
        if verdict is Verdict.HOLDS
        else f"Focus is needed {length(nearest)} from the sensor mark, but the lens stops at "
        f"{length(limit)}."
    )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="D = u + f (1 + m)",
                inputs=(
                    Quantity("u", "object distance in focus", stage.focus_m * 1000, "mm"),
                    Quantity("f", "focal length", stage.focal_mm, "mm"),
                    Quantity("m", "magnification", stage.magnification, ""),
                ),
                result=Quantity("D", "tape from the sensor mark", nearest * 1000, "mm"),
                source="Thin-lens equation, any optics text.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    ways: list[Way] = []
    for lens in case.shot.kit.lenses:
        if lens.id == case.plate.lens_id or lens.close_focus_m >= case.choice.lens.close_focus_m:
            continue
        ways.append(
            Way(
                f"Use the {lens.name}.",
                {"lens_id": lens.id, "focal_mm": None},
                lambda t: (
                    f"It focuses to {length(t.choice.lens.close_focus_m)}; pixels left across: "
                    f"{pixels(t.stage.pixels_across)}."
                ),
            )
        )
    # The object distance goes with 1/S; the lens moves back a little too, hence the 2 % in hand.
    nearest = min(p.focus_m for p in case.stage.passes)
    wanted = case.choice.lens.close_focus_m - case.stage.sensor_to_pupil_m
    fits = math.floor(case.plate.scale * nearest * 0.98 / wanted) if wanted > 0 else 0
    if fits >= 1:
        ways.append(
            Way(
                f"Build larger, at {scale(fits)}.",
                {"scale": float(fits)},
                lambda t: f"Focus then lies {length(t.stage.focus_tape_m)} from the sensor mark.",
            )
        )
    return ways


def measure(n: Numbers) -> Measured:
    """How much nearer than the lens goes, by the tape from the sensor mark."""
    limit = n.of_setup("close focus", lambda s: s.lens.close_focus_m) * 0.999
    # A deeper stop moves the nearest pass; it is the nearest of all that counts.
    short = limit - (n.first_focus_m + n.sensor_to_pupil_m)
    return Measured(ranked(short, 0.0, 0.0), short)


def takes(case: Case, short: float) -> tuple[str, str]:
    """A lens that goes nearer."""
    nearest = min(p.focus_m for p in case.stage.passes) + case.stage.sensor_to_pupil_m
    return f"A lens that focuses to {length(nearest)}.", f"{length(short)} short"


RULE = Rule(
    key="close_focus",
    title="Close focus",
    name="close focus",
    speak=judge_close_focus,
    ways=_ways,
    axes=frozenset({"passes", "scale", "setup", "stop"}),
    measure=measure,
    takes=takes,
)
