"""Every rule asked of one plate."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..impossible import Impossible
from ..judging import judge_plate
from ..lockoff.joins import judge_joins
from ..plan.findings import Finding, Verdict, worst, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..planner.kit_choices import kit_choices
from ..stage.case import Case


@dataclass(frozen=True)
class Judged:
    """The findings of one plate, worst first; no case where kit is missing or optics impossible."""

    plate_id: str
    verdict: Verdict
    findings: tuple[Finding, ...]
    case: Case | None = None


def judged(shot: Shot, plate: Plate, remedies: bool = True) -> Judged:
    """Judge one plate, without pictures; impossible optics become a finding."""
    try:
        case = Case.of(shot, plate)
    except Impossible as error:
        impossible = Finding("impossible", "Cannot be built", Verdict.BREAKS, f"{error}")
        return Judged(plate.id, Verdict.BREAKS, (impossible,))
    if case is None:
        missing = judge_kit(shot, plate)
        return Judged(plate.id, missing.verdict, (missing,))
    if not remedies:
        # Before anything is asked of it, so that judgements and drawings share what they work out.
        case = replace(case, trial=True)
    findings = tuple(worst_first([*judge_plate(case), *judge_joins(case)]))
    return Judged(plate.id, worst(findings), findings, case)


def judge_kit(shot: Shot, plate: Plate) -> Finding:
    """Body, mode or lens is missing: say so, and offer what is owned that fits best."""
    ways = kit_choices(shot, plate)
    return Finding(
        key="kit",
        title="Body and lens",
        verdict=Verdict.STRAINS,
        sentence="Choose a body, a recording mode and a lens: then every number follows."
        if ways
        else "Nothing to film with yet: add a body with a recording mode and a lens to the kit.",
        remedies=ways,
    )
