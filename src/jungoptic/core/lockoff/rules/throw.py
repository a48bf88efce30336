"""Does what is thrown stay in the picture, and on the half of who threw it?"""

from __future__ import annotations

from dataclasses import replace

from ...plan.changed import with_split
from ...plan.findings import Finding, Quantity, Remedy, Verdict, Working
from ...plan.mirrored import as_told
from ...plan.shot import Shot
from ...plan.tricks import Split
from ...stage.case import Case
from ...words.quantities import length, seconds
from ..throw import Flight, G, flight, following, throws_to_second


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
