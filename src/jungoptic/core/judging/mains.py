"""Do the lamps of this stage find enough current in its room?"""

from __future__ import annotations

from ..lighting.mains import CONTINUOUS, mains_load
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from .rule import Rule
from .way import Way


def judge_mains(case: Case) -> Finding | None:
    """Watts of the lamps placed against the circuits of the room; None without mains."""
    load = mains_load(case.shot, case.plate)
    room = case.shot.kit.room(case.plate.room_id)
    if load is None or room is None:
        return None
    verdict = Verdict.BREAKS if load.over_a > 1e-9 else Verdict.HOLDS
    limit = CONTINUOUS * room.circuit_a
    fullest = max(load.circuits, key=lambda c: c.amperes)
    one = room.circuits == 1
    circuits = f"{room.circuits} circuit{'' if one else 's'}"
    sentence = (
        f"The lamps draw {load.watts:.0f} W, {load.amperes:.1f} A at {room.volts:.0f} V; "
        f"{circuits} of {room.circuit_a:.0f} A in the {room.name} "
        f"{'carries' if one else 'carry'} {limit:.1f} A {'' if one else 'each '}for hours"
    )
    if verdict is Verdict.BREAKS:
        sentence += f": {load.over_a:.1f} A too much. Ask a licensed electrician; local code rules."
    else:
        if not one:
            which = "fuller" if room.circuits == 2 else "fullest"
            sentence += f"; the {which} one carries {fullest.amperes:.1f} A"
        sentence += ". Local code rules."
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="I = W / V against 0.8 of the rating, shared over the circuits",
                inputs=(
                    Quantity("W", "all lamps, undimmed", load.watts, "W"),
                    Quantity("V", "mains", room.volts, "V"),
                    Quantity("0.8·A", "one circuit, for hours", limit, "A"),
                ),
                result=Quantity("I", "drawn in all", load.amperes, "A"),
                source="80 % of the rating for continuous load: NFPA 70, 210.20(A) (from memory); "
                "other countries have their own code. Never a substitute for an electrician.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    load = mains_load(case.shot, case.plate)
    room = case.shot.kit.room(case.plate.room_id)
    if load is None or room is None:
        return []
    return [
        Way(
            "Fewer or smaller lamps, lamps on batteries, or another circuit that an "
            "electrician names.",
            effect=f"{load.over_a * room.volts:.0f} W less on these circuits.",
            promises=Verdict.HOLDS,
        )
    ]


RULE = Rule(
    key="mains",
    title="Mains",
    name="mains",
    speak=judge_mains,
    ways=_ways,
    otherwise="Lamps that draw less, or another circuit.",
)
