"""Two changes that mend together what neither mends alone: likeliest first, so many and no more.

They are listed in a fixed order and tried in batches, so that a search can be watched, stopped, and
taken up where it was."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import islice

from ..judging.key_side import stand_of
from ..judging.numbers import asked
from ..judging.rule import Rule
from ..judging.trying import Trial, named, trials, tried_by
from ..judging.way import Way
from ..lighting.lamps import lamp_names
from ..plan.findings import Finding, Remedy, Verdict
from ..plan.plate import PlacedLamp, Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..stage.case import Case
from .applied import applied
from .outcome import outcome, told_with, tried
from .standing import RULES_BY_KEY, Judged, standing

#: So many pairs are tried at once where a finding is opened, and in all.
QUICK, MOST = 12, 60
#: So many ways that do a part of it are followed.
MOST_FIRST = 8
#: A way does a part of it where this part of what is missing is made up (judgement).
LEAST_PART = 0.1


@dataclass(frozen=True)
class Pairs:
    """What a part of the search found, with the changes in breaks and strains; how many pairs have
    been tried by now, and whether there are more."""

    found: tuple[tuple[tuple[int, int], Trial], ...]
    tried: int
    more: bool


@dataclass(frozen=True)
class _Pair:
    """A first change, and a second that mends what is left; `second_key`: the rule it is of."""

    first: Trial
    second: Trial
    second_key: str


def pairs(shot: Shot, plate: Plate, finding: Finding, begin: int, count: int) -> Pairs:
    """The pairs from number `begin`, `count` of them: those that are better as a whole and better
    for the finding itself; of every first change one. The same plan is listed in the same order."""
    shot = seen_from_own(shot, plate)
    rule = RULES_BY_KEY.get(finding.key)
    last = min(begin + count, MOST)
    if rule is None or finding.verdict is Verdict.HOLDS:
        return Pairs((), begin, False)
    found: dict[int, tuple[tuple[int, int], Trial]] = {}
    listed = list(islice(_listed(shot, plate, finding, rule), begin, last + 1))
    for pair in listed[: last - begin]:
        if id(pair.first) in found:
            continue
        one = _as_a_whole(shot, plate, finding, pair)
        # Two ways of which each needs the other come up from both ends.
        if one is not None and all(not _same(one[1], f[1]) for f in found.values()):
            found[id(pair.first)] = one
    more = begin + len(listed) > last and last < MOST
    return Pairs(tuple(found.values()), min(begin + len(listed), last), more)


def _listed(shot: Shot, plate: Plate, finding: Finding, rule: Rule) -> Iterator[_Pair]:
    """Every pair: first the changes that mend the finding and break one rule more, each with a way
    out of that; then those that do a part of it, each with another of the same rule."""
    told = standing(shot, plate)
    if told.case is None:
        return
    for first, broken in _refused(shot, plate, finding):
        yield from _with_seconds(shot, plate, first, RULES_BY_KEY[broken])
    for first in _partial(told.case, rule)[:MOST_FIRST]:
        yield from _with_seconds(shot, plate, first, rule)


def _with_seconds(shot: Shot, plate: Plate, first: Trial, rule: Rule) -> Iterator[_Pair]:
    """What else would mend `rule` once the first change is made."""
    after = _standing_after(shot, plate, first.remedy)
    now = after.by_key.get(rule.key)
    if after.case is None or now is None:
        return
    for second in trials(after.case, rule, now.verdict):
        if second.way.promises is None and not _undoes(second.remedy, first.remedy):
            yield _Pair(first, second, rule.key)


def _refused(shot: Shot, plate: Plate, finding: Finding) -> list[tuple[Trial, str]]:
    """Changes that help by the finding's own rule and break one other of this plate, with that
    rule, fewest lost first."""
    found = []
    for trial, result in tried(shot, plate, finding):
        if result is None:
            continue
        own = [key for plate_id, key in result.gained if plate_id == plate.id]
        if result.possible and len(own) == len(result.gained) == 1 and own[0] in RULES_BY_KEY:
            found.append((result.breaks, result.strains, trial, own[0]))
    found.sort(key=lambda one: one[:2])
    return [(trial, key) for _, _, trial, key in found]


def _partial(case: Case, rule: Rule) -> list[Trial]:
    """Changes that make up a part of what is missing and not all of it, most first."""
    before = _short(case, rule)
    if before is None:
        return []
    found = []
    for way in named(case, rule):
        after = None if way.promises is not None else tried_by(case, rule, way)
        short = None if after is None else _short(after, rule)
        if short is not None and short < before - LEAST_PART * abs(before):
            found.append((short, Trial(_remedy(way), way)))
    found.sort(key=lambda one: one[0])
    return [trial for _, trial in found]


def _short(case: Case, rule: Rule) -> float | None:
    measured = None if rule.measure is None else asked(rule.measure, case)
    return None if measured is None else float(measured.short)


def _remedy(way: Way) -> Remedy:
    return Remedy(
        way.sentence, "", Verdict.STRAINS, way.changes, way.shot, way.things, alone=way.alone
    )


def _as_a_whole(
    shot: Shot, plate: Plate, finding: Finding, pair: _Pair
) -> tuple[tuple[int, int], Trial] | None:
    """The pair as one remedy, where it is better as a whole and for the finding itself."""
    both = _joined(shot, plate, pair.first.remedy, pair.second.remedy)
    whole = outcome(shot, plate, both, finding.key)
    if not whole.better:
        return None
    now = _standing_after(shot, plate, both).by_key
    own = now.get(finding.key)
    verdict = Verdict.HOLDS if own is None else own.verdict
    if verdict.rank >= finding.verdict.rank:
        return None
    keys = dict.fromkeys((finding.key, pair.second_key))
    said = [now[key].sentence for key in keys if key in now]
    both = replace(both, effect=" ".join(said), verdict=verdict)
    return (whole.breaks, whole.strains), told_with(replace(pair.first, remedy=both), whole)


def _same(one: Trial, other: Trial) -> bool:
    a, b = one.remedy, other.remedy
    return (a.changes, a.shot, a.things) == (b.changes, b.shot, b.things)


def _standing_after(shot: Shot, plate: Plate, remedy: Remedy) -> Judged:
    after = applied(shot, plate, remedy)
    return standing(after, next(p for p in after.plates if p.id == plate.id))


def _decided(remedy: Remedy) -> set[str]:
    """All that a remedy decides, by name."""
    things = {f"{i}.{name}" for i, changes in remedy.things.items() for name in changes}
    return {*remedy.changes, *(f"shot.{name}" for name in remedy.shot), *things}


def _undoes(second: Remedy, first: Remedy) -> bool:
    """Whether the second decides anew all that the first did. Lamps are decided lamp by lamp."""
    return _decided(first) <= _decided(second) and "lamps" not in first.changes


def _moved(before: tuple[PlacedLamp, ...], after: tuple[PlacedLamp, ...]) -> set[int] | None:
    """The lamps that stand elsewhere than before, by number; None where more of them changes."""
    if len(before) != len(after):
        return None
    for was, is_ in zip(before, after, strict=True):
        if replace(was, x_m=is_.x_m, y_m=is_.y_m, z_m=is_.z_m) != is_:
            return None
    return {i for i, (a, b) in enumerate(zip(before, after, strict=True)) if a.at != b.at}


def _in_words(shot: Shot, plate: Plate, first: Remedy, second: Remedy) -> str:
    """What both come to: two moves of the same lamps are one, to where they stand in the end."""
    both = (first, second)
    if all(one.changes.keys() == {"lamps"} and not (one.shot or one.things) for one in both):
        once, twice = (replace(plate, **one.changes).lamps for one in both)  # type: ignore[arg-type]
        moved = _moved(plate.lamps, once)
        if moved and moved == _moved(once, twice):
            names = lamp_names(shot, plate)
            ends = [f"{names[i] or 'the lamp'}: {stand_of(twice[i])}" for i in sorted(moved)]
            return f"Move {'; '.join(ends)}."
    return f"{first.sentence} With it: {second.sentence}"


def _joined(shot: Shot, plate: Plate, first: Remedy, second: Remedy) -> Remedy:
    """Two changes as one remedy."""
    things = {
        i: {**first.things.get(i, {}), **second.things.get(i, {})}
        for i in (*first.things, *second.things)
    }
    return replace(
        first,
        sentence=_in_words(shot, plate, first, second),
        changes={**first.changes, **second.changes},
        shot={**first.shot, **second.shot},
        things=things,
        alone=first.alone and second.alone,
    )
