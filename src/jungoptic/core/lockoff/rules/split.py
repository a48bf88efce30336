"""Does everybody stay on their side of the line?"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from ...cost.effort import line
from ...plan.changed import with_split, with_thing
from ...plan.findings import Finding, Quantity, Remedy, Verdict, Working
from ...plan.mirrored import as_told
from ...plan.shot import Shot
from ...plan.tricks import DividerKey, Split
from ...stage.case import Case
from ...words.quantities import length, pixels
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


#: Closer to the line than this nobody is at ease, pixels (judgement).
CLEAR_PX = 12.0


def judge_split(case: Case) -> Finding | None:
    """Whether everybody of this plate stays on their side of every divider; None without one."""
    worst: tuple[Nearness, Split] | None = None
    any_line = False
    for split in case.shot.splits:
        if side_of(split, case.plate.id) is None:
            continue
        if not split.keys:
            return Finding(
                "split", "Divider", Verdict.STRAINS, f"{split.name}: no line is drawn yet."
            )
        any_line = True
        for crossing in crossings(case, split):
            if worst is None or _rank(crossing) > _rank(worst[0]):
                worst = crossing, split
    if worst is None:
        if not any_line:
            return None
        return Finding("split", "Divider", Verdict.HOLDS, "Nothing of this plate is near the line.")
    crossing, split = worst
    verdict = verdict_of(crossing)
    who = PARTS[crossing.part] + crossing.name
    who = who[0].upper() + who[1:]
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
    return Finding(
        key="split",
        title="Divider",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="over = x − line(y) + feather / 2",
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
        remedies=()
        if case.trial or verdict is Verdict.HOLDS
        else _ways(case, split, crossing, verdict),
    )


def _rank(crossing: Nearness) -> tuple[int, float]:
    return verdict_of(crossing).rank, crossing.over_px


def verdict_of(crossing: Nearness) -> Verdict:
    """A body or an arm over the line breaks; a shadow or a reflection strains, since the clean
    plate and a wide feather mend it; nearness strains."""
    if crossing.over_px > 0:
        return Verdict.BREAKS if crossing.part in ("body", "reach") else Verdict.STRAINS
    near = crossing.over_px > -CLEAR_PX and crossing.part in ("body", "reach")
    return Verdict.STRAINS if near else Verdict.HOLDS


def _worst_of(case: Case, shot: Shot) -> Verdict | None:
    """The worst that any plate of the shot has against its dividers."""
    worst: Verdict | None = None
    for plate in shot.plates:
        other = Case.of(shot, plate)
        if other is None:
            continue
        for split in other.shot.splits:
            for crossing in crossings(other, split):
                verdict = verdict_of(crossing)
                if worst is None or verdict.rank > worst.rank:
                    worst = verdict
    return worst


def _tried(case: Case, shot: Shot) -> Finding | None:
    plate = next(p for p in shot.plates if p.id == case.plate.id)
    other = Case.of(shot, plate)
    return None if other is None else judge_split(replace(other, trial=True))


def _ways(case: Case, split: Split, crossing: Nearness, before: Verdict) -> tuple[Remedy, ...]:
    shot = as_told(case.shot)
    told = next(s for s in shot.splits if s.id == split.id)
    first = side_of(told, case.plate.id)
    found: list[tuple[int, Remedy]] = []
    was = _worst_of(case, shot)

    def add(words: str, changed: Shot, **what: Any) -> bool:
        after = _tried(case, changed)
        if after is None or after.verdict.rank >= before.rank:
            return False
        # Nobody else may be worse off.
        whole = _worst_of(case, changed)
        if whole is not None and was is not None and whole.rank > was.rank:
            return False
        found.append((after.verdict.rank, Remedy(words, after.sentence, after.verdict, **what)))
        return True

    thing = next(s for s in shot.stand_ins if s.id == crossing.stand_in_id)
    world_over = abs(crossing.over_m) * case.plate.scale
    away = -1.0 if first else 1.0
    if told.upright:
        for extra in (0.05, 0.1, 0.2, 0.35):
            step = math.ceil((max(world_over, 0.0) + extra) * 100) / 100
            moved = replace(thing, x_m=round(thing.x_m + away * step, 2))
            side = "left" if away < 0 else "right"
            if add(
                f"{thing.name} {length(step / case.plate.scale)} to the {side}.",
                with_thing(shot, moved),
                things={thing.id: {"x_m": moved.x_m}},
            ):
                break
    if crossing.part == "reach" and thing.reach_m > 0:
        less = math.floor(max(thing.reach_m - world_over - 0.02, 0.0) * 100) / 100
        add(
            f"{thing.name} keeps arms within {length(less / case.plate.scale)}.",
            with_thing(shot, replace(thing, reach_m=less)),
            things={thing.id: {"reach_m": less}},
        )
    width, height = shot.delivery.width_px, shot.delivery.height_px
    along = width if told.upright else height
    push = (crossing.over_px + CLEAR_PX + 4.0) / along
    shifted = with_split(shot, _shifted(told, push if first else -push))
    add(
        f"Move the line {pixels(crossing.over_px + CLEAR_PX + 4.0)} "
        + _towards(told.upright, bool(first))
        + ".",
        shifted,
        shot={"splits": shifted.splits},
    )
    bent = _bent(told, crossing.at_y_px / height, push if first else -push)
    if bent is not None:
        round_it = with_split(shot, bent)
        add(
            f"Bend the line around {PARTS[crossing.part]}{thing.name}.",
            round_it,
            shot={"splits": round_it.splits},
        )
    frames = max(round(crossing.share * shot.frames), 1)
    if crossing.part in ("body", "reach"):
        cost = line("roto-key", math.ceil(frames / 2) + 1).hours
        found.append(
            (
                Verdict.STRAINS.rank,
                Remedy(
                    f"Cut {PARTS[crossing.part]}{thing.name} out by hand where it is over.",
                    f"{frames} frames, about {cost.likely:.1f} h.",
                    Verdict.STRAINS,
                ),
            )
        )
    elif clean_of(shot, case.plate) is not None:
        found.append(
            (
                Verdict.STRAINS.rank,
                Remedy(
                    "Mend it from the clean plate with a feather three times as wide.",
                    f"{pixels(split.feather_px * 3)} of feather.",
                    Verdict.STRAINS,
                ),
            )
        )
    found.sort(key=lambda f: f[0])
    return tuple(r for _, r in found[:5])


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
