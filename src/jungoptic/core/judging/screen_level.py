"""Is the screen as bright as a key wants it, against the light on the action?"""

from __future__ import annotations

import math
from dataclasses import replace

from ..lighting.on_stage import lighting
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import PlacedLamp
from ..screens.lit import lit_screen, screen_lamps
from ..stage.case import Case
from ..words.quantities import lux, stops
from .limits import LEVEL_HIGH, LEVEL_LOW, LEVEL_STRAINS
from .rule import Rule
from .way import Way

#: How often the dimmers are set anew before the answer is given.
TRIES = 8


def judge_screen_level(case: Case) -> Finding | None:
    """Brightness of the screen against the key on the action."""
    lit, light = lit_screen(case), lighting(case)
    over = _over(case)
    if lit is None or light is None or over is None or case.plate.screen_colour == "black":
        return None
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


def _over(case: Case) -> float | None:
    """How far the screen lies over the light on the action, stops; None without either."""
    lit, light = lit_screen(case), lighting(case)
    if lit is None or light is None or light.lux <= 0.0:
        return None
    return math.log2(lit.level_lux / light.lux)


def _dimmed(case: Case, numbers: set[int]) -> tuple[PlacedLamp, ...] | None:
    """The lamps with these ones dimmed, or opened as far as they go, until the screen lies half a
    stop under the action. What they throw on both changes with them, so it is tried a few times;
    None where dimming them changes nothing."""
    lamps = case.plate.lamps
    highest = max((lamps[i].level for i in numbers), default=0.0)
    if highest <= 0.0:
        return None
    # Lamps of the screen brighten it, all others lighten the action.
    sign = 1.0 if numbers <= set(screen_lamps(case)) else -1.0
    part = 1.0
    for _ in range(TRIES):
        tried = tuple(
            replace(x, level=round(x.level * part, 3)) if i in numbers else x
            for i, x in enumerate(lamps)
        )
        over = _over(replace(case, plate=replace(case.plate, lamps=tried)))
        if over is None:
            return None
        way = (LEVEL_LOW + LEVEL_HIGH) / 2.0 - over
        part = min(part * 2.0 ** (sign * way), 1.0 / highest)
    return tried if tried != lamps else None


def _ways(case: Case) -> list[Way]:
    """The lamps of the screen set to the key, or the others dimmed to suit the screen."""
    over = _over(case)
    if over is None:
        return []
    own = set(screen_lamps(case))
    ways: list[Way] = []
    changed = _dimmed(case, own)
    if changed is not None:
        top = max(changed[i].level for i in own)
        ways.append(Way(f"Set the lamps of the screen to {top * 100:.0f} %.", {"lamps": changed}))
    others = _dimmed(case, set(range(len(case.plate.lamps))) - own) if over < LEVEL_LOW else None
    if others is not None:
        ways.append(Way("Dim the lamps on the action to suit the screen.", {"lamps": others}))
    if own:
        ways.append(
            Way(
                "Move the lamps of the screen nearer to it, or flag them off the action.",
                promises=Verdict.HOLDS,
            )
        )
    return ways


RULE = Rule(
    key="screen-level",
    title="Screen level",
    name="screen level",
    speak=judge_screen_level,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
