"""Does everybody stay on their side of the line?"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ...cost.effort import line
from ...judging.limits import LINE_CLEAR_PX
from ...judging.rule import Rule
from ...judging.way import Way
from ...plan.changed import with_split
from ...plan.findings import Finding, Quantity, Verdict, Working
from ...plan.mirrored import as_told
from ...plan.tricks import DividerKey, Split
from ...stage.case import Case
from ...stage.in_frame import part_at
from ...words.quantities import length, pixels
from ...words.sentences import capital
from ..clean import clean_of
from ..extent import GESTURE_M_S
from ..strips import Nearness, crossings, side_of

#: What is said of each part of a performer.
PARTS = {
    "body": "",
    "reach": "an arm of ",
    "shadow": "the shadow of ",
    "reflection": "the reflection of ",
}


def judge_split(case: Case) -> Finding | None:
    """Whether everybody of this plate stays on their side of every divider; None without one."""
    own = [s for s in case.shot.splits if side_of(s, case.plate.id) is not None]
    bare = next((s for s in own if not s.keys), None)
    if bare is not None:
        return RULE.finding(Verdict.STRAINS, f"{bare.name}: no line is drawn yet.")
    worst = _worst(case)
    if worst is None:
        said = "Nothing of this plate is near the line."
        return RULE.finding(Verdict.HOLDS, said) if own else None
    crossing, split = worst
    verdict = verdict_of(crossing)
    who = PARTS[crossing.part] + crossing.name
    who = capital(who)
    when = f" at frame {crossing.frame}" if len(split.keys) > 1 or crossing.share < 1 else ""
    if crossing.over_px > 0:
        sentence = (
            f"{who} crosses {split.name} by {pixels(crossing.over_px)}{when}, "
            f"{length(crossing.over_m)} on this stage (feather included)."
        )
    elif verdict is Verdict.HOLDS:
        sentence = (
            f"{who} stays {pixels(-crossing.over_px)} clear of {split.name}{when}, "
            f"{length(-crossing.over_m)} on this stage."
        )
    else:
        sentence = (
            f"{who} comes within {pixels(-crossing.over_px)} of {split.name}{when}, "
            f"{length(-crossing.over_m)} on this stage."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="over = distance past the line, across it, + feather / 2",
                inputs=(
                    Quantity("feather", "feather", split.feather_px, "px"),
                    Quantity("v", "gesture", GESTURE_M_S, "m/s"),
                    Quantity("o", "over the line on the stage", crossing.over_m, "m"),
                ),
                result=Quantity("over", "over the line", crossing.over_px, "px"),
                source="Pinhole projection of body, reach, shadow and reflection; the gesture's "
                "speed is judgement.",
            ),
        ),
    )


def _worst(case: Case) -> tuple[Nearness, Split] | None:
    """What comes nearest to a divider of this plate, or farthest over it."""
    found = (
        (crossing, split)
        for split in case.shot.splits
        if split.keys and side_of(split, case.plate.id) is not None
        for crossing in crossings(case, split)
    )
    return max(found, key=lambda pair: _rank(pair[0]), default=None)


def _rank(crossing: Nearness) -> tuple[int, float]:
    return verdict_of(crossing).rank, crossing.over_px


def verdict_of(crossing: Nearness) -> Verdict:
    """A body or an arm over the line breaks; a shadow or a reflection strains, since the clean
    plate and a wide feather mend it; nearness strains."""
    if crossing.over_px > 0:
        return Verdict.BREAKS if crossing.part in ("body", "reach") else Verdict.STRAINS
    near = crossing.over_px > -LINE_CLEAR_PX and crossing.part in ("body", "reach")
    return Verdict.STRAINS if near else Verdict.HOLDS


def _ways(case: Case) -> list[Way]:
    """Aside, arms in, the line moved or bent, what is over it cut out by hand."""
    worst = _worst(case)
    if worst is None:
        return []
    crossing, split = worst
    shot = as_told(case.shot)
    told = next(s for s in shot.splits if s.id == split.id)
    first = side_of(told, case.plate.id)
    thing = next(s for s in shot.stand_ins if s.id == crossing.stand_in_id)
    world_over = abs(crossing.over_m) * case.plate.scale
    away = -1.0 if first else 1.0
    ways: list[Way] = []
    if told.upright:
        side = "left" if away < 0 else "right"
        for extra in (0.05, 0.1, 0.2, 0.35):
            step = math.ceil((max(world_over, 0.0) + extra) * 100) / 100
            words = f"{thing.name} {length(step / case.plate.scale)} to the {side}."
            to = {thing.id: {"x_m": round(thing.x_m + away * step, 2)}}
            ways.append(Way(words, things=to, family="aside"))
    if crossing.part == "reach" and thing.reach_m > 0:
        less = math.floor(max(thing.reach_m - world_over - 0.02, 0.0) * 100) / 100
        words = f"{thing.name} keeps arms within {length(less / case.plate.scale)}."
        ways.append(Way(words, things={thing.id: {"reach_m": less}}))
    width, height = shot.delivery.width_px, shot.delivery.height_px
    over_px = crossing.over_px + LINE_CLEAR_PX + 4.0
    # A line is kept as it lies before a zoom.
    closer = shot.move.zoomed(part_at(shot, crossing.frame))
    push = over_px / closer / (width if told.upright else height) * (1.0 if first else -1.0)
    moved = with_split(shot, _shifted(told, push)).splits
    words = f"Move the line {pixels(over_px)} {_towards(told.upright, bool(first))}."
    ways.append(Way(words, shot={"splits": moved}))
    bent = _bent(told, 0.5 + (crossing.at_y_px / height - 0.5) / closer, push)
    if bent is not None:
        words = f"Bend the line around {PARTS[crossing.part]}{thing.name}."
        ways.append(Way(words, shot={"splits": with_split(shot, bent).splits}))
    if crossing.part in ("body", "reach"):
        frames = max(round(crossing.share * shot.frames), 1)
        cost = line("roto-key", math.ceil(frames / 2) + 1).hours
        words = f"Cut {PARTS[crossing.part]}{thing.name} out by hand where it is over."
        effect = f"{frames} frames, about {cost.likely:.1f} h."
        ways.append(Way(words, effect=effect, promises=Verdict.STRAINS))
    elif clean_of(shot, case.plate) is not None:
        words = "Mend it from the clean plate with a feather three times as wide."
        effect = f"{pixels(split.feather_px * 3)} of feather."
        ways.append(Way(words, effect=effect, promises=Verdict.STRAINS))
    return ways


def _towards(upright: bool, first: bool) -> str:
    if upright:
        return "to the right" if first else "to the left"
    return "down" if first else "up"


def _shifted(split: Split, by: float) -> Split:
    """The line moved aside by a part of the picture, at every key."""

    def moved(x: float, y: float) -> tuple[float, float]:
        return (round(x + by, 5), y) if split.upright else (x, round(y + by, 5))

    return replace(
        split,
        keys=tuple(DividerKey(k.frame, tuple(moved(*p) for p in k.points)) for k in split.keys),
    )


def _bent(split: Split, at_y: float, by: float, half: float = 0.16) -> Split | None:
    """The line with a bend about a height of the picture; None for a line that lies."""
    if not split.upright:
        return None
    keys = []
    for key in split.keys:
        points = sorted(key.points, key=lambda p: p[1])
        ys = [p[1] for p in points]
        xs = [p[0] for p in points]

        def x_at(y: float, ys: list[float] = ys, xs: list[float] = xs) -> float:
            return float(np.interp(y, ys, xs))

        low, high = at_y - half, at_y + half
        bend = [
            (x_at(low), low),
            (x_at(low) + by, low + 0.02),
            (x_at(high) + by, high - 0.02),
            (x_at(high), high),
        ]
        kept = [p for p in points if not low <= p[1] <= high]
        whole = sorted([*kept, *bend], key=lambda p: p[1])
        keys.append(DividerKey(key.frame, tuple((round(x, 5), round(y, 5)) for x, y in whole)))
    return replace(split, keys=tuple(keys))


RULE = Rule(
    key="split",
    title="Divider",
    name="divider",
    speak=judge_split,
    ways=_ways,
    of_shot=True,
    otherwise="Marks farther from the line, or a line that goes round whoever crosses it.",
)
