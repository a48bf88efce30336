"""Do the plates of a lock-off agree, and do the takes still fit?"""

from __future__ import annotations

import math
from typing import Any

from ...judging.rule import Rule
from ...judging.way import Way
from ...plan.findings import Finding, Verdict
from ...stage.case import Case
from ..group import DERIVED, Followed, beside_of, departures, followed, group_of, orphans


def judge_lock(case: Case) -> Finding | None:
    """Whether a plate agrees with its lock-off, and with its own takes; None for a plate alone."""
    shot, plate = case.shot, case.plate
    group, elsewhere = group_of(shot, plate), beside_of(shot, plate)
    if len(group) < 2 and not elsewhere and plate.filmed is None:
        return None
    gone, apart = orphans(shot, plate), departures(shot, plate)
    if gone and plate.filmed is not None:
        first = gone[0]
        words = (
            f"{_takes(plate.filmed.takes)} of card {plate.filmed.slate} filmed with {first.name} "
            f"{first.theirs}; planned is now {first.mine}"
            + (f", and {len(gone) - 1} more" if len(gone) > 1 else "")
            + ". Those takes no longer fit the rest of the lock-off."
        )
        verdict = Verdict.BREAKS
    elif apart and (other := followed(shot, plate)) is not None:
        first = apart[0]
        words = (
            f"{first.name[0].upper()}{first.name[1:]} is {first.mine}, "
            f"where {other.called} has {first.theirs}"
            + (f"; {len(apart) - 1} more differ: " if len(apart) > 1 else "")
            + ", ".join(d.name for d in apart[1:])
            + ". Plates of one lock-off share all of it."
        )
        verdict = Verdict.BREAKS
    else:
        filmed = [p.name for p in group if p.filmed is not None]
        filmed += [b.called for b in elsewhere if b.plate.filmed is not None]
        others = [p.name for p in group if p.id != plate.id] + [b.called for b in elsewhere]
        words = f"Shared with {', '.join(others)}." if others else "Its takes fit the plan."
        if filmed:
            words += (
                f" {' and '.join(filmed)} {'is' if len(filmed) == 1 else 'are'} filmed: a change "
            )
            words += "here orphans those takes."
        verdict = Verdict.HOLDS
    return RULE.finding(verdict, words)


def _ways(case: Case) -> list[Way]:
    """Back to what was filmed with the whole lock-off, else this plate alone to the others."""
    shot, plate = case.shot, case.plate
    gone = orphans(shot, plate)
    if gone and plate.filmed is not None:
        back = {d.field: plate.filmed.values[d.field] for d in gone}
        return [Way("Go back to what was filmed.", back)]
    other = followed(shot, plate)
    if other is None:
        return []
    changes = _as_followed(case, other)
    if not changes:
        return []
    # What another shot has goes to all that share the lock-off here.
    return [Way(f"Take everything over from {other.called}.", changes, alone=not other.elsewhere)]


def _takes(count: int) -> str:
    return "One take" if count == 1 else f"{count} takes"


def _as_followed(case: Case, other: Followed) -> dict[str, Any]:
    """Decisions that make this plate agree with what it follows. What that leaves to follow from
    its own things has to be said outright here."""
    changes: dict[str, Any] = {}
    for difference in departures(case.shot, case.plate):
        name = difference.field
        changes[name] = getattr(other.plate, name)
        if changes[name] is None and name in DERIVED:
            value = other.numbers.get(name, math.inf)
            if math.isfinite(value):
                changes[name] = value * other.plate.scale if name == "focus_world_m" else value
    return changes


RULE = Rule(
    key="lock",
    title="Lock-off",
    name="lock-off",
    speak=judge_lock,
    ways=_ways,
    of_shot=True,
    otherwise="The values of the plate that leads, on all plates of the lock-off.",
)
