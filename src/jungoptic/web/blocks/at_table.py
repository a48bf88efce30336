"""Everything of a production that is animated: its blocks, how far it has come, and when it will be
done."""

from __future__ import annotations

import datetime
import uuid
from collections import defaultdict
from typing import Any

from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel

from jungoptic.core.cost.effort import Hours, line
from jungoptic.core.frames.pace import Progress, Sitting, progress, worked_by
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.sheet import Worked

from ..permissions import Verb, enter
from ..plans.api import plates_of
from ..productions.models import Production
from .answers import Table, blocks_of

router = Router(tags=["frame bench"])
#: The most plates that are told at once.
MOST = 100


class AtWork(BaseModel):
    """A day at the table: pictures of the film, or frames of the sheet where somebody wrote the day
    down (`by_hand`), and the hours."""

    day: datetime.date
    first: int
    last: int
    hours: float
    by_hand: bool


class BlockLine(BaseModel):
    """A block: its name, and how many pictures it has, on which days."""

    name: str
    pictures: int
    begun: datetime.date
    ended: datetime.date | None


class AtTable(BaseModel):
    """A plate that is animated. `pictures`: what it asks for, `taken` of them there are; `rebuild`:
    what building its set again costs, as the table of hours has it; `trouble`: why its sheet cannot
    be computed, so that the usual hold counts."""

    shot_id: uuid.UUID
    shot: str
    plate_id: uuid.UUID
    plate: str
    pictures: int
    taken: int
    progress: Progress
    days: list[AtWork]
    blocks: list[BlockLine]
    rebuild: Hours
    trouble: str


@router.get("/{uuid:production_id}/at-table", response=list[AtTable])
def all_at_table(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """Every plate that is animated, in the order of the shots, with its days, blocks and pace."""
    production = enter(request, production_id, Verb.VIEW)
    blocks: dict[uuid.UUID, list[Any]] = defaultdict(list)
    for block in blocks_of(production).prefetch_related("exposures"):
        blocks[block.plate_id].append(block)
    wanted = Q(kind="puppet") | Q(pk__in=list(blocks))
    plates = plates_of(production).filter(wanted).select_related("shot__production", "room")
    told = plates.order_by("shot__position", "created_at", "id")[:MOST]
    rows = (_told(production, plate, blocks[plate.pk]) for plate in told)
    return [row for row in rows if row is not None]


def _told(production: Production, plate: Any, blocks: list[Any]) -> AtTable | None:
    """A plate with all of it; None where its shot is too long for any sheet."""
    try:
        table = Table(production, plate)
    except Impossible:
        return None
    report, sat = table.report, table.sat()
    taken, frames = list(table.taken), report.frames
    today = timezone.now().astimezone(table.clock).date()
    worked = [*table.sheet.worked, *worked_by(sat, taken, frames)]
    days = [_day(one, by_hand=False) for one in sat]
    days += [_day(one, by_hand=True) for one in table.sheet.worked]
    return AtTable(
        shot_id=plate.shot_id,
        shot=f"{plate.shot.number} {plate.shot.title}",
        plate_id=plate.pk,
        plate=plate.name,
        pictures=len(taken),
        taken=sum(len(block.order) for block in blocks),
        progress=progress(worked, frames, report.fps, taken, today),
        days=sorted(days, key=lambda d: (d.day, d.first)),
        blocks=[_block(block, i, table.clock) for i, block in enumerate(blocks, start=1)],
        rebuild=line("setup-puppet", 1).hours,
        trouble=table.trouble,
    )


def _day(one: Sitting | Worked, *, by_hand: bool) -> AtWork:
    return AtWork(day=one.day, first=one.first, last=one.last, hours=one.hours, by_hand=by_hand)


def _block(block: Any, number: int, clock: datetime.tzinfo) -> BlockLine:
    kept = set(block.order)
    times = [e.taken_at.astimezone(clock) for e in block.exposures.all() if e.number in kept]
    begun = min(times, default=block.created_at.astimezone(clock))
    return BlockLine(
        name=block.name or f"Block {number}",
        pictures=len(block.order),
        begun=begun.date(),
        ended=max(times).date() if times else None,
    )
