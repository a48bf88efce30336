"""Does a key that plays the sun fall off across the set?"""

from __future__ import annotations

import math

from ..lighting.on_stage import lighting
from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..stage.case import Case
from ..words.quantities import length, stops
from .lamps import farther, key_of, left
from .limits import FALLOFF_HOLDS, FALLOFF_STRAINS
from .rule import Rule
from .trying import ways_out


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

    def effect(tried: Case) -> str:
        now = lighting(tried)
        if now is None or math.isinf(now.falloff_stops):
            return ""
        return f"{stops(now.falloff_stops)} of fall-off. {left(now, light)}"

    def ways() -> list[Remedy | None]:
        found: list[Remedy | None] = []
        for part in (1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 6.0):
            found.append(farther(case, light, key, judge_falloff, verdict, part, effect))
            if (way := found[-1]) is not None and way.verdict is Verdict.HOLDS:
                break
        return found

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
        remedies=ways_out(case, verdict, ways),
    )


RULE = Rule(
    key="falloff",
    title="Fall-off",
    name="fall-off",
    speak=judge_falloff,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
