"""Is the screen as bright as a key wants it, against the light on the action?"""

from __future__ import annotations

import math
from dataclasses import replace

from ..lighting.on_stage import lighting
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..screens.lit import lit_screen, screen_lamps
from ..stage.case import Case
from ..words.quantities import lux, stops
from .limits import LEVEL_HIGH, LEVEL_LOW, LEVEL_STRAINS
from .rule import Rule
from .way import Way


def judge_screen_level(case: Case) -> Finding | None:
    """Brightness of the screen against the key on the action."""
    lit, light = lit_screen(case), lighting(case)
    if lit is None or light is None or light.lux <= 0.0 or case.plate.screen_colour == "black":
        return None
    over = math.log2(lit.level_lux / light.lux)
    off = max(LEVEL_LOW - over, over - LEVEL_HIGH, 0.0)
    verdict = banded(off, 1e-9, LEVEL_STRAINS)
    side = "under" if over < 0 else "over"
    sentence = (
        f"The screen lies {stops(over)} {side} the light on the action ({lux(lit.level_lux)} "
        f"against {lux(light.lux)})"
        + ("." if verdict is Verdict.HOLDS else "; as bright to one stop under is usual.")
    )

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="level = log₂(E screen / E action)",
                inputs=(
                    Quantity("E_s", "on the screen", lit.level_lux, "lx"),
                    Quantity("E_a", "at the action", light.lux, "lx"),
                ),
                result=Quantity("l", "screen against action", over, "stops"),
                source="0 to 1 stop under the key is common practice.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """The lamps of the screen set to the key, or the others dimmed to suit the screen."""
    lit, light = lit_screen(case), lighting(case)
    if lit is None or light is None or light.lux <= 0.0:
        return []
    over = math.log2(lit.level_lux / light.lux)
    own = screen_lamps(case)
    wanted = 2.0 ** ((LEVEL_LOW + LEVEL_HIGH) / 2.0 - over)
    changed = tuple(
        replace(x, level=round(min(x.level * wanted, 1.0), 3)) if i in own else x
        for i, x in enumerate(case.plate.lamps)
    )
    ways: list[Way] = []
    if own and changed != case.plate.lamps:
        top = max(changed[i].level for i in own)
        ways.append(Way(f"Set the lamps of the screen to {top * 100:.0f} %.", {"lamps": changed}))
    if over < LEVEL_LOW:
        others = tuple(
            x if i in own else replace(x, level=round(x.level / max(wanted, 1.0), 3))
            for i, x in enumerate(case.plate.lamps)
        )
        ways.append(Way("Dim the lamps on the action to suit the screen.", {"lamps": others}))
    return ways


RULE = Rule(
    key="screen-level",
    title="Screen level",
    name="screen level",
    speak=judge_screen_level,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
