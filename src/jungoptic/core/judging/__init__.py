"""The judgements on one plate. One file per question a supervisor asks.

`rule` says what a rule is and `rules` lists them all; `limits` holds up to where each holds.
`numbers` are what they measure. A rule names ways out (`way`); `trying` tries them by the rule that
names them, `remedies` by all.
"""

from __future__ import annotations

from ..plan.findings import Finding, worst_first
from ..stage.case import Case
from .numbers import asked
from .rules import BY_KEY, MEASURED, OF_A_PLACE, RULES
from .trying import with_ways_out

__all__ = ["RULES", "Case", "findings_of", "judge_plate", "worst_rank"]


def findings_of(case: Case) -> list[Finding]:
    """Every finding on the plate, worst first, without ways out. A rule with nothing to say is left
    out."""
    found = [rule.speak(case) for rule in RULES]
    return worst_first([finding for finding in found if finding is not None])


def judge_plate(case: Case) -> list[Finding]:
    """The same with ways out, each tried by its own rule: what it does to the others, and to other
    plates, is not asked here (see `report.judged`)."""
    return [with_ways_out(case, BY_KEY[finding.key], finding) for finding in findings_of(case)]


def worst_rank(case: Case) -> int:
    """The worst rank of all rules, without a word."""
    measured = (asked(rule.rank, case) or 0 for rule in MEASURED)
    spoken = (0 if f is None else f.verdict.rank for f in (r.speak(case) for r in OF_A_PLACE))
    return max(*measured, *spoken)
