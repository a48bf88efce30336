"""Do the plates of a lock-off agree, and do the takes still fit?"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ...plan.changed import with_plate
from ...plan.findings import Finding, Remedy, Verdict
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
