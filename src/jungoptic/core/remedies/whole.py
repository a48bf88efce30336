"""A change tried as a whole: every rule of every plate it touches is asked before it is offered."""

from __future__ import annotations

from ..judging.numbers import asked
from ..judging.trying import Trial, offered
from ..plan.findings import Finding, Remedy, Verdict
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..planner.kit_choices import kit_choices
from .outcome import told_with, tried
from .pairs import QUICK, pairs
from .standing import RULES_BY_KEY, standing


def ways_out(shot: Shot, plate: Plate, finding: Finding, most: int = 4) -> tuple[Remedy, ...]:
    """What is offered against one finding: single changes that are better as a whole, best first;
    pairs where no single change is. Advice that the plan cannot carry out stands last among what
    does as much."""
    shot = seen_from_own(shot, plate)
    if finding.key == "kit":
        return kit_choices(shot, plate)
    if finding.verdict is Verdict.HOLDS:
        return ()
    found: list[tuple[tuple[int, int], Trial]] = []
    for trial, result in tried(shot, plate, finding):
        if result is None:
            found.append((_promised(finding, trial.remedy), trial))
        elif result.better or (trial.way.gains is not None and result.no_worse):
            found.append(((result.breaks, result.strains), told_with(trial, result)))
    if not any(trial.way.promises is None for _, trial in found):
        found += pairs(shot, plate, finding, 0, QUICK).found
    found.sort(key=lambda pair: (*pair[0], pair[1].remedy.verdict.rank))
    return offered((trial for _, trial in found), most)


def _promised(finding: Finding, remedy: Remedy) -> tuple[int, int]:
    """What advice does to the counts, if it does what it says."""
    was, then = finding.verdict.rank, remedy.verdict.rank
    return int(then == 2) - int(was == 2), int(then == 1) - int(was == 1)


def borrowed_or_rewritten(shot: Shot, plate: Plate, finding: Finding) -> str:
    """What it would take where nothing in the plan does: as the rule has it; "" where it has no
    more to say."""
    rule, case = RULES_BY_KEY.get(finding.key), standing(shot, plate).case
    if rule is None or case is None:
        return ""
    if rule.takes is not None and rule.measure is not None:
        measured = asked(rule.measure, case)
        said = None if measured is None else rule.takes(case, float(measured.short))
        if said is not None and said[0]:
            return said[0]
    return rule.otherwise
