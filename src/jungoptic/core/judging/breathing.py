"""Do the focus passes of one plate lie on one another?"""

from __future__ import annotations

import numpy as np

from .. import thin_lens
from ..plan.findings import Finding, Quantity, Working
from ..stage.case import Case
from ..words.quantities import percent, pixels
from .limits import PASSES_STRAIN_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of


def enlargements(case: Case) -> list[float]:
    """By how much each pass must be scaled so that it lies on the first: focusing nearer moves a
    lens out and enlarges its picture by (1 + m / P)."""
    focal, ratio = case.stage.focal_mm, case.stage.choice.lens.pupil_ratio
    scales = [
        1.0 + thin_lens.magnification(focal, one.focus_m * 1000.0, ratio) / ratio
        for one in case.stage.passes
    ]
    return [scales[0] / s for s in scales]


def judge_passes(case: Case) -> Finding | None:
    """The change of scale between focus passes and what it costs; None for a single pass."""
    measured = asked(measure, case)
    if measured is None or len(case.stage.passes) < 2:
        return None
    scales = enlargements(case)
    change = max(scales) / min(scales) - 1.0
    half = case.shot.delivery.width_px / 2.0
    verdict = verdict_of(measured)
    told = ", ".join(f"pass {i} by {scale:.4f}" for i, scale in enumerate(scales[1:], start=2))
    sentence = (
        f"Focusing changes the picture's size by {percent(change)} ({pixels(change * half)} at "
        f"its edge): in post, scale {told}, about the middle."
    )
    stage = case.stage
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="scale of pass i = (1 + m₁/P) / (1 + mᵢ/P),  m = f / (u − f/P)",
                inputs=(
                    Quantity("f", "focal length", stage.focal_mm, "mm"),
                    *(
                        Quantity(f"u{i}", f"focus of pass {i}", p.focus_m * 1000, "mm")
                        for i, p in enumerate(stage.passes, start=1)
                    ),
                ),
                result=Quantity("s", "largest over smallest scale", 1.0 + change, ""),
                source="Thin-lens equation; a real lens may breathe otherwise, so film a chart "
                "at both ends.",
            ),
        ),
    )


def measure(n: Numbers) -> Measured | None:
    """By how much focusing changes the picture's size between the outermost passes; None where
    there is one pass only."""
    if np.max(n.passes) < 2.0 or np.isnan(n.near_m).all():
        return None
    with np.errstate(divide="ignore", invalid="ignore"):
        near, far = (
            1.0 + thin_lens.magnification(n.focal_mm, at * 1000.0, n.pupil_ratio) / n.pupil_ratio
            for at in (n.first_focus_m, n.last_focus_m)
        )
        change = near / far - 1.0
    one = (n.passes <= 1.0) | (n.passes_needed <= 1.0)
    change = np.where(one, 0.0, change) / n.relaxed
    most = 3.0 * PASSES_STRAIN_TO
    return Measured(ranked(change, PASSES_STRAIN_TO, most), change - most)


RULE = Rule(
    key="passes",
    title="Focus breathing",
    name="focus breathing",
    speak=judge_passes,
    axes=frozenset({"passes", "scale", "setup", "stop"}),
    measure=measure,
    otherwise="Fewer focus passes, or a lens whose view changes less with focus.",
)
