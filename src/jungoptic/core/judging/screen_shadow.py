"""Does a lamp throw the action's shadow on the screen behind it?"""

from __future__ import annotations

import math

from ..lighting.on_stage import lighting
from ..plan.findings import Change, Finding, Quantity, Remedy, Verdict, Working, banded
from ..screens.lit import lit_screen, shadows_there
from ..stage.case import Case
from ..words.quantities import length, stops
from .lamps import with_lamp
from .limits import SHADOW_HOLDS, SHADOW_STRAINS
from .rule import Rule
from .trying import remedy, ways_out


def judge_screen_shadow(case: Case) -> Finding | None:
    """Whether a lamp throws the action's shadow on the screen behind it."""
    if lit_screen(case) is None:
        return None
    found = shadows_there(case)
    worst = max(found, key=lambda s: s.darker_stops, default=None)
    darker = 0.0 if worst is None else worst.darker_stops
    verdict = banded(darker, SHADOW_HOLDS, SHADOW_STRAINS)
    light = lighting(case)
    name = ""
    if worst is not None and light is not None:
        name = next((x.name for x in light.lamps if x.number == worst.lamp), "")
    if worst is None or verdict is Verdict.HOLDS:
        sentence = "No shadow that shows falls on the screen behind the action."
    else:
        sentence = f"{name} throws the action's shadow on the screen behind it, " + (
            f"{stops(darker)} darker there."
            if math.isfinite(darker)
            else "where nothing else lights it."
        )

    def ways() -> list[Remedy | None]:
        if worst is None or light is None:
            return []
        lamp = case.plate.lamps[worst.lamp]
        tries: list[tuple[dict[str, Change], str]] = []
        for gap in (1.5, 2.0, 3.0):
            wider = round(max(case.plate.screen_gap_m, 1.0) * gap, 1)
            words = f"Hang the screen {length(wider)} behind the action."
            tries.append(({"screen_gap_m": wider}, words))
        for more in (0.5, 1.0, 1.5):
            raised = with_lamp(case, worst.lamp, z_m=round(lamp.z_m + more, 2))
            words = f"Raise {name} by {length(more)}: the shadow drops below the part that counts."
            tries.append(({"lamps": raised}, words))
            out = math.copysign(more, lamp.x_m - light.at_m[0])
            aside = with_lamp(case, worst.lamp, x_m=round(lamp.x_m + out, 2))
            words = f"Move {name} {length(more)} outwards: the shadow leaves at the side."
            tries.append(({"lamps": aside}, words))
        return [
            remedy(
                case,
                judge_screen_shadow,
                verdict,
                changes,
                words,
            )
            for changes, words in tries
        ]

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="darker = log₂(E all / (E all − E of this lamp)) where the shadow falls",
                inputs=(
                    Quantity("left", "shadow from", 0.0 if worst is None else worst.left_m, "m"),
                    Quantity("right", "to", 0.0 if worst is None else worst.right_m, "m"),
                ),
                result=Quantity("d", "darker", darker, "stops"),
                source="Central projection of the action from each lamp; limits are judgement.",
            ),
        ),
        remedies=ways_out(case, verdict, ways),
    )


RULE = Rule(
    key="screen-shadow",
    title="Shadow on screen",
    name="shadow on screen",
    speak=judge_screen_shadow,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
