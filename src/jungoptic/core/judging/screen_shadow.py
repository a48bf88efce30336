"""Does a lamp throw the action's shadow on the screen behind it?"""

from __future__ import annotations

import math

from ..lighting.on_stage import lighting
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..screens.lit import lit_screen, shadows_there
from ..stage.case import Case
from ..words.quantities import length, stops
from .lamps import with_lamp
from .limits import SHADOW_HOLDS, SHADOW_STRAINS
from .rule import Rule
from .way import Way


def judge_screen_shadow(case: Case) -> Finding | None:
    """Whether a lamp throws the action's shadow on the screen behind it."""
    if lit_screen(case) is None:
        return None
    worst = max(shadows_there(case), key=lambda s: s.darker_stops, default=None)
    darker = 0.0 if worst is None else worst.darker_stops
    verdict = banded(darker, SHADOW_HOLDS, SHADOW_STRAINS)
    name = "" if worst is None else _name(case, worst.lamp)
    if worst is None or verdict is Verdict.HOLDS:
        sentence = "No shadow that shows falls on the screen behind the action."
    else:
        soft = " soft" if worst.hidden < 0.95 else ""
        sentence = f"{name} throws the action's{soft} shadow on the screen behind it, " + (
            f"{stops(darker)} darker there."
            if math.isfinite(darker)
            else "where nothing else lights it."
        )

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="darker = log₂(E all / (E all − p · E of this lamp)) at its darkest spot",
                inputs=(
                    Quantity("left", "shadow from", 0.0 if worst is None else worst.left_m, "m"),
                    Quantity("right", "to", 0.0 if worst is None else worst.right_m, "m"),
                    Quantity("p", "hidden of the lamp", 0.0 if worst is None else worst.hidden, ""),
                ),
                result=Quantity("d", "darker", darker, "stops"),
                source="Central projection of the action from each point of each lamp; limits "
                "are judgement.",
            ),
        ),
    )


def _name(case: Case, number: int) -> str:
    light = lighting(case)
    lamps = () if light is None else light.lamps
    return next((x.name for x in lamps if x.number == number), "")


def _ways(case: Case) -> list[Way]:
    """The screen farther behind, the lamp raised or moved outwards, by steps."""
    worst = max(shadows_there(case), key=lambda s: s.darker_stops, default=None)
    light = lighting(case)
    if worst is None or light is None:
        return []
    lamp, name = case.plate.lamps[worst.lamp], _name(case, worst.lamp)
    ways: list[Way] = []
    for gap in (1.5, 2.0, 3.0):
        wider = round(max(case.plate.screen_gap_m, 1.0) * gap, 1)
        words = f"Hang the screen {length(wider)} behind the action."
        ways.append(Way(words, {"screen_gap_m": wider}, family="gap"))
    for more in (0.5, 1.0, 1.5):
        raised = with_lamp(case, worst.lamp, z_m=round(lamp.z_m + more, 2))
        words = f"Raise {name} by {length(more)}: the shadow drops below the part that counts."
        ways.append(Way(words, {"lamps": raised}, family="up"))
        out = math.copysign(more, lamp.x_m - light.at_m[0])
        aside = with_lamp(case, worst.lamp, x_m=round(lamp.x_m + out, 2))
        words = f"Move {name} {length(more)} outwards: the shadow leaves at the side."
        ways.append(Way(words, {"lamps": aside}, family="aside"))
    return ways


RULE = Rule(
    key="screen-shadow",
    title="Shadow on screen",
    name="shadow on screen",
    speak=judge_screen_shadow,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
