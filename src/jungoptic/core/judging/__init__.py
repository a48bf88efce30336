"""The judgements on one plate. One file per question a supervisor asks.

`rule` says what a rule is and `rules` lists them all; `limits` holds up to where each holds.
`numbers` are what they measure, `trying` tries a change before it is offered.
"""

from __future__ import annotations

from ..plan.findings import Finding, worst_first
from ..stage.case import Case
from .numbers import asked
from .rules import MEASURED, OF_A_PLACE, RULES

__all__ = ["RULES", "Case", "judge_plate", "worst_rank"]


def judge_plate(case: Case) -> list[Finding]:
    """Every finding on the plate, worst first. A rule with nothing to say is left out."""
    found = [rule.speak(case) for rule in RULES]
    return worst_first([finding for finding in found if finding is not None])


def worst_rank(case: Case) -> int:
    """The worst rank of all rules, without a word."""
    measured = (asked(rule.rank, case) or 0 for rule in MEASURED)
    spoken = (0 if f is None else f.verdict.rank for f in (r.speak(case) for r in OF_A_PLACE))
    return max(*measured, *spoken)
