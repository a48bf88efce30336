"""Do the lamps of the screen keep off the action?"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import product
from typing import NamedTuple

from ..lighting.stage_light import LampLight
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import PlacedLamp
from ..screens.lit import at_screen, lit_screen, screen_lamps
from ..stage.backing import backing
from ..stage.case import Case
from ..words.quantities import length, lux, stops
from .lamps import key_of
from .limits import SCREEN_LAMPS_STRAIN, SCREEN_LAMPS_UNDER
from .rule import Rule
from .way import Way

#: Distances before the screen that its lamps are moved to, and what they are aimed at: in half
#: widths beside its middle, towards their own side.
NEARER_M = (1.2, 0.8, 0.5)
AIMS = {"its far half": -0.5, "its middle": 0.0, "its near half": 0.5}


class Thrown(NamedTuple):
    """Light of the screen's lamps on the action, from one side, and the key on it; lux."""

    lux: float
    key_lux: float
    side: str
    lamps: tuple[LampLight, ...]

    @property
    def under(self) -> float:
        """How far it lies under the key, stops."""
        return math.log2(self.key_lux / self.lux)


def on_what_is_seen(lamp: LampLight) -> float:
    """The most that a lamp gives a patch which the camera can see, lux: one that faces the lamp, or
    for a lamp behind the action one on its edge (Lambert's cosine law)."""
    turn, up = math.radians(lamp.from_deg), math.radians(lamp.elevation_deg)
    # Told from straight ahead, which is behind the action.
    behind = math.cos(up) * math.cos(turn)
    return lamp.face_lux * (math.sqrt(max(1.0 - behind**2, 0.0)) if behind > 0.0 else 1.0)


def thrown_on_action(case: Case) -> Thrown | None:
    """What the screen's lamps give the action on the side where they give most; None without a key
    or without any of them."""
    found = key_of(case)
    if found is None or case.shot.old_rules or backing(case) is None:
        return None
    light, key = found
    return thrown_from(light.lamps, key.face_lux)


def thrown_from(lamps: Sequence[LampLight], key_lux: float) -> Thrown | None:
    """The same of all `lamps` at the action, against a key so bright."""
    own = [x for x in lamps if x.role == "screen"]
    if not own or key_lux <= 0.0:
        return None
    sides = {
        "left": tuple(x for x in own if math.sin(math.radians(x.from_deg)) < 0.0),
        "right": tuple(x for x in own if math.sin(math.radians(x.from_deg)) >= 0.0),
    }
    sums = {side: sum(map(on_what_is_seen, lamps)) for side, lamps in sides.items()}
    worst = max(sums, key=lambda side: sums[side])
    if sums[worst] <= 0.0:
        return None
    return Thrown(sums[worst], key_lux, worst, sides[worst])


def judge_screen_lamps(case: Case) -> Finding | None:
    """Light of the screen's lamps on the action against the key."""
    found = thrown_on_action(case)
    if found is None:
        return None
    short = max(SCREEN_LAMPS_UNDER - found.under, 0.0) / case.relaxed
    verdict = banded(short, 1e-9, SCREEN_LAMPS_STRAIN)
    one = len(found.lamps) == 1
    sentence = (
        f"The {'lamp' if one else 'lamps'} of the screen on the {found.side} "
        f"{'throws' if one else 'throw'} {lux(found.lux)} on the action, "
        f"{stops(abs(found.under))} {'under' if found.under >= 0.0 else 'over'} the key"
    )
    if verdict is Verdict.HOLDS:
        sentence += "."
    elif found.under > 0.0:
        sentence += ": a second light that the story has not."
    else:
        sentence += f": {'it' if one else 'they'} and not the key would shape it."
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="under = log₂(E key / Σ E lamp · cos β)",
                inputs=(
                    Quantity("E_k", "key, face on", found.key_lux, "lx"),
                    *(Quantity("E", f"{x.name}, face on", x.face_lux, "lx") for x in found.lamps),
                    Quantity("Σ", "on what the camera sees of the action", found.lux, "lx"),
                ),
                result=Quantity("u", "under the key", found.under, "stops"),
                source="Lambert's cosine law, β being 0 for what can face the lamp; lamps of the "
                "screen are kept off the action (common practice); two stops are judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """The screen's lamps nearer to it, aimed past the action; or flagged."""
    screen, own = backing(case), set(screen_lamps(case))
    if screen is None or not own:
        return []
    names = "Lamps of the screen" if len(own) > 1 else "Lamp of the screen"

    def placed(lamp: PlacedLamp, before: float, beside: float) -> PlacedLamp:
        own_side = -beside if lamp.x_m < screen.centre_x_m else beside
        return at_screen(lamp, screen, case.plate, before, own_side)

    ways: list[Way] = []
    for before, (at, beside) in product(NEARER_M, AIMS.items()):
        lamps = tuple(
            placed(x, before, beside) if i in own else x for i, x in enumerate(case.plate.lamps)
        )
        ways.append(
            Way(
                f"{names} {length(before)} before it, aimed at {at}.",
                {"lamps": lamps},
                order=_uneven,
                family="nearer",
            )
        )
    ways.append(
        Way(
            f"Flag the {names[0].lower()}{names[1:]} off the action: a board or black cloth beside "
            "each.",
            promises=Verdict.HOLDS,
        )
    )
    return ways


def _uneven(case: Case) -> float:
    """How uneven the screen would be."""
    lit = lit_screen(case)
    return math.inf if lit is None else lit.spread_stops


RULE = Rule(
    key="screen-lamps",
    title="Lamps of the screen",
    name="lamps of the screen",
    speak=judge_screen_lamps,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
