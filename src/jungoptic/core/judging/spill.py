"""How much of the screen's light falls on the edge of the action?"""

from __future__ import annotations

from dataclasses import replace

from ..lighting.on_stage import lighting
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..screens.colours import NAMES
from ..screens.lit import lit_screen, screen_lamps
from ..screens.screen_light import REFLECTANCE, spill_lux
from ..stage.backing import backing
from ..stage.case import Case
from ..words.quantities import length, lux, percent
from .limits import SPILL_HOLDS, SPILL_STRAINS
from .rule import Rule, sentence_of
from .screen_level import judge_screen_level
from .way import Way


def judge_spill(case: Case) -> Finding | None:
    """Light from the screen on an edge of the action, as a part of the key."""
    lit, light, screen = lit_screen(case), lighting(case), backing(case)
    if lit is None or light is None or screen is None or light.lux <= 0.0:
        return None
    thrown = spill_lux(lit.level_lux, case.plate, screen, light.at_m)
    share = thrown / light.lux
    verdict = banded(share, SPILL_HOLDS, SPILL_STRAINS)
    gap = screen.distance_m - light.at_m[1]
    sentence = (
        f"The {NAMES[case.plate.screen_colour]} throws {lux(thrown)} on edges that face it, "
        f"{percent(share)} of the key, from {length(gap)} behind"
        + (
            ": little to suppress."
            if verdict is Verdict.HOLDS
            else "; under 6 % it is easily taken out."
        )
    )

    given = REFLECTANCE[case.plate.screen_colour]
    factor = thrown / max(given * lit.level_lux, 1e-9)
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="spill = ρ · E screen · F / E key",
                inputs=(
                    Quantity(
                        "ρ", "reflectance of the screen", REFLECTANCE[case.plate.screen_colour], ""
                    ),
                    Quantity("E_s", "on the screen", lit.level_lux, "lx"),
                    Quantity("F", "form factor to an edge that faces it", factor, ""),
                    Quantity("E_k", "key at the action", light.lux, "lx"),
                ),
                result=Quantity("s", "spill over key", share, ""),
                source="Form factor of a parallel rectangle (Howell, B-4, from memory); "
                "reflectances and limits are judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """The screen farther behind, or less light on it."""
    ways: list[Way] = []
    for more in (1.25, 1.5, 2.0, 3.0):
        wider = round(case.plate.screen_gap_m * more, 1)
        words = f"Hang the screen {length(wider)} behind the action."
        ways.append(Way(words, {"screen_gap_m": wider}, family="gap"))
    own = screen_lamps(case)
    dimmed = tuple(
        replace(x, level=round(x.level / 2.0, 3)) if i in own else x
        for i, x in enumerate(case.plate.lamps)
    )
    if own:
        ways.append(
            Way(
                "Halve the lamps of the screen.",
                {"lamps": dimmed},
                lambda t: f"{sentence_of(judge_spill, t)} {sentence_of(judge_screen_level, t)}",
            )
        )
    return ways


RULE = Rule(
    key="spill",
    title="Spill",
    name="spill",
    speak=judge_spill,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
