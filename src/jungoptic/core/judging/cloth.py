"""Is there a cloth that this screen can be hung from?"""

from __future__ import annotations

import math

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.grip import Cloth
from ..stage.backing import backing
from ..stage.case import Case
from ..stage.hung import Hanging, best, choosable, hangings, has_cloth
from ..words.quantities import length
from .limits import CLOTH_NEARLY_M
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_cloth(case: Case) -> Finding | None:
    """Whether a screen can be hung from what is owned; None without a screen, where no cloth is
    owned, and for white, which a wall can be."""
    measured = asked(measure, case)
    if measured is None:
        return None
    shot, plate, verdict = case.shot, case.plate, verdict_of(measured)
    named, found = shot.kit.cloth(plate.cloth_id), best(shot, plate)
    asks = f"{length(plate.screen_width_m)} × {length(plate.screen_height_m)}"
    if plate.screen_sweep_m > 0.0:
        asks += f" with {length(plate.screen_sweep_m)} on the floor"
    if found is None:
        on = "there" if plate.film_on is None else f"there on {plate.film_on:%-d %B}"
        said = f"No {plate.screen_colour} cloth is {on}; {asks} is to hang."
        return RULE.finding(verdict, said)
    hung, short = found
    cloth = hung.cloth
    if cloth.colour != plate.screen_colour:
        said = f"The {cloth.name} is {cloth.colour}; this screen is to be {plate.screen_colour}."
    elif verdict is Verdict.HOLDS:
        side = ", on its side" if hung.turned else ""
        said = f"{cloth.name}: {size_of(cloth)} gives {asks}{side}."
    else:
        what = (
            "is stiff and cannot run on over the floor"
            if math.isinf(short)
            else f"is {length(short)} too small, upright or on its side"
        )
        said = f"{asks} is to hang; the {cloth.name} ({size_of(cloth)}) {what}."
        if named is None:
            said = f"No {plate.screen_colour} cloth owned is large enough: {said}"
    return RULE.finding(verdict, said, (_working(case, hung, short),))


def measure(n: Numbers) -> Measured | None:
    """By how much what is owned is too small, metres; None where nothing is asked."""
    shot, plate = n.shot, n.plate
    if not has_cloth(plate) or not shot.kit.cloths:
        return None
    found = best(shot, plate)
    if found is None:
        return None if plate.screen_colour == "white" else Measured(np.float64(2), math.inf)
    hung, short = found
    if hung.cloth.colour != plate.screen_colour:
        return Measured(np.float64(2), short)
    return Measured(ranked(np.float64(short), CLOTH_NEARLY_M, CLOTH_NEARLY_M), short)


def size_of(cloth: Cloth) -> str:
    """How large a cloth is, in words."""
    return f"{length(cloth.width_m)} × {length(cloth.length_m)}"


def _working(case: Case, hung: Hanging, short: float) -> Working:
    plate = case.plate
    return Working(
        formula="width ≤ across,  height + sweep ≤ down, upright or on its side",
        inputs=(
            Quantity("w", "screen width", plate.screen_width_m, "m"),
            Quantity("h", "screen height", plate.screen_height_m, "m"),
            Quantity("s", "of it on the floor", plate.screen_sweep_m, "m"),
            Quantity("across", "across as it hangs", hung.across_m, "m"),
            Quantity("down", "down as it hangs", hung.down_m, "m"),
        ),
        result=Quantity("short", "too small by", max(short, 0.0), "m"),
        source="Subtraction; a centimetre of hem is a judgement.",
    )


def _ways(case: Case) -> list[Way]:
    shot, plate = case.shot, case.plate
    width, height, sweep = plate.screen_width_m, plate.screen_height_m, plate.screen_sweep_m
    ways = [covering(case, cloth, hung) for cloth, hung in covers(case)]
    for cloth in choosable(shot, plate):
        for hung in hangings(cloth):
            lies = 0.0 if cloth.stiff else min(sweep, max(hung.down_m - height, 0.0))
            if lies < sweep and width <= hung.across_m and height + lies <= hung.down_m:
                ways.append(
                    Way(
                        f"Lay {length(lies)} of it on the floor."
                        if lies
                        else "Hang it alone, nothing of it on the floor.",
                        {"screen_sweep_m": lies},
                    )
                )
    return ways


def covers(case: Case) -> list[tuple[Cloth, Hanging]]:
    """The cloths owned that cover what this stage's action needs, and how each hangs for it."""
    needed = backing(case)
    if needed is None:
        return []
    found = []
    kit = case.shot.kit
    for cloth in kit.there(kit.cloths, case.plate.film_on):
        for hung in hangings(cloth):
            if hung.across_m >= needed.width_m and hung.down_m >= needed.top_m - needed.bottom_m:
                found.append((cloth, hung))
                break
    return found


def covering(case: Case, cloth: Cloth, hung: Hanging) -> Way:
    """To hang a cloth as high as it must, and let the rest run on over the floor as far as the
    plate asks for it."""
    needed, plate = backing(case), case.plate
    assert needed is not None
    # What does not reach down to the ground hangs as low as the action needs it.
    foot = 0.0 if hung.down_m >= needed.top_m else math.floor(needed.bottom_m * 100.0) / 100.0
    rest = 0.0 if cloth.stiff or foot else min(plate.screen_sweep_m, hung.down_m - needed.top_m)
    sweep = math.floor(rest * 100.0) / 100.0
    height, width = round(hung.down_m - sweep, 3), hung.across_m
    if not cloth.stiff:
        # What is not asked for stays folded.
        width = min(width, math.ceil(max(needed.width_m, plate.screen_width_m) * 100.0) / 100.0)
    if not cloth.stiff and not foot:
        height = min(height, math.ceil(max(needed.top_m, plate.screen_top_m) * 100.0) / 100.0)
    side = " on its side" if hung.turned else ""
    lies = f", {length(sweep)} of it on the floor" if sweep else ""
    lies += f", its lower edge {length(foot)} up" if foot else ""
    changes = {
        "screen_width_m": width,
        "screen_height_m": height,
        "screen_sweep_m": sweep,
        "screen_foot_m": foot,
        "screen_colour": cloth.colour,
        "cloth_id": cloth.id,
    }
    return Way(f"Hang the {cloth.name}{side}, {length(height)} high{lies}.", changes)


def takes(case: Case, short: float) -> tuple[str, str]:
    """A cloth as large as the screen is to be."""
    plate = case.plate
    down = plate.screen_height_m + plate.screen_sweep_m
    return f"A cloth of {length(plate.screen_width_m)} × {length(down)}.", "none owned"


RULE = Rule(
    key="cloth",
    title="Cloth",
    name="cloth",
    speak=judge_cloth,
    ways=_ways,
    measure=measure,
    takes=takes,
)
