"""Is there enough light for this stop, shutter and ISO?"""

from __future__ import annotations

import math

import numpy as np

from .. import exposure
from ..lighting.lamps import lux_from
from ..lighting.on_stage import lighting
from ..lighting.owned import for_action, light_there, owned_distance_m
from ..lighting.room_light import walls_of
from ..optics import next_stop_open
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..words.quantities import about, lux, stop, stops
from .limits import LIGHT_HOLDS_TO, LIGHT_STRAINS_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_light(case: Case) -> Finding | None:
    """Light needed against light there is: metered, from the lamps placed, or from all owned.
    None while nothing is known."""
    stage, plate = case.stage, case.plate
    found = light_there(case, lighting(case))
    if found is None:
        return None
    level, where = found
    under = case.shot.key_level_stops
    measured = asked(measure, case)
    assert measured is not None
    needed, margin, verdict = stage.lux_needed, -float(measured.short), verdict_of(measured)
    sentence = f"Needs {lux(needed)}, there is {lux(level)} {where}: " + (
        f"{stops(margin)} short."
        if margin < -0.05
        else "just enough."
        if margin < 0.05
        else f"{stops(margin)} to spare."
    )
    if under:
        way = "under" if under < 0 else "over"
        sentence += f" The story's key lies {stops(under)} {way} a normal exposure."
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="E = C T² / (t · ISO) · 2^K,  T = N (1 + m/P) · T/f · √2^ND",
                inputs=(
                    Quantity("C", "calibration", exposure.FLAT_RECEPTOR_LUX_S, "lx·s"),
                    Quantity("T", "stop that governs light", stage.light_stop, ""),
                    Quantity("t", "exposure time", stage.exposure_s, "s"),
                    Quantity("ISO", "ISO", plate.iso, ""),
                    Quantity("K", "story's key against a normal exposure", under, "stops"),
                    Quantity("E_a", f"light there is, {where}", level, "lx"),
                ),
                result=Quantity("E", "light needed", stage.lux_needed, "lx"),
                source="ISO 2720, flat receptor, C = 250 lx·s.",
            ),
            _losses(case),
            *_room(case),
        ),
    )


def _room(case: Case) -> list[Working]:
    """What of the light the room gives back; nothing where no room counts."""
    light, walls = lighting(case), walls_of(case)
    if light is None or walls is None or light.room_lux <= 0.0 or light.lux <= 0.0:
        return []
    direct = light.lux - light.room_lux
    more = math.log2(light.lux / direct) if direct > 0.0 else math.inf
    return [
        Working(
            formula="E_room = Σ M_i A_i cos α cos β / (π d²),  M_i = ρ (E_i + Σ F_ij M_j)",
            inputs=(
                Quantity("ρ", "of its light the room gives back", walls.reflectance, ""),
                Quantity("A", "floor, walls and ceiling", walls.area_m2, "m²"),
                Quantity("E_room", "given back by the room", light.room_lux, "lx"),
                Quantity("E_d", "from the lamps themselves", direct, "lx"),
            ),
            result=Quantity("more", "more than from the lamps alone", more, "stops"),
            source="Radiosity over patches of the walls (Goral and others 1984). Things in the "
            "room are left out.",
        )
    ]


def _losses(case: Case) -> Working:
    """What stands between the engraved stop and the light on the sensor, in stops."""
    stage, plate, lens = case.stage, case.plate, case.choice.lens
    bellows = 2.0 * math.log2(stage.effective_f_number / plate.f_number)
    glass = 2.0 * math.log2(lens.t_over_f)
    return Working(
        formula="stops lost = 2 log₂(1 + m/P) + 2 log₂(T/f) + ND",
        inputs=(
            Quantity("m", "magnification", stage.magnification, ""),
            Quantity("bellows", "lost by focusing close", bellows, "stops"),
            Quantity("glass", "lost in the glass, T/f", glass, "stops"),
            Quantity("ND", "neutral density", plate.nd_stops, "stops"),
        ),
        result=Quantity("lost", "lost in all", bellows + glass + plate.nd_stops, "stops"),
        source="Effective f-number: Ray, Applied Photographic Optics (from memory); T-stops: "
        "common practice.",
    )


