"""Are the story's shadow edges and colours kept: how wide the key looks, and its temperature?"""

from __future__ import annotations

import math

from ..light import mired_shift, width_at_m
from ..lighting.gels import gel_for, gel_of, kelvin
from ..lighting.on_stage import lighting
from ..lighting.sources import shining_size
from ..lighting.stage_light import LampLight, colour_off_mired
from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..plan.plate import DAYLIGHT_K
from ..stage.case import Case
from ..words.quantities import length, stops
from .key_light import farther, key_of, left, with_lamp
from .trying import remedy, sentence_of, sought

#: A source within twice as wide or narrow is not told apart; beyond four times it is seen at once
#: (judgement).
HARD_HOLDS = 1.0
HARD_STRAINS = 2.0
#: Colour that a grade takes out unnoticed, and with effort, mired (judgement).
COLOUR_HOLDS = 15.0
COLOUR_STRAINS = 45.0
# --- hardness ----------------------------------------------------------------------------------


def judge_hardness(case: Case) -> Finding | None:
    """Whether shadow edges are as sharp as the story's: the same angle of the source."""
    found, wanted = key_of(case), case.shot.key_angle_deg
    if found is None or wanted is None or wanted <= 0.0:
        return None
    light, key = found
    have = max(key.size_deg, 1e-3)
    off = abs(math.log2(have / wanted))
    verdict = banded(off / case.relaxed, HARD_HOLDS, HARD_STRAINS)
    softer = have > wanted
    sentence = f"{key.name} looks {have:.2g}° wide from the action, the story's key {wanted:.2g}°: "
    if verdict is Verdict.HOLDS:
        sentence += "shadow edges agree."
    else:
        sentence += f"shadow edges are {2**off:.1f} times {'softer' if softer else 'harder'}."
    if key.penumbra_m is not None:
        story = key.penumbra_m * width_at_m(wanted, 1.0) / width_at_m(have, 1.0)
        sentence += (
            f" At this height they are {length(key.penumbra_m)} wide on the ground here, "
            f"{length(story)} wanted."
        )

    def effect(tried: Case) -> str:
        return f"{sentence_of(judge_hardness, tried)} {left(lighting(tried), light)}"

    def sized(size_m: float, words: str) -> Remedy | None:
        changes = {"lamps": with_lamp(case, key.number, size_m=size_m)}
        return remedy(case, judge_hardness, verdict, changes, words, effect)

    def ways() -> list[Remedy | None]:
        if math.isinf(key.distance_m):
            return []
        size = width_at_m(wanted, key.distance_m)
        if not softer:
            words = f"Put a frame of diffusion {length(size)} wide before it."
            return [sized(min(round(size, 2), 20.0), words)]
        lamp = case.shot.kit.lamp(case.plate.lamps[key.number].lamp_id)
        found: list[Remedy | None] = []
        if lamp is not None and size < lamp.size_m:
            words = f"Cut a {length(size)} opening in a black card before it, at "
            words += f"{length(key.distance_m)}."
            found.append(sized(max(round(size, 4), 0.001), words))
        return found + [
            farther(case, light, key, judge_hardness, verdict, part, effect)
            for part in (1.5, 2.0, 3.0, 4.0)
        ]

    return Finding(
        key="hardness",
        title="Shadow edge",
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
        remedies=sought(case, verdict, ways),
    )


def _across(case: Case, key: LampLight) -> float:
    lamp = case.shot.kit.lamp(case.plate.lamps[key.number].lamp_id)
    if lamp is None or lamp.kind == "sun":
        return 0.0
    return math.sqrt(math.prod(shining_size(lamp, case.plate.lamps[key.number])))


# --- colour ------------------------------------------------------------------------------------


