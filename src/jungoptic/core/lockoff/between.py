"""Does the light stay the same between the passes of one lock-off?"""

from __future__ import annotations

from dataclasses import replace

from ..judging.limits import DRIFT_STRAINS_TO
from ..judging.rule import Rule
from ..judging.way import Way
from ..plan.changed import with_plate
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.tricks import Split
from ..stage.case import Case
from .checklist import drift_of
from .drift import SunDrift
from .group import group_of
from .order import drift_limit, passes_of
from .strips import side_of


def judge_drift(case: Case) -> Finding | None:
    """Whether the sun stays for all passes of a lock-off; None indoors, or for a plate alone."""
    found = _drift(case)
    if found is None:
        return None
    split, drift = found
    needed = drift_limit(case, split, drift).needed_min
    verdict = _verdict(needed, drift)
    return Finding(
        key="drift",
        title="Light between passes",
        verdict=verdict,
        sentence=(
            f"The passes take {needed:.0f} min from the first to the last; the sun leaves "
            f"{drift.minutes:.0f} min about the middle of the day before it has changed {drift.by} "
            f"({drift.worst_min:.0f} to {drift.best_min:.0f} min over the day)."
        ),
        workings=(
            Working(
                formula="minutes until the sun has turned 2° or its light changed by 0.1 stop",
                inputs=(
                    Quantity("n", "needed", needed, "min"),
                    Quantity("w", "worst start", drift.worst_min, "min"),
                    Quantity("b", "best start", drift.best_min, "min"),
                    Quantity("s", "strains up to", drift.minutes * DRIFT_STRAINS_TO, "min"),
                ),
                result=Quantity("t", "minutes left", drift.minutes, "min"),
                source="NREL SPA; 2° and 0.1 stop (5° and a quarter of a stop where it strains) "
                "are judgement.",
            ),
        ),
    )


def _verdict(needed_min: float, drift: SunDrift) -> Verdict:
    return banded(needed_min, drift.minutes, drift.minutes * DRIFT_STRAINS_TO)


def _drift(case: Case) -> tuple[Split, SunDrift] | None:
    """The divider that the passes of this lock-off join at, and how the sun goes on meanwhile."""
    group = group_of(case.shot, case.plate)
    drift = drift_of(case) if len(group) > 1 else None
    if drift is None:
        return None
    splits = (s for s in case.shot.splits if side_of(s, case.plate.id) is not None)
    return next(splits, Split("", "", group[0].id, group[1].id)), drift


def _ways(case: Case) -> list[Way]:
    found = _drift(case)
    if found is None:
        return []
    fewer = _fewer_takes(case, *found)
    cloud = Way(
        "Film it under cloud or in open shade, one bounce for all passes.",
        effect="Without shadows only the level drifts.",
        promises=Verdict.STRAINS,
    )
    return [cloud] if fewer is None else [fewer, cloud]


def _fewer_takes(case: Case, split: Split, drift: SunDrift) -> Way | None:
    """The most takes of the second pass with which the light stays; None where its takes are not
    what lasts. Those of the first are over before the minutes count."""
    passes = passes_of(case, split)
    if len(passes) < 2:
        return None
    second = next(p for p in case.shot.plates if p.id == passes[1].plate_id)
    before = _verdict(drift_limit(case, split, drift).needed_min, drift)
    found: list[tuple[int, int, float, Verdict]] = []
    for takes in range(1, second.takes_planned):
        shot = with_plate(case.shot, replace(second, takes_planned=takes))
        needed = drift_limit(replace(case, shot=shot), split, drift).needed_min
        after = _verdict(needed, drift)
        if after.rank < before.rank:
            found.append((after.rank, -takes, needed, after))
    if not found:
        return None
    _, fewer, needed, after = min(found)
    takes = -fewer
    own = second.id == case.plate.id
    return Way(
        f"Plan {takes} {'take' if takes == 1 else 'takes'} of {second.name}, and rehearse with the "
        "camera off.",
        {"takes_planned": takes} if own else {},
        f"{needed:.0f} min then.",
        promises=None if own else after,
    )


RULE = Rule(
    key="drift",
    title="Light between passes",
    name="light between passes",
    speak=judge_drift,
    ways=_ways,
    of_shot=True,
    otherwise="Fewer passes, or a place where the sun does not reach.",
)
