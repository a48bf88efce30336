"""Are shadow edges as sharp as the story's?"""

from __future__ import annotations

import math

from ..light import width_at_m
from ..lighting.on_stage import lighting
from ..lighting.sources import shining_size
from ..lighting.stage_light import LampLight
from ..lighting.stage_shadows import shadows_show
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..stage.case import Case
from ..words.quantities import length
from .lamps import farther, key_of, left, with_lamp
from .limits import HARD_HOLDS, HARD_STRAINS
from .rule import Rule, sentence_of
from .way import Way


def judge_hardness(case: Case) -> Finding | None:
    """Whether shadow edges are as sharp as the story's: the same angle of the source."""
    found, wanted = key_of(case), case.shot.key_angle_deg
    if found is None or wanted is None or wanted <= 0.0:
        return None
    key = found[1]
    have = max(key.size_deg, 1e-3)
    off = abs(math.log2(have / wanted))
    verdict = banded(off / case.relaxed, HARD_HOLDS, HARD_STRAINS)
    softer = have > wanted
    sentence = f"{key.name} looks {have:.2g}° wide from the action, the story's key {wanted:.2g}°: "
    if verdict is Verdict.HOLDS:
        sentence += "shadow edges agree."
    else:
        sentence += f"shadow edges are {2**off:.1f} times {'softer' if softer else 'harder'}."
    if key.penumbra_m is not None and shadows_show(case):
        story = key.penumbra_m * width_at_m(wanted, 1.0) / width_at_m(have, 1.0)
        sentence += (
            f" At this height they are {length(key.penumbra_m)} wide on the ground here, "
            f"{length(story)} wanted."
        )

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="a = 2 arctan(s / 2D),  penumbra = way to the ground · a",
                inputs=(
                    Quantity("s", "across what shines", _across(case, key), "m"),
                    Quantity("D", "lamp to the action", key.distance_m, "m"),
                    Quantity("w", "the story's key", wanted, "°"),
                ),
                result=Quantity("a", "how wide it looks from the action", have, "°"),
                source="Geometry of a shadow; the sun is 0.533° wide (any almanac). Twice and four "
                "times are judgement.",
            ),
        ),
    )


def _across(case: Case, key: LampLight) -> float:
    lamp = case.shot.kit.lamp(case.plate.lamps[key.number].lamp_id)
    if lamp is None or lamp.kind == "sun":
        return 0.0
    return math.sqrt(math.prod(shining_size(lamp, case.plate.lamps[key.number])))


def _ways(case: Case) -> list[Way]:
    found, wanted = key_of(case), case.shot.key_angle_deg
    if found is None or wanted is None:
        return []
    light, key = found
    if math.isinf(key.distance_m):
        return []

    def effect(tried: Case) -> str:
        return f"{sentence_of(judge_hardness, tried)} {left(lighting(tried), light)}"

    def sized(size_m: float, words: str) -> Way:
        return Way(words, {"lamps": with_lamp(case, key.number, size_m=size_m)}, effect)

    size = width_at_m(wanted, key.distance_m)
    if key.size_deg <= wanted:
        words = f"Put a frame of diffusion {length(size)} wide before it."
        return [sized(min(round(size, 2), 20.0), words)]
    lamp = case.shot.kit.lamp(case.plate.lamps[key.number].lamp_id)
    ways: list[Way] = []
    if lamp is not None and size < lamp.size_m:
        words = f"Cut a {length(size)} opening in a black card before it, at "
        words += f"{length(key.distance_m)}."
        ways.append(sized(max(round(size, 4), 0.001), words))
    return ways + [farther(case, light, key, part, effect) for part in (1.5, 2.0, 3.0, 4.0)]


RULE = Rule(
    key="hardness",
    title="Shadow edge",
    name="shadow edge",
    speak=judge_hardness,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
