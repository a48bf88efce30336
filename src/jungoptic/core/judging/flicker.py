"""Do lamps that pulse with the mains show in the picture?"""

from __future__ import annotations

import math

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words.quantities import degrees, shutter
from .limits import MANY_PULSES, PULSE_HOLDS, PULSE_STRAINS
from .numbers import asked
from .rule import Measured, N, Numbers, Rule, ranked, verdict_of
from .way import Way


def pulse_error(exposure_s: N, mains_hz: float) -> tuple[N, N]:
    """(how far an exposure is from a whole number of mains pulses, as a part of that number; the
    number of pulses in it). Lamps pulse twice per cycle: safe exposures are n / (2 f). Common
    practice."""
    pulses = exposure_s * 2.0 * mains_hz
    whole = np.maximum(np.round(pulses), 1.0)
    return abs(pulses - whole) / whole, pulses


def pulsing_lamps(shot: Shot, plate: Plate) -> list[str]:
    """Names of the lamps placed for this plate that pulse with the mains."""
    found = (shot.kit.lamp(p.lamp_id) for p in plate.lamps)
    return list(dict.fromkeys(lamp.name for lamp in found if lamp and not lamp.flicker_free))


def judge_flicker(case: Case) -> Finding | None:
    """Whether the exposure takes in whole pulses of the mains; None without pulsing lamps or
    mains."""
    room = case.shot.kit.room(case.plate.room_id)
    names = pulsing_lamps(case.shot, case.plate)
    measured = asked(measure, case)
    if measured is None or room is None or room.mains_hz is None:
        return None
    time_s = case.stage.exposure_s
    off, pulses = (float(v) for v in pulse_error(time_s, room.mains_hz))
    verdict = verdict_of(measured)
    said = f"{names[0]} pulses {2 * room.mains_hz:.0f} times a second; {shutter(time_s)} takes in "
    said += f"{pulses:.2f} pulses"
    sentence = said + (
        "."
        if verdict is Verdict.HOLDS
        else ": less than one, so frames differ in brightness; only lamps on direct current or "
        "high frequency will do."
        if pulses < 1.0 - PULSE_STRAINS
        else ": brightness may drift in slow waves."
    )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="pulses = t · 2 f",
                inputs=(
                    Quantity("t", "exposure time", time_s, "s"),
                    Quantity("f", "mains", room.mains_hz, "Hz"),
                    Quantity("off", "off a whole number by", off, ""),
                ),
                result=Quantity("n", "pulses in one exposure", pulses, ""),
                source="Lamps on alternating current pulse twice per cycle (common practice).",
            ),
        ),
    )


def safe_angle(fps: float, mains_hz: float, wanted_deg: float) -> float | None:
    """The shutter angle nearest `wanted_deg` whose exposure is a whole number of pulses; None when
    even 360 degrees is too short."""
    one = 360.0 * fps / (2.0 * mains_hz)
    if one > 360.0 + 1e-9:
        return None
    most = math.floor(360.0 / one + 1e-9)
    return one * min(max(round(wanted_deg / one), 1), most)


def _ways(case: Case) -> list[Way]:
    room = case.shot.kit.room(case.plate.room_id)
    if room is None or room.mains_hz is None:
        return []
    ways: list[Way] = []
    angle = safe_angle(case.stage.capture_fps, room.mains_hz, case.plate.shutter_deg)
    if angle is not None:
        ways.append(
            Way(
                f"Set the shutter to {degrees(angle)}.",
                {"shutter_deg": round(angle, 2)},
                lambda t: f"{shutter(t.stage.exposure_s)}: whole pulses.",
            )
        )
    ways.append(
        Way(
            "Light it with lamps on direct current or high frequency.",
            effect="They do not pulse.",
            promises=Verdict.HOLDS,
        )
    )
    return ways


def measure(n: Numbers) -> Measured | None:
    """How far the exposure is from whole pulses of the mains; None without pulsing lamps or mains.

    Less than one pulse is never steady; with many in one exposure what is left over hardly shows.
    """
    room = n.shot.kit.room(n.plate.room_id)
    if room is None or room.mains_hz is None or not pulsing_lamps(n.shot, n.plate):
        return None
    off, pulses = pulse_error(n.exposure_s, room.mains_hz)
    ranks = ranked(off, PULSE_HOLDS, PULSE_STRAINS)
    ranks = np.where(pulses >= MANY_PULSES, np.minimum(ranks, 1), ranks)
    return Measured(np.where(pulses < 1.0 - PULSE_STRAINS, 2, ranks), off)


RULE = Rule(
    key="flicker",
    title="Flicker",
    name="flicker",
    speak=judge_flicker,
    ways=_ways,
    axes=frozenset({"scale", "setup", "shutter", "slowdown"}),
    measure=measure,
    otherwise="Lamps on direct current or high frequency.",
)
