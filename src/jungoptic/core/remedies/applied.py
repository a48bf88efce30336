"""A shot after a remedy, and which of its plates that touches."""

from __future__ import annotations

from dataclasses import replace

from ..lockoff.group import LOCKED, group_of, shared
from ..plan.changed import with_decisions
from ..plan.findings import Remedy
from ..plan.plate import Plate
from ..plan.shot import Shot


def applied(shot: Shot, plate: Plate, remedy: Remedy) -> Shot:
    """The shot after a remedy of one of its plates: what a lock-off shares goes to all its plates,
    unless the remedy is for this plate alone."""
    together = {p.id for p in ((plate,) if remedy.alone else group_of(shot, plate))}
    locked = {k: v for k, v in remedy.changes.items() if k in LOCKED}

    def changed(one: Plate) -> Plate:
        if one.id == plate.id:
            return replace(one, **remedy.changes)  # type: ignore[arg-type]
        if not locked or one.id not in together:
            return one
        both = shared(plate, one)
        return replace(one, **{k: v for k, v in locked.items() if k in both})  # type: ignore[arg-type]

    changed_shot = with_decisions(shot, remedy.shot, remedy.things)
    return replace(changed_shot, plates=tuple(changed(p) for p in changed_shot.plates))


def touched(shot: Shot, plate: Plate, remedy: Remedy) -> tuple[Plate, ...]:
    """The plates whose answers a remedy may change: all of them where the shot or its things
    change, else this one, its lock-off, and those it is split against."""
    if remedy.shot or remedy.things:
        return shot.plates
    ids: set[str | None] = {p.id for p in group_of(shot, plate)}
    for split in shot.splits:
        if plate.id in (split.first_id, split.second_id):
            ids |= {split.first_id, split.second_id}
    return tuple(p for p in shot.plates if p.id in ids)
