"""Do the plates of a lock-off agree, does everybody stay on their side, does the light last?"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from ..decisions import DividerKey, Split
from ..effort import line
from ..findings import Finding, Quantity, Remedy, Verdict, Working
from ..judging.case import Case
from ..mirrored import as_told
from ..plan import Plate, Shot
from ..quantities import length, pixels, seconds
from ..standins import StandIn
from .clean import clean_of
from .extent import GESTURE_M_S
from .group import DERIVED, departures, group_of, lead_of, orphans
from .strips import Nearness, crossings, side_of
from .throw import Flight, G, flight, following, throws_to_second

#: What is said of each part of a performer.
PARTS = {
    "body": "",
    "reach": "an arm of ",
    "shadow": "the shadow of ",
    "reflection": "the reflection of ",
}
#: Closer to the line than this nobody is at ease, pixels (judgement).
CLEAR_PX = 12.0


# --- what is shared ----------------------------------------------------------------------------


def judge_lock(case: Case) -> Finding | None:
    """Whether a plate agrees with its lock-off, and with its own takes; None for a plate alone."""
    shot, plate = case.shot, case.plate
    group = group_of(shot, plate)
    if len(group) < 2 and plate.filmed is None:
        return None
    gone, apart = orphans(shot, plate), departures(shot, plate)
    lead = lead_of(group)
    if gone and plate.filmed is not None:
        first = gone[0]
        words = (
            f"{_takes(plate.filmed.takes)} of card {plate.filmed.slate} filmed with {first.name} "
            f"{first.theirs}; planned is now {first.mine}"
            + (f", and {len(gone) - 1} more" if len(gone) > 1 else "")
            + ". Those takes no longer fit the rest of the lock-off."
        )
        back = {d.field: plate.filmed.values[d.field] for d in gone}
        verdict = Verdict.BREAKS
        remedies = _back(case, back, "Go back to what was filmed.", alone=False)
    elif apart:
        first = apart[0]
        words = (
            f"{first.name.capitalize()} is {first.mine}, where {lead.name} has {first.theirs}"
            + (f"; {len(apart) - 1} more differ: " if len(apart) > 1 else "")
            + ", ".join(d.name for d in apart[1:])
            + ". Plates of one lock-off share all of it."
        )
        verdict = Verdict.BREAKS
        remedies = _back(
            case, _as_lead(case, lead), f"Take everything over from {lead.name}.", alone=True
        )
    else:
        filmed = [p.name for p in group if p.filmed is not None]
        words = (
            f"Shared with {', '.join(p.name for p in group if p.id != plate.id)}."
            if len(group) > 1
            else "Its takes fit the plan."
        )
        if filmed:
            words += (
                f" {' and '.join(filmed)} {'is' if len(filmed) == 1 else 'are'} filmed: a change "
            )
            words += "here orphans those takes."
        verdict, remedies = Verdict.HOLDS, ()
    return Finding(
        key="lock",
        title="Lock-off",
        verdict=verdict,
        sentence=words,
        remedies=() if case.trial else remedies,
    )


def _takes(count: int) -> str:
    return "One take" if count == 1 else f"{count} takes"


def _as_lead(case: Case, lead: Plate) -> dict[str, Any]:
    """Decisions that make this plate agree with the lead. What the lead leaves to follow from its
    own things has to be said outright here."""
    shot, plate = case.shot, case.plate
    other = Case.of(shot, lead)
    changes: dict[str, Any] = {}
    for difference in departures(shot, plate):
        name = difference.field
        changes[name] = getattr(lead, name)
        if changes[name] is None and name in DERIVED and other is not None:
            value = getattr(other.stage, DERIVED[name][0])
            if math.isfinite(value):
                changes[name] = value * lead.scale if name == "focus_world_m" else value
    return changes


def _back(case: Case, changes: dict[str, Any], words: str, alone: bool) -> tuple[Remedy, ...]:
    """The remedy that takes a plate back into its lock-off, if it does."""
    if not changes or case.trial:
        return ()
    tried = case.tried(changes)
    if tried is None:
        return ()
    # The shot holds the plate as it was; judge it among the others as it would be.
    after = judge_lock(replace(tried, shot=with_plate(case.shot, tried.plate)))
    if after is None or after.verdict is not Verdict.HOLDS:
        return ()
    return (Remedy(words, after.sentence, after.verdict, changes, alone=alone),)


def with_thing(shot: Shot, thing: StandIn) -> Shot:
    """The shot with one stand-in changed."""
    return replace(shot, stand_ins=tuple(thing if s.id == thing.id else s for s in shot.stand_ins))


def with_plate(shot: Shot, plate: Plate) -> Shot:
    """The shot with one plate changed."""
    return replace(shot, plates=tuple(plate if p.id == plate.id else p for p in shot.plates))


# --- the line ----------------------------------------------------------------------------------


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


def with_split(shot: Shot, split: Split) -> Shot:
    """The shot with one split changed."""
    return replace(shot, splits=tuple(split if s.id == split.id else s for s in shot.splits))


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


# --- the throw ---------------------------------------------------------------------------------


def judge_throw(case: Case) -> Finding | None:
    """Whether what is thrown stays in the picture, and on the side of who threw it until it has
    landed; spoken of the plate that throws."""
    shot = as_told(case.shot)
    for split in shot.splits:
        found = flight(shot, split)
        if found is None or split.throw is None:
            continue
        thrower = split.first_id if throws_to_second(split, found.path_px) else split.second_id
        if thrower != case.plate.id:
            continue
        return _throw_finding(case, shot, split, found)
    return None


def _throw_finding(case: Case, shot: Shot, split: Split, found: Flight) -> Finding:
    landed = found.first_frame + len(found.path_px) - 1
    words = (
        f"Thrown at {found.speed_m_s:.1f} m/s, {abs(found.up_deg):.0f}° "
        f"{'up' if found.up_deg >= 0 else 'down'}: {length(found.apex_m)} high at frame "
        f"{found.apex_frame}, down at frame {landed} after {seconds(found.seconds)}."
    )
    verdict = Verdict.HOLDS
    if found.crosses_frame is not None:
        verdict = Verdict.BREAKS
        words += f" It passes {split.name} at frame {found.crosses_frame}, where its half ends."
    if found.outside:
        verdict = max(verdict, Verdict.STRAINS, key=lambda v: v.rank)
        words += f" It is out of the picture from frame {found.outside[0]} to {found.outside[-1]}."
    if landed > shot.frames:
        verdict = Verdict.BREAKS
        words += f" The shot ends before, at frame {shot.frames}."
    return Finding(
        key="throw",
        title="Throw",
        verdict=verdict,
        sentence=words,
        workings=(
            Working(
                formula="v = (B − A) / t + g t / 2",
                inputs=(
                    Quantity("t", "in the air", found.seconds, "s"),
                    Quantity("g", "free fall", G, "m/s²"),
                ),
                result=Quantity("v", "leaves the hand at", found.speed_m_s, "m/s"),
                source="Uniformly accelerated motion, no air; g by CGPM 1901.",
            ),
        ),
        remedies=() if case.trial else _throw_ways(case, shot, split, found, verdict),
    )


def _throw_ways(
    case: Case, shot: Shot, split: Split, found: Flight, before: Verdict
) -> tuple[Remedy, ...]:
    """Lines that run ahead and flatter throws that make it better, each tried."""
    landed = found.first_frame + len(found.path_px) - 1
    ways: list[Remedy] = []

    def tried(other: Split | None, words: str, effect: str) -> bool:
        if other is None:
            return False
        changed = with_split(shot, other)
        after = judge_throw(replace(case, shot=changed, trial=True))
        verdict = Verdict.HOLDS if after is None else after.verdict
        if verdict.rank >= before.rank:
            return False
        ways.append(Remedy(words, effect, verdict, {}, {"splits": changed.splits}))
        return True

    follow = following(shot, split)
    keys = 0 if follow is None else len(follow.keys)
    tried(
        follow,
        f"Let the line run ahead of it until frame {landed}, then back.",
        f"{keys} keys; it stays on the thrower's half all the way.",
    )
    for other, words, effect in _other_throws(shot, split, found):
        if not tried(other, f"{words}.", f"{effect}."):
            ahead = following(shot, other)
            tried(ahead, f"{words}, and let the line run ahead of it.", f"{effect}, on one half.")
    return tuple(ways)


def _other_throws(shot: Shot, split: Split, found: Flight) -> list[tuple[Split, str, str]]:
    """Throws that end within the shot, and that stay in the picture: what to do, what it gives."""
    throw = split.throw
    if throw is None:
        return []
    others = []
    earlier = shot.frames - throw.frames
    if 1 <= earlier < throw.frame:
        sooner = replace(split, throw=replace(throw, frame=earlier))
        others.append((sooner, f"Throw at frame {earlier}", f"Down at frame {shot.frames}"))
    if not found.outside:
        return others
    for fewer in range(throw.frames - 1, max(throw.frames // 4, 2), -1):
        quick = replace(split, throw=replace(throw, frames=fewer))
        flat = flight(shot, quick)
        if flat is not None and not flat.outside:
            words = f"A flatter throw of {fewer} frames, {flat.speed_m_s:.1f} m/s"
            others.append((quick, words, f"{length(flat.apex_m)} high; it stays in the picture"))
            break
    return others
