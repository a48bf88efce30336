"""The judgements on how the plates of a shot join: lock-offs, dividers, throws, crowds, rigs,
reframes, cutting by hand, markers, beats. They ask about the shot as it stands, so the planner,
which varies the kit of one plate, does not ask them."""

from __future__ import annotations

from ..impossible import Impossible
from ..plan.findings import Finding, Verdict
from ..stage.case import Case
from .beats import judge_beats
from .between import judge_drift
from .crowd.study import crowd_plan
from .reframe import judge_reframe
from .rigs.judging import judge_load, judge_rig
from .roto import judge_roto
from .rules.lock import judge_lock
from .rules.split import judge_split
from .rules.throw import judge_throw
from .tracked import judge_markers


def judge_crowd(case: Case) -> Finding | None:
    """Whether few people come to as many as are wanted; None without a crowd."""
    plan = crowd_plan(case)
    return None if plan is None else plan.finding


JOINS = (
    judge_lock,
    judge_split,
    judge_throw,
    judge_drift,
    judge_crowd,
    judge_rig,
    judge_load,
    judge_reframe,
    judge_roto,
    judge_markers,
    judge_beats,
)


def judge_joins(case: Case) -> list[Finding]:
    """Every finding on how this plate joins the others. What makes no sense is a finding too."""
    found: list[Finding] = []
    for judge in JOINS:
        try:
            one = judge(case)
        except Impossible as error:
            one = Finding(
                judge.__name__.removeprefix("judge_"), "Cannot be", Verdict.BREAKS, f"{error}"
            )
        if one is not None:
            found.append(one)
    return found
