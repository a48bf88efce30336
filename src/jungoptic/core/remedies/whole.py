"""A change tried as a whole: every rule of every plate it touches is asked before it is offered."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..judging.numbers import asked
from ..judging.trying import Trial, offered, trials
from ..plan.findings import Finding, Remedy, Verdict
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..planner.kit_choices import kit_choices
from .applied import applied, touched
from .possible import can_be
from .standing import RULES_BY_KEY, Judged, standing

#: So many changes of one finding are tried as a whole, and so many pairs.
MOST_TRIED, MOST_PAIRS = 16, 12
#: What else a remedy changes is told of so many rules.
MOST_TOLD = 2


@dataclass(frozen=True)
class Outcome:
    """What a change does to the plates it touches.

    `breaks` and `strains`: how many more, all plates together; `gained`: rules that break only
    then, as (plate id, rule); `words` tell what else changes.
    """

    breaks: int
    strains: int
    gained: tuple[tuple[str, str], ...]
    possible: bool
    words: str = ""

    @property
    def better(self) -> bool:
        """No plate gains a break; then fewer breaks in all; then fewer strains."""
        return self.possible and not self.gained and (self.breaks, self.strains) < (0, 0)

    @property
    def no_worse(self) -> bool:
        """For what is worth it by its own rule's measure, though its verdict stays."""
        return self.possible and not self.gained and (self.breaks, self.strains) <= (0, 0)


def outcome(shot: Shot, plate: Plate, remedy: Remedy, key: str) -> Outcome:
    """What a remedy of one finding (`key`) does to all plates it touches."""
    after_shot = applied(shot, plate, remedy)
    after_by_id = {p.id: p for p in after_shot.plates}
    breaks = strains = 0
    gained: list[tuple[str, str]] = []
    possible = True
    told: list[str] = []
    mended: list[str] = []
    for before_plate in touched(shot, plate, remedy):
        before = standing(shot, before_plate)
        after = standing(after_shot, after_by_id[before_plate.id])
        if after.case is None:
            possible = possible and before.case is None
        elif not can_be(before_plate, after.case):
            possible = False
        broken, strained = (after.keys(v) for v in (Verdict.BREAKS, Verdict.STRAINS))
        breaks += len(broken) - len(before.keys(Verdict.BREAKS))
        strains += len(strained) - len(before.keys(Verdict.STRAINS))
        gained += [(before_plate.id, k) for k in sorted(broken - before.keys(Verdict.BREAKS))]
        other = "" if before_plate.id == plate.id else f" of {before_plate.name}"
        told += _worse(before, after, other)
        mended += _mended(before, after, other, "" if other else key)
    words = told[:MOST_TOLD]
    if len(told) > MOST_TOLD:
        words.append(f"{len(told) - MOST_TOLD} more change for the worse.")
    if mended:
        words.append(f"It also mends {_listed(mended)}.")
    return Outcome(breaks, strains, tuple(gained), possible, " ".join(words))


def _worse(before: Judged, after: Judged, other: str) -> list[str]:
    """What strains or breaks more than before, in words."""
    found = []
    for finding in after.findings:
        was = before.by_key.get(finding.key)
        rank = 0 if was is None else was.verdict.rank
        if finding.verdict.rank > rank:
            found.append(f"{finding.title}{other} then {finding.verdict}: {finding.sentence}")
    return found