#: More lamps alike than this nobody borrows for one plate (judgement).
MOST_BORROWED = 4


def more_lamps(case: Case, missing_lux: float) -> tuple[str, str] | None:
    """How many more of the strongest lamp owned would bring `missing_lux`, in words, and what they
    would give: those that stand idle, or a few to borrow; None where that would not do."""
    distance, lamps = owned_distance_m(case), for_action(case)[0]
    if not lamps:
        return None
    lamp = max(lamps, key=lambda x: x.lux_at_1m)
    one = lux_from(lamp.lux_at_1m, lamp.size_m, distance)
    count = math.ceil(missing_lux / one - 1e-9)
    used = sum(p.lamp_id == lamp.id for p in case.plate.lamps)
    # Where no lamp is placed, all that are owned were counted already.
    idle = max(lamp.count - used, 0) if case.plate.lamps else 0
    if count > idle + MOST_BORROWED:
        return None
    many = "One more" if count == 1 else f"{count} more"
    plural = "" if count == 1 else "s"
    borrow = (
        "" if count <= idle else " (to borrow)" if idle == 0 else f" ({count - idle} to borrow)"
    )
    return f"{many} lamp{plural} like the {lamp.name}{borrow}, at {about(distance)}.", (
        f"{lux(count * one)} more at the action."
    )


def _ways(case: Case) -> list[Way]:
    measured = asked(measure, case)
    if measured is None:
        return []
    margin = -float(measured.short)
    plate, mode, lens = case.plate, case.choice.mode, case.choice.lens

    def effect(tried: Case) -> str:
        return f"Needs {lux(tried.stage.lux_needed)}."

    ways: list[Way] = []
    if plate.nd_stops > 0:
        ways.append(Way("Take the ND out.", {"nd_stops": 0.0}, effect))
    iso = min(mode.max_iso, math.ceil(plate.iso * 2.0**-margin / 100.0) * 100.0)
    if iso > plate.iso:
        ways.append(Way(f"Raise the ISO to {iso:.0f}.", {"iso": iso}, effect))
    wider = max(next_stop_open(plate.f_number * 2.0 ** (margin / 2.0)), lens.widest_stop)
    if wider < plate.f_number:
        ways.append(Way(f"Open up to {stop(wider)}.", {"f_number": wider}, effect))
    more = more_lamps(case, case.stage.lux_needed * (1.0 - 2.0**margin))
    said = more or (
        f"Bring {2.0**-margin:.1f} times the light to the action.",
        f"{lux(case.stage.lux_needed)} there.",
    )
    ways.append(Way(said[0], effect=said[1], promises=Verdict.HOLDS))
    return ways


def measure(n: Numbers) -> Measured | None:
    """Stops of light missing; None where nothing is known of the light there is."""
    short = n.stops_short
    unknown = np.isnan(short)
    if unknown.all():
        return None
    ranks = ranked(short / n.relaxed, LIGHT_HOLDS_TO, LIGHT_STRAINS_TO)
    return Measured(np.where(unknown, 0, ranks), short)


def takes(case: Case, short: float) -> tuple[str, str]:
    """So many more lamps; enough to strain no more, since it breaks beyond a stop."""
    missing = case.stage.lux_needed * (2.0 ** -(case.relaxed / 3.0) - 2.0**-short)
    said = more_lamps(case, missing)
    wanted = f"{2.0**short:.1f} times the light." if said is None else said[0]
    return wanted, f"{stops(short)} short"


RULE = Rule(
    key="light",
    title="Light",
    name="light",
    speak=judge_light,
    ways=_ways,
    axes=frozenset({"iso", "scale", "setup", "shutter", "slowdown", "stop"}),
    measure=measure,
    takes=takes,
)
