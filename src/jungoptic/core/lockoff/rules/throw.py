"""Does what is thrown stay in the picture, and on the half of who threw it?"""

from __future__ import annotations

from dataclasses import replace

from ...judging.rule import Rule
from ...judging.way import Way
from ...plan.changed import with_split
from ...plan.findings import Finding, Quantity, Verdict, Working
from ...plan.mirrored import as_told
from ...plan.shot import Shot
from ...plan.tricks import Split
from ...stage.case import Case
from ...words.quantities import length, seconds
from ..throw import Flight, G, flight, following, throws_to_second


def judge_throw(case: Case) -> Finding | None:
    """Whether what is thrown stays in the picture, and on the side of who threw it until it has
    landed; spoken of the plate that throws."""
    own = _own(case)
    if own is None:
        return None
    shot, split, found = own
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
    return RULE.finding(
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
    )


def _own(case: Case) -> tuple[Shot, Split, Flight] | None:
    """The shot as told, the divider and the flight of what this plate throws; None without."""
    shot = as_told(case.shot)
    for split in shot.splits:
        found = flight(shot, split)
        if found is None or split.throw is None:
            continue
        first = throws_to_second(split, found.path_px)
        if (split.first_id if first else split.second_id) == case.plate.id:
            return shot, split, found
    return None


def _ways(case: Case) -> list[Way]:
    """Lines that run ahead, and throws that end sooner or fly flatter."""
    own = _own(case)
    if own is None:
        return []
    shot, split, found = own
    landed = found.first_frame + len(found.path_px) - 1
    ways: list[Way] = []

    def way(other: Split | None, words: str, effect: str, family: str) -> None:
        if other is not None:
            splits = with_split(shot, other).splits
            ways.append(Way(words, effect=effect, shot={"splits": splits}, family=family))

    follow = following(shot, split)
    keys = 0 if follow is None else len(follow.keys)
    words = f"Let the line run ahead of it until frame {landed}, then back."
    way(follow, words, f"{keys} keys; it stays on the thrower's half all the way.", "ahead")
    for other, words, effect in _other_throws(shot, split, found):
        way(other, f"{words}.", f"{effect}.", words)
        ahead = following(shot, other)
        way(ahead, f"{words}, and let the line run ahead of it.", f"{effect}, on one half.", words)
    return ways


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


RULE = Rule(
    key="throw",
    title="Throw",
    name="throw",
    speak=judge_throw,
    ways=_ways,
    of_shot=True,
    otherwise="A throw from and to other places, or a line that goes along with it.",
)
