"""Is the light as warm or cold as the story's?"""

from __future__ import annotations

from ..light import mired_shift
from ..lighting.gels import gel_for, gel_of, kelvin
from ..lighting.stage_light import LampLight, StageLight, colour_off_mired
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import DAYLIGHT_K
from ..stage.case import Case
from ..words.quantities import stops
from ..words.sentences import capital
from .lamps import key_of, with_lamp
from .limits import LIGHT_COLOUR_HOLDS, LIGHT_COLOUR_STRAINS
from .rule import Rule
from .way import Way


def judge_colour(case: Case) -> Finding | None:
    """Whether the key has the colour of the story's, and the fill does not fight it."""
    found = key_of(case)
    if found is None:
        return None
    light, key = found
    off = colour_off_mired(case.shot, case.plate, key.temperature_k)
    odd, mixed = _odd_fill(light, key)
    if off is None and odd is None:
        return None
    story_told, off = off is not None, off or 0.0
    verdict = banded(abs(off) / case.relaxed, LIGHT_COLOUR_HOLDS, LIGHT_COLOUR_STRAINS)
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
    if odd is not None and mixed <= LIGHT_COLOUR_HOLDS:
        sentence += " The fill agrees."
    if odd is not None and mixed > LIGHT_COLOUR_HOLDS:
        verdict = max(verdict, Verdict.STRAINS, key=lambda v: v.rank)
        sentence += (
            f" {odd.name} fills at {odd.temperature_k:.0f} K, {mixed:.0f} mired away: no balance "
            "suits both."
        )

    return RULE.finding(
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
    )


def _odd_fill(light: StageLight, key: LampLight) -> tuple[LampLight | None, float]:
    """The fill whose colour is farthest from the key's, and how far, mired; weak ones do not
    count."""
    fills = [x for x in light.lamps if x.role == "fill" and x.face_lux > 0.05 * key.face_lux]
    apart = [abs(mired_shift(key.temperature_k, x.temperature_k)) for x in fills]
    return max(zip(fills, apart, strict=True), key=lambda p: p[1], default=(None, 0.0))


def _ways(case: Case) -> list[Way]:
    found = key_of(case)
    if found is None:
        return []
    light, key = found
    off = colour_off_mired(case.shot, case.plate, key.temperature_k) or 0.0
    odd, mixed = _odd_fill(light, key)
    ways: list[Way | None] = []
    if abs(off) > LIGHT_COLOUR_HOLDS:
        story_k = case.shot.key_temperature_k or DAYLIGHT_K
        white = kelvin(1e6 / key.temperature_k - mired_shift(DAYLIGHT_K, story_k))
        if 2000.0 <= white <= 12_000.0:
            balance = float(round(white, -1))
            ways.append(Way(f"Balance the camera to {balance:.0f} K.", {"white_k": balance}))
        ways.append(_gelled(case, key, kelvin(1e6 / key.temperature_k - off)))
    if odd is not None and mixed > LIGHT_COLOUR_HOLDS:
        ways.append(_gelled(case, odd, key.temperature_k))
    return [way for way in ways if way is not None]


def _gelled(case: Case, lamp: LampLight, wanted_k: float) -> Way | None:
    """One lamp with the gel that brings it nearest to a colour."""
    model = case.shot.kit.lamp(case.plate.lamps[lamp.number].lamp_id)
    if model is None:
        return None
    gel = gel_for(model.temperature_k, wanted_k)
    worn = gel_of(case.plate.lamps[lamp.number].gel)
    if gel.key == worn.key:
        return None
    if gel.key:
        way = f"{capital(gel.name)} on {lamp.name}, {gel.mired:+.0f} mired, "
        way += f"{stops(gel.loss_stops)} of light."
    else:
        way = f"Take the {worn.name} off {lamp.name}."
    changes = {"lamps": with_lamp(case, lamp.number, gel=gel.key)}
    return Way(way, changes)


RULE = Rule(
    key="colour",
    title="Light colour",
    name="light colour",
    speak=judge_colour,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