def _mended(before: Judged, after: Judged, other: str, own: str) -> list[str]:
    """Rules beside the remedy's own that hold only then."""
    found = []
    for finding in before.findings:
        now = after.by_key.get(finding.key)
        rank = 0 if now is None else now.verdict.rank
        if finding.key != own and finding.verdict.rank > 0 and rank == 0:
            found.append(f"{finding.title[0].lower()}{finding.title[1:]}{other}")
    return found


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def ways_out(shot: Shot, plate: Plate, finding: Finding, most: int = 4) -> tuple[Remedy, ...]:
    """What is offered against one finding: single changes that are better as a whole, best first;
    pairs where no single change is. Advice that the plan cannot carry out stands last among what
    does as much."""
    if finding.key == "kit":
        return kit_choices(shot, plate)
    rule, case = RULES_BY_KEY.get(finding.key), standing(shot, plate).case
    if rule is None or case is None or finding.verdict is Verdict.HOLDS:
        return ()
    found: list[tuple[tuple[int, int], Trial]] = []
    refused: list[tuple[Trial, Outcome]] = []
    for trial in trials(case, rule, finding.verdict)[:MOST_TRIED]:
        if trial.way.promises is not None:
            found.append((_promised(finding, trial.remedy), trial))
            continue
        result = outcome(shot, plate, trial.remedy, finding.key)
        if result.better or (trial.way.gains is not None and result.no_worse):
            found.append(((result.breaks, result.strains), _told(trial, result)))
        elif result.possible:
            refused.append((trial, result))
    if not any(trial.way.promises is None for _, trial in found):
        found += _pairs(shot, plate, finding, refused)
    found.sort(key=lambda pair: (*pair[0], pair[1].remedy.verdict.rank))
    return offered((trial for _, trial in found), most)


def _promised(finding: Finding, remedy: Remedy) -> tuple[int, int]:
    """What advice does to the counts, if it does what it says."""
    was, then = finding.verdict.rank, remedy.verdict.rank
    return int(then == 2) - int(was == 2), int(then == 1) - int(was == 1)


def _told(trial: Trial, result: Outcome) -> Trial:
    words = " ".join(w for w in (trial.remedy.effect, result.words) if w)
    return replace(trial, remedy=replace(trial.remedy, effect=words))


def _pairs(
    shot: Shot, plate: Plate, finding: Finding, refused: list[tuple[Trial, Outcome]]
) -> list[tuple[tuple[int, int], Trial]]:
    """Changes that break another rule of this plate, each with a way out of that: likeliest first,
    up to `MOST_PAIRS`."""
    found: list[tuple[tuple[int, int], Trial]] = []
    left = MOST_PAIRS
    for first, result in sorted(refused, key=lambda pair: len(pair[1].gained)):
        own = [key for plate_id, key in result.gained if plate_id == plate.id]
        if len(own) != 1 or len(result.gained) != 1 or own[0] not in RULES_BY_KEY:
            continue
        told = _standing_after(shot, plate, first.remedy)
        if told.case is None:
            continue
        for second in trials(told.case, RULES_BY_KEY[own[0]], Verdict.BREAKS):
            if second.way.promises is not None or _undoes(second.remedy, first.remedy):
                continue
            if left <= 0:
                return found
            left -= 1
            both = _joined(first.remedy, second.remedy)
            whole = outcome(shot, plate, both, finding.key)
            if not whole.better:
                continue
            now = _standing_after(shot, plate, both).by_key
            said = [now[key].sentence for key in (finding.key, own[0]) if key in now]
            verdict = now[finding.key].verdict if finding.key in now else Verdict.HOLDS
            both = replace(both, effect=" ".join(said), verdict=verdict)
            trial = _told(replace(first, remedy=both), whole)
            found.append(((whole.breaks, whole.strains), trial))
            break
    return found


def _standing_after(shot: Shot, plate: Plate, remedy: Remedy) -> Judged:
    after = applied(shot, plate, remedy)
    return standing(after, next(p for p in after.plates if p.id == plate.id))


def _undoes(second: Remedy, first: Remedy) -> bool:
    """Whether the second decides anew all that the first did. Lamps are decided lamp by lamp."""
    return set(first.changes) <= set(second.changes) and "lamps" not in first.changes


def _joined(first: Remedy, second: Remedy) -> Remedy:
    """Two changes as one remedy."""
    return replace(
        first,
        sentence=f"{first.sentence} With it: {second.sentence}",
        changes={**first.changes, **second.changes},
        shot={**first.shot, **second.shot},
        things={**first.things, **second.things},
    )


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
