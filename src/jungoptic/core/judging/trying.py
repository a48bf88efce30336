"""A change tried before it is offered."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from ..plan.findings import Finding, Remedy, Verdict
from ..stage.case import Case

Judge = Callable[[Case], Finding | None]


def remedy(
    case: Case,
    judge: Judge,
    before: Verdict,
    changes: Mapping[str, Any],
    sentence: str,
    effect: Callable[[Case], str] | None = None,
) -> Remedy | None:
    """A remedy worked out by trying it: None unless the verdict gets better than `before`.

    `effect` words what the tried case would give; without it the judgement's own sentence does.
    """
    tried = case.tried(changes)
    after = judge(tried) if tried is not None else None
    if tried is None or after is None or after.verdict.rank >= before.rank:
        return None
    words = after.sentence if effect is None else effect(tried)
    return Remedy(sentence=sentence, effect=words, verdict=after.verdict, changes=changes)


def sentence_of(judge: Judge, case: Case) -> str:
    """What a judge says of a case; nothing where it has nothing to say."""
    found = judge(case)
    return "" if found is None else found.sentence


def ways_out(
    case: Case, verdict: Verdict, ways: Callable[[], list[Remedy | None]]
) -> tuple[Remedy, ...]:
    """The best of what `ways` finds, which is asked only where something must be done and nothing
    is being tried."""
    return () if case.trial or verdict is Verdict.HOLDS else best(ways())


def best(remedies: list[Remedy | None], most: int = 4) -> tuple[Remedy, ...]:
    """The remedies that help, best verdict first, at most `most` of them."""
    found = [r for r in remedies if r is not None]
    return tuple(sorted(found, key=lambda r: r.verdict.rank)[:most])
