"""Do the plates of a lock-off agree, and do the takes still fit?"""

from __future__ import annotations

import math
from typing import Any

from ...judging.rule import Rule
from ...judging.way import Way
from ...plan.findings import Finding, Verdict
from ...plan.plate import Plate
from ...stage.case import Case
from ..group import DERIVED, departures, group_of, lead_of, orphans


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
        verdict = Verdict.BREAKS
    elif apart:
        first = apart[0]
        words = (
            f"{first.name.capitalize()} is {first.mine}, where {lead.name} has {first.theirs}"
            + (f"; {len(apart) - 1} more differ: " if len(apart) > 1 else "")
            + ", ".join(d.name for d in apart[1:])
            + ". Plates of one lock-off share all of it."
        )
        verdict = Verdict.BREAKS
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
        verdict = Verdict.HOLDS
    return RULE.finding(verdict, words)


def _ways(case: Case) -> list[Way]:
    """Back to what was filmed with the whole lock-off, else this plate alone to the others."""
    shot, plate = case.shot, case.plate
    gone = orphans(shot, plate)
    if gone and plate.filmed is not None:
        back = {d.field: plate.filmed.values[d.field] for d in gone}
        return [Way("Go back to what was filmed.", back)]
    lead = lead_of(group_of(shot, plate))
    changes = _as_lead(case, lead)
    if not changes:
        return []
    return [Way(f"Take everything over from {lead.name}.", changes, alone=True)]


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


RULE = Rule(
    key="lock",
    title="Lock-off",
    name="lock-off",
    speak=judge_lock,
    ways=_ways,
    of_shot=True,
    otherwise="The values of the plate that leads, on all plates of the lock-off.",
)