def judge_colour(case: Case) -> Finding | None:
    """Whether the key has the colour of the story's, and the fill does not fight it."""
    found = key_of(case)
    if found is None:
        return None
    light, key = found
    off = colour_off_mired(case.shot, case.plate, key.temperature_k)
    fills = [x for x in light.lamps if x.role == "fill" and x.face_lux > 0.05 * key.face_lux]
    odd = max(
        fills, key=lambda x: abs(mired_shift(key.temperature_k, x.temperature_k)), default=None
    )
    mixed = 0.0 if odd is None else abs(mired_shift(key.temperature_k, odd.temperature_k))
    if off is None and odd is None:
        return None
    story_told, off = off is not None, off or 0.0
    verdict = banded(abs(off) / case.relaxed, COLOUR_HOLDS, COLOUR_STRAINS)
    cooler = "bluer" if off < 0 else "warmer"
    story_k = case.shot.key_temperature_k or DAYLIGHT_K
    sentence = f"{key.name} shines at {key.temperature_k:.0f} K"
    if not story_told:
        sentence += "."
    elif verdict is Verdict.HOLDS:
        sentence += f" to a camera balanced to {case.plate.white_k:.0f} K: the story's colour."
    else:
        sentence += (
            f" to a camera balanced to {case.plate.white_k:.0f} K: {abs(off):.0f} mired {cooler}."
        )
    if odd is not None and mixed <= COLOUR_HOLDS:
        sentence += " The fill agrees."
    if odd is not None and mixed > COLOUR_HOLDS:
        verdict = max(verdict, Verdict.STRAINS, key=lambda v: v.rank)
        sentence += (
            f" {odd.name} fills at {odd.temperature_k:.0f} K, {mixed:.0f} mired away: no balance "
            "suits both."
        )

    def ways() -> list[Remedy | None]:
        found: list[Remedy | None] = []
        if abs(off) > COLOUR_HOLDS:
            white = kelvin(1e6 / key.temperature_k - mired_shift(DAYLIGHT_K, story_k))
            if 2000.0 <= white <= 12_000.0:
                found.append(
                    remedy(
                        case,
                        judge_colour,
                        verdict,
                        {"white_k": float(round(white, -1))},
                        f"Balance the camera to {round(white, -1):.0f} K.",
                    )
                )
            found.append(_gelled(case, key, kelvin(1e6 / key.temperature_k - off), verdict))
        if odd is not None and mixed > COLOUR_HOLDS:
            found.append(_gelled(case, odd, key.temperature_k, verdict))
        return found

    return Finding(
        key="colour",
        title="Light colour",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="off = (10⁶/T − 10⁶/W) − (10⁶/K − 10⁶/5600)",
                inputs=(
                    Quantity("T", "key with its gel", key.temperature_k, "K"),
                    Quantity("W", "camera balanced to", case.plate.white_k, "K"),
                    Quantity("K", "story's key, to a daylight camera", story_k, "K"),
                ),
                result=Quantity("off", "colour off", off, "mired"),
                source="Mired shift (reciprocal megakelvin; any handbook of cinematography); the "
                "limits of 15 and 45 mired are judgement.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )


def _gelled(
    case: Case,
    lamp: LampLight,
    wanted_k: float,
    verdict: Verdict,
) -> Remedy | None:
    """One lamp with the gel that brings it nearest to a colour."""
    model = case.shot.kit.lamp(case.plate.lamps[lamp.number].lamp_id)
    if model is None:
        return None
    gel = gel_for(model.temperature_k, wanted_k)
    worn = gel_of(case.plate.lamps[lamp.number].gel)
    if gel.key == worn.key:
        return None
    if gel.key:
        way = f"{gel.name[0].upper()}{gel.name[1:]} on {lamp.name}, {gel.mired:+.0f} mired, "
        way += f"{stops(gel.loss_stops)} of light."
    else:
        way = f"Take the {worn.name} off {lamp.name}."
    changes = {"lamps": with_lamp(case, lamp.number, gel=gel.key)}
    return remedy(case, judge_colour, verdict, changes, way)
