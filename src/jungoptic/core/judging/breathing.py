"""Do the focus passes of one plate lie on one another?"""

from __future__ import annotations

from ..plan.findings import Finding, Quantity, Working, banded
from ..stage.case import Case
from ..words.quantities import percent, pixels

#: A pass enlarged by more than this loses detail that shows beside the other (judgement).
STRAINS_TO = 0.05


def enlargements(case: Case) -> list[float]:
    """By how much each pass must be scaled so that it lies on the first: focusing nearer moves a
    thin lens out and enlarges its picture by (1 + m)."""
    first = case.stage.focal_mm
    scales = []
    for one in case.stage.passes:
        u_mm = one.focus_m * 1000.0
        scales.append(1.0 + first / (u_mm - first) if u_mm != float("inf") else 1.0)
    return [scales[0] / s for s in scales]


def judge_passes(case: Case) -> Finding | None:
    """The change of scale between focus passes and what it costs; None for a single pass."""
    if len(case.stage.passes) < 2:
        return None
    scales = enlargements(case)
    change = max(scales) / min(scales) - 1.0
    half = case.shot.delivery.width_px / 2.0
    verdict = banded(change, STRAINS_TO * case.relaxed, 3 * STRAINS_TO * case.relaxed)
    told = ", ".join(f"pass {i} by {scale:.4f}" for i, scale in enumerate(scales[1:], start=2))
    sentence = (
        f"Focusing changes the picture's size by {percent(change)} ({pixels(change * half)} at "
        f"its edge): in post, scale {told}, about the middle."
    )
    stage = case.stage
    return Finding(
        key="passes",
        title="Focus passes on one another",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="scale of pass i = (1 + m₁) / (1 + mᵢ),  m = f / (u − f)",
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
