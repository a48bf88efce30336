"""What a rule proposes, tried by that rule alone. `remedies.whole` asks every other rule of every
plate that it touches, and has the last word on what is offered."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from ..impossible import Impossible
from ..plan.changed import with_decisions, with_plate
from ..plan.findings import Finding, Remedy, Verdict
from ..plan.mirrored import as_told
from ..stage.case import Case
from .rule import Rule
from .way import Way


@dataclass(frozen=True)
class Trial:
    """A way that helps by its own rule: as a remedy, as named, and in what order it is offered."""

    remedy: Remedy
    way: Way
    order: float = 0.0


def case_with(case: Case, way: Way, in_shot: bool = False) -> Case | None:
    """The case as it would be; None where that makes no sense. `in_shot`: for rules that also ask
    about the other plates, which have to find this one as it would be."""
    if not in_shot and not way.shot and not way.things:
        return case.tried(way.changes)
    plate = replace(case.plate, **way.changes)
    shot = with_plate(with_decisions(as_told(case.shot), way.shot, way.things), plate)
    try:
        return Case.of(shot, plate)
    except Impossible:
        return None


def tried_by(case: Case, rule: Rule, way: Way) -> Case | None:
    """The case as a rule has to see it after one of its ways."""
    return case_with(case, way, rule.of_shot)


def helps(case: Case, rule: Rule, way: Way, before: Verdict) -> Trial | None:
    """The way as a remedy; None unless the rule says better of it than `before`, or says the same
    and the way is worth it nevertheless."""
    if way.promises is not None:
        if way.promises.rank >= before.rank:
            return None
        return Trial(Remedy(way.sentence, f"{way.effect or ''}", way.promises), way)
    tried = tried_by(case, rule, way)
    after = None if tried is None else _spoken(rule, tried)
    if tried is not None and after is None and rule.quiet:
        after = rule.finding(Verdict.HOLDS, "")
    if tried is None or after is None:
        return None
    if after.verdict.rank >= before.rank and not (
        after.verdict is before and way.gains is not None and way.gains(tried)
    ):
        return None
    if way.effect is None:
        effect = after.sentence
    else:
        effect = way.effect if isinstance(way.effect, str) else way.effect(tried)
    remedy = Remedy(
        way.sentence, effect, after.verdict, way.changes, way.shot, way.things, way.alone
    )
    return Trial(remedy, way, 0.0 if way.order is None else way.order(tried))


def _spoken(rule: Rule, case: Case) -> Finding | None:
    try:
        return rule.speak(case)
    except Impossible:
        return None


def named(case: Case, rule: Rule) -> list[Way]:
    """What the rule names; nothing where what it asks about makes no sense."""
    try:
        return [] if rule.ways is None else list(rule.ways(case))
    except Impossible:
        return []


def trials(case: Case, rule: Rule, before: Verdict) -> list[Trial]:
    """Every way of the rule that helps by its own judgement, best first. Of a family, members after
    the first that holds are not tried."""
    if before is Verdict.HOLDS:
        return []
    held: set[str] = set()
    found: list[Trial] = []
    for way in named(case, rule):
        if way.family in held:
            continue
        trial = helps(case, rule, way, before)
        if trial is None:
            continue
        found.append(trial)
        if way.family and trial.remedy.verdict is Verdict.HOLDS:
            held.add(way.family)
    return sorted(found, key=lambda t: (t.remedy.verdict.rank, t.order))


def offered(found: Iterable[Trial], most: int = 4) -> tuple[Remedy, ...]:
    """The first of each family, at most `most`; last resorts only where there is nothing else.
    What reads alike (two lenses of one kind) is offered once."""
    kept: list[Trial] = []
    families: set[str] = set()
    said: set[str] = set()
    for trial in found:
        if (trial.way.family and trial.way.family in families) or trial.remedy.sentence in said:
            continue
        families.add(trial.way.family)
        said.add(trial.remedy.sentence)
        kept.append(trial)
    first = [t for t in kept if not t.way.last] or kept
    return tuple(t.remedy for t in first[:most])


def ways_out(case: Case, rule: Rule, finding: Finding, most: int = 4) -> tuple[Remedy, ...]:
    """The best ways out of one finding, by its own rule alone."""
    return offered(trials(case, rule, finding.verdict), most)


def with_ways_out(case: Case, rule: Rule, finding: Finding) -> Finding:
    """The finding with its ways out, by its own rule alone."""
    return replace(finding, remedies=ways_out(case, rule, finding))
