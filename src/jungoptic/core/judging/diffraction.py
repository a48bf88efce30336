"""Does the small stop soften the whole picture?"""

from __future__ import annotations

from .. import optics, thin_lens
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..thin_lens import MID_VISIBLE_NM
from ..words.quantities import pixels, stop
from .depth import delivered_px, judge_depth
from .limits import AIRY_STRAINS_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_diffraction(case: Case) -> Finding:
    """Whether the Airy disc at the working stop stays inside the allowed blur disc."""
    stage = case.stage
    verdict = verdict_of(asked(measure, case))
    disc = pixels(delivered_px(case, stage.airy_mm))
    sentence = (
        f"At {stop(stage.plate.f_number)} (working {stop(stage.effective_f_number)}) a point "
        f"spreads over {disc}"
        + (
            ", which nobody sees."
            if verdict is Verdict.HOLDS
            else ": the whole picture softens."
            if verdict is Verdict.BREAKS
            else ": a slight softness everywhere."
        )
    )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="Airy disc = 2.44 λ N (1 + m / P)",
                inputs=(
                    Quantity("λ", "wavelength", MID_VISIBLE_NM, "nm"),
                    Quantity("N", "f-number", stage.plate.f_number, ""),
                    Quantity("m", "magnification", stage.magnification, ""),
                    Quantity("P", "pupil ratio", stage.choice.lens.pupil_ratio, ""),
                    Quantity("c", "largest unnoticed blur disc", stage.coc_mm * 1000, "µm"),
                ),
                result=Quantity("d", "Airy disc", stage.airy_mm * 1000, "µm"),
                source="Born & Wolf, Principles of Optics, 8.5; effective f-number: Ray, Applied "
                "Photographic Optics (from memory).",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    stage = case.stage
    limit = case.plate.f_number * stage.coc_mm / stage.airy_mm
    wider = max(optics.next_stop_open(limit), stage.choice.lens.widest_stop)

    def effect(tried: Case) -> str:
        depth = judge_depth(tried)
        return "Depth of field then " + (
            "has nothing to cover." if depth is None else f"{depth.verdict}: {depth.sentence}"
        )

    if wider >= case.plate.f_number:
        return []
    return [Way(f"Open up to {stop(wider)}.", {"f_number": wider}, effect)]


def measure(n: Numbers) -> Measured:
    """The Airy disc over the allowed blur disc."""
    ratio = thin_lens.airy_disc(n.working_stop) / n.coc_mm / n.relaxed
    return Measured(ranked(ratio, 1.0, AIRY_STRAINS_TO), ratio)


def takes(case: Case, short: float) -> tuple[str, str]:
    """A wider stop."""
    return "A wider stop, with more focus passes.", f"diffraction {short:.1f} times the limit"


RULE = Rule(
    key="diffraction",
    title="Diffraction",
    name="diffraction",
    speak=judge_diffraction,
    ways=_ways,
    axes=frozenset({"scale", "setup", "stop"}),
    measure=measure,
    takes=takes,
)
