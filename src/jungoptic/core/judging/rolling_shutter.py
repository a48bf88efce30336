"""Are the rows read fast enough for what crosses the picture?"""

from __future__ import annotations

import numpy as np

from ..plan.findings import Finding, Quantity, Working
from ..plan.plate import TIMELESS
from ..stage.case import Case
from .limits import LEAN_HOLDS_DEG, LEAN_STRAINS_DEG
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .smear import filmed_share
from .way import Way


def lean_deg(case: Case) -> float | None:
    """Lean of an upright thing by rolling shutter, in degrees; None while the readout is unknown or
    nothing moves."""
    measured = asked(measure, case)
    if measured is None or case.choice.mode.readout_ms is None:
        return None
    return float(measured.short) * case.relaxed


def judge_skew(case: Case) -> Finding | None:
    """Whether the rows are read fast enough for what moves."""
    measured, quick, lean = asked(measure, case), case.motion.sideways, lean_deg(case)
    if measured is None or quick is None or lean is None:
        return None
    mode, verdict = case.choice.mode, verdict_of(measured)
    speed = quick.step_px * filmed_share(case.shot, quick.frame) * case.stage.needed_fps
    sentence = (
        f"Read row by row in {mode.readout_ms:.3g} ms, uprights of {quick.stand_in.name} lean "
        f"{lean:.2f}° at its fastest; other plates and the world do not."
    )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="lean = atan(readout · rows used · speed across / picture height)",
                inputs=(
                    Quantity("r", "readout of all rows", mode.readout_ms or 0.0, "ms"),
                    Quantity("rows", "share of the rows used", case.stage.crop_down, ""),
                    Quantity(
                        "v",
                        "speed across the picture",
                        speed,
                        "px/s",
                    ),
                    Quantity("h", "picture height", float(case.shot.delivery.height_px), "px"),
                ),
                result=Quantity("lean", "lean of an upright", lean, "°"),
                source="Geometry of a readout that takes time.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    ways: list[Way] = []
    now = case.choice.mode.readout_ms or 0.0
    for body in case.shot.kit.bodies:
        for mode in body.modes:
            if mode.readout_ms is not None and mode.readout_ms < now:
                ways.append(
                    Way(
                        f"Film it with {body.name}, {mode.name}.",
                        {"body_id": body.id, "mode_id": mode.id},
                    )
                )
    return ways


def measure(n: Numbers) -> Measured | None:
    """Degrees of lean; None while no readout is known or nothing moves.

    skew = readout * share of the rows * image speed on set, over the height. What only comes nearer
    grows and does not lean. A readout that is not known counts as none.
    """
    readout_ms = n.of_setup("readout", lambda s: s.mode.readout_ms or 0.0)
    quick = n.motion.sideways
    if quick is None or n.motion.still or n.plate.kind in TIMELESS or not np.any(readout_ms):
        return None
    speed = quick.step_px * filmed_share(n.shot, quick.frame) * n.needed_fps
    skew = readout_ms / 1000.0 * np.minimum(n.crop_down, 1.0) * speed
    lean = np.degrees(np.arctan(skew / n.shot.delivery.height_px)) / n.relaxed
    return Measured(ranked(lean, LEAN_HOLDS_DEG, LEAN_STRAINS_DEG), lean)


RULE = Rule(
    key="skew",
    title="Rolling shutter",
    name="rolling shutter",
    speak=judge_skew,
    ways=_ways,
    axes=frozenset({"scale", "setup"}),
    measure=measure,
    otherwise="A mode that reads out faster, or slower movement.",
)
