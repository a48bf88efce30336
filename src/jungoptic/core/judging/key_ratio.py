"""Is the shadow side as dark against the key as in the story?"""

from __future__ import annotations

import math
from dataclasses import replace

from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..stage.case import Case
from ..words.quantities import stops
from .lamps import key_of
from .limits import RATIO_HOLDS, RATIO_STRAINS
from .rule import Rule
from .way import Way


def judge_ratio(case: Case) -> Finding | None:
    """Whether the shadow side is as deep as the story's."""
    found, wanted = key_of(case), case.shot.key_ratio_stops
    if found is None or wanted is None:
        return None
    light, key = found
    have = math.inf if light.ratio_stops is None else light.ratio_stops
    verdict = banded(abs(have - wanted) / case.relaxed, RATIO_HOLDS, RATIO_STRAINS)
    if math.isinf(have):
        verdict = Verdict.STRAINS
        sentence = (
            "No lamp fills the shadow side, and no room is told that would give light back. The "
            f"story wants it {stops(wanted)} under the key side."
        )
    else:
        fills = any(x.role in ("fill", "practical") for x in light.lamps)
        side = "facing the fill" if fills else "facing away from the key"
        sentence = (
            f"The shadow side, {side}, lies {stops(have)} under the key side; the story wants "
            f"{stops(wanted)}."
        )

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="r = log₂((key + fill) / fill)",
                inputs=(
                    Quantity("key", "key, face on", key.face_lux, "lx"),
                    Quantity("fill", "on the shadow side", light.shadow_side_lux, "lx"),
                    Quantity("room", "of it given back by the room", light.room_shadow_lux, "lx"),
                ),
                result=Quantity("r", "ratio", have, "stops"),
                source="Lighting ratio (key plus fill to fill), common practice; the limits of "
                "0.5 and 1.5 stops are judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """The fill dimmed or opened: (key + fill) / fill = 2^wanted gives what is needed."""
    found, wanted = key_of(case), case.shot.key_ratio_stops
    if found is None or wanted is None or wanted <= 0.01:
        return []
    light, key = found
    fills = {x.number for x in light.lamps if x.role == "fill"}
    if not fills:
        return []
    needed = key.face_lux / (2.0**wanted - 1.0)
    # The room's light stays where the fill is dimmed; what it gives back of the fill is left out.
    lamps_only = max(light.shadow_side_lux - light.room_shadow_lux, 1e-9)
    factor = max(needed - light.room_shadow_lux, 0.0) / lamps_only
    changed = tuple(
        replace(x, level=round(min(x.level * factor, 1.0), 3)) if i in fills else x
        for i, x in enumerate(case.plate.lamps)
    )
    highest = max(case.plate.lamps[i].level for i in fills)
    words = (
        f"Set the fill to {min(highest * factor, 1.0) * 100:.0f} %."
        if factor > 0.0
        else "Take the fill out: the room alone fills as much."
    )
    return [Way(words, {"lamps": changed})]


RULE = Rule(
    key="ratio",
    title="Key to fill",
    name="key to fill",
    speak=judge_ratio,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
