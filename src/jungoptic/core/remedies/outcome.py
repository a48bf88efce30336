"""What a change does to every plate it touches, asked of every rule."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..judging.trying import Trial, trials
from ..plan.findings import Finding, Remedy, Verdict
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..words.sentences import listed
from .applied import applied, touched
from .possible import can_be
from .standing import RULES_BY_KEY, Judged, standing

#: So many changes of one finding are tried as a whole.
MOST_TRIED = 16
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


def tried(shot: Shot, plate: Plate, finding: Finding) -> list[tuple[Trial, Outcome | None]]:
    """The single changes that help a finding by its own rule, best first, with what each does as a
    whole; None for advice that the plan cannot carry out."""
    shot = seen_from_own(shot, plate)

    def make() -> list[tuple[Trial, Outcome | None]]:
        rule, case = RULES_BY_KEY.get(finding.key), standing(shot, plate).case
        if rule is None or case is None:
            return []
        return [
            (t, None if t.way.promises else outcome(shot, plate, t.remedy, finding.key))
            for t in trials(case, rule, finding.verdict)[:MOST_TRIED]
        ]

    if any(p is plate for p in shot.plates):
        return shot.once(f"tried:{plate.id}:{finding.key}:{finding.verdict}", make)
    return make()


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
        words.append(f"It also mends {listed(mended)}.")
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


def told_with(trial: Trial, result: Outcome) -> Trial:
    """The trial with what else it changes told beside its effect."""
    words = " ".join(w for w in (trial.remedy.effect, result.words) if w)
    return replace(trial, remedy=replace(trial.remedy, effect=words))
