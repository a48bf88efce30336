"""Does a key that plays the sun fall off across the set?"""

from __future__ import annotations

import math

from ..lighting.on_stage import lighting
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..stage.case import Case
from ..words.quantities import length, stops
from .lamps import farther, key_of, left
from .limits import FALLOFF_HOLDS, FALLOFF_STRAINS
from .rule import Rule
from .way import Way


def judge_falloff(case: Case) -> Finding | None:
    """Whether the key falls off across the set as it should: the sun does not fall off at all."""
    found = key_of(case)
    if found is None or case.shot.key_kind != "sun" or case.shot.key_from_deg is None:
        return None
    light, key = found
    if math.isinf(light.key_far_m):
        return None
    verdict = banded(light.falloff_stops / case.relaxed, FALLOFF_HOLDS, FALLOFF_STRAINS)
    sentence = (
        f"{key.name} stands {length(light.key_near_m)} to {length(light.key_far_m)} from what it "
        "lights: "
    )
    if math.isinf(light.falloff_stops):
        sentence += "a part of the set gets nothing of it; the sun has no fall-off."
    elif verdict is Verdict.HOLDS:
        sentence += f"{stops(light.falloff_stops)} of fall-off across the set pass for the sun."
    else:
        sentence += f"{stops(light.falloff_stops)} of fall-off across the set; the sun has none."

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="fall-off = log₂(E nearest / E farthest), about 2 log₂(far / near)",
                inputs=(
                    Quantity("near", "key to the nearest point", light.key_near_m, "m"),
                    Quantity("far", "key to the farthest point", light.key_far_m, "m"),
                ),
                result=Quantity("f", "fall-off", light.falloff_stops, "stops"),
                source="Inverse square, with the lamp's own size and beam; 0.5 and 1 stop are "
                "judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    found = key_of(case)
    if found is None:
        return []
    light, key = found

    def effect(tried: Case) -> str:
        now = lighting(tried)
        if now is None or math.isinf(now.falloff_stops):
            return ""
        return f"{stops(now.falloff_stops)} of fall-off. {left(now, light)}"

    parts = (1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 6.0)
    return [farther(case, light, key, part, effect) for part in parts]


RULE = Rule(
    key="falloff",
    title="Fall-off",
    name="fall-off",
    speak=judge_falloff,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
