"""Is there enough light for this stop, shutter and ISO?"""

from __future__ import annotations

import math

from .. import exposure
from ..findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..optics import next_stop_open
from ..quantities import lux, stop, stops
from .case import Case, best, remedy

#: Under by a third of a stop is nothing; under by one can be lifted in post, with noise
#: (judgement).
HOLDS_TO = 1.0 / 3.0
STRAINS_TO = 1.0


def judge_light(case: Case) -> Finding | None:
    """Light needed against light there is; None until a level has been entered."""
    stage, plate = case.stage, case.plate
    if plate.light_lux is None:
        return None
    margin = exposure.stops_between(plate.light_lux, stage.lux_needed)
    verdict = banded(-margin, HOLDS_TO, STRAINS_TO)
    sentence = f"Needs {lux(stage.lux_needed)}, there is {lux(plate.light_lux)}: " + (
        f"{stops(margin)} short." if margin < -0.05 else f"{stops(margin)} to spare."
    )
    return Finding(
        key="light",
        title="Light",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="E = C T² / (t · ISO),  T = N (1 + m/P) · T/f · √2^ND",
                inputs=(
                    Quantity("C", "calibration", exposure.FLAT_RECEPTOR_LUX_S, "lx·s"),
                    Quantity("T", "stop that governs light", stage.light_stop, ""),
                    Quantity("t", "exposure time", stage.exposure_s, "s"),
                    Quantity("ISO", "ISO", plate.iso, ""),
                    Quantity("E_a", "light there is", plate.light_lux, "lx"),
                ),
                result=Quantity("E", "light needed", stage.lux_needed, "lx"),
                source="ISO 2720, flat receptor, C = 250 lx·s.",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _remedies(case, verdict, margin),
    )


def _remedies(case: Case, before: Verdict, margin: float) -> tuple[Remedy, ...]:
    plate, mode, lens = case.plate, case.choice.mode, case.choice.lens

    def effect(tried: Case) -> str:
        return f"Needs {lux(tried.stage.lux_needed)}."

    ways: list[Remedy | None] = []
    if plate.nd_stops > 0:
        ways.append(
            remedy(case, judge_light, before, {"nd_stops": 0.0}, "Take the ND out.", effect)
        )
    iso = min(mode.max_iso, math.ceil(plate.iso * 2.0**-margin / 100.0) * 100.0)
    ways.append(
        remedy(case, judge_light, before, {"iso": iso}, f"Raise the ISO to {iso:.0f}.", effect)
    )
    wider = max(next_stop_open(plate.f_number * 2.0 ** (margin / 2.0)), lens.widest_stop)
    ways.append(
        remedy(case, judge_light, before, {"f_number": wider}, f"Open up to {stop(wider)}.", effect)
    )
    ways.append(
        Remedy(
            sentence=f"Bring {2.0**-margin:.1f} times the light to the action.",
            effect=f"{lux(case.stage.lux_needed)} there.",
            verdict=Verdict.HOLDS,
        )
    )
    return best(ways)
