"""How a plate stands: every rule asked of it, on its own and among the others."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from ..impossible import Impossible
from ..judging import findings_of
from ..judging.rules import BY_KEY
from ..judging.unasked import Unasked, unasked
from ..lockoff.joins import JOINS_BY_KEY, join_findings
from ..plan.findings import Finding, Verdict, worst, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..planner.space import setups
from ..stage.case import Case
from ..words.sentences import capital

#: Every rule there is, by its key.
RULES_BY_KEY = BY_KEY | JOINS_BY_KEY


@dataclass(frozen=True)
class Judged:
    """The findings of one plate, worst first; no case where kit is missing or optics impossible."""

    plate_id: str
    verdict: Verdict
    findings: tuple[Finding, ...]
    case: Case | None = None

    @cached_property
    def unasked(self) -> tuple[Unasked, ...]:
        """What waits for a decision before it can be asked."""
        return () if self.case is None else unasked(self.case)

    @cached_property
    def by_key(self) -> dict[str, Finding]:
        """The same findings, by their rule."""
        return {f.key: f for f in self.findings}

    def keys(self, verdict: Verdict) -> frozenset[str]:
        """The rules that say so."""
        return frozenset(f.key for f in self.findings if f.verdict is verdict)


def standing(shot: Shot, plate: Plate) -> Judged:
    """Every rule asked of one plate, without ways out; impossible optics become a finding."""
    shot = seen_from_own(shot, plate)
    if any(p is plate for p in shot.plates):
        return shot.once(f"standing:{plate.id}", lambda: _asked(shot, plate))
    return _asked(shot, plate)


def _asked(shot: Shot, plate: Plate) -> Judged:
    try:
        case = Case.of(shot, plate)
    except Impossible as error:
        impossible = Finding("impossible", "Cannot be built", Verdict.BREAKS, capital(f"{error}"))
        return Judged(plate.id, Verdict.BREAKS, (impossible,))
    if case is None:
        bare = no_kit(shot)
        return Judged(plate.id, bare.verdict, (bare,))
    findings = tuple(worst_first([*findings_of(case), *join_findings(case)]))
    return Judged(plate.id, worst(findings), findings, case)


def no_kit(shot: Shot) -> Finding:
    """Body, mode or lens of a plate is missing."""
    return Finding(
        key="kit",
        title="Body and lens",
        verdict=Verdict.STRAINS,
        sentence="Choose a body, a recording mode and a lens: then every number follows."
        if setups(shot)
        else "Nothing to film with yet: add a body with a recording mode and a lens to the kit.",
    )
