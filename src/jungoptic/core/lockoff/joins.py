"""The judgements on how the plates of a shot join: lock-offs, dividers, throws, crowds, rigs,
reframes, cutting by hand, markers, beats. They ask about the shot as it stands, so the planner,
which varies the kit of one plate, does not ask them."""

from __future__ import annotations

from ..impossible import Impossible
from ..judging.rule import Rule
from ..judging.trying import with_ways_out
from ..plan.findings import Finding, Verdict
from ..stage.case import Case
from . import beats, between, days, reframe, roto, tracked
from .crowd import study
from .rigs import judging as rigs
from .rules import lock, split, throw

JOINS: tuple[Rule, ...] = (
    lock.RULE,
    split.RULE,
    throw.RULE,
    between.RULE,
    days.RULE,
    study.RULE,
    rigs.RIG,
    rigs.LOAD,
    reframe.RULE,
    roto.RULE,
    tracked.RULE,
    beats.RULE,
)
JOINS_BY_KEY = {rule.key: rule for rule in JOINS}


def join_findings(case: Case) -> list[Finding]:
    """Every finding on how this plate joins the others, without ways out. What makes no sense is a
    finding too."""
    found: list[Finding] = []
    for rule in JOINS:
        try:
            one = rule.speak(case)
        except Impossible as error:
            one = Finding(rule.key, "Cannot be", Verdict.BREAKS, f"{error}")
        if one is not None:
            found.append(one)
    return found


def judge_joins(case: Case) -> list[Finding]:
    """The same with ways out, each tried by its own rule."""
    return [with_ways_out(case, JOINS_BY_KEY[f.key], f) for f in join_findings(case)]
