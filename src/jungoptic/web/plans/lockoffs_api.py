"""The lock-offs of a production: which there are, what each holds, and another name for one."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any

from django.db.models import Exists, OuterRef
from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from ..permissions import Verb, enter
from ..records import Refused
from ..schemas import Fields, Out
from ..steps import recording
from .lockoffs import LONGEST, names_taken, plates_in
from .models import Plate

router = Router(tags=["lock-offs"])


class HeldPlate(Out):
    """A plate of a lock-off; `filmed`: it has takes."""

    id: uuid.UUID
    name: str
    film_on: datetime.date | None
    filmed: bool


class HeldShot(Out):
    """A shot of a lock-off with its plates in it."""

    id: uuid.UUID
    number: str
    title: str
    plates: list[HeldPlate]


class HeldLockOff(Out):
    """A lock-off: its name, and what is filmed from it in story order."""

    name: str
    shots: list[HeldShot]


def _told(rows: list[Plate]) -> list[dict[str, Any]]:
    found: dict[str, dict[uuid.UUID, dict[str, Any]]] = {}
    for plate in rows:
        shot = found.setdefault(plate.lock_group, {}).setdefault(
            plate.shot_id,
            {"id": plate.shot_id, "number": plate.shot.number, "title": plate.shot.title},
        )
        shot.setdefault("plates", []).append(
            {name: getattr(plate, name) for name in ("id", "name", "film_on", "filmed")}
        )
    return [{"name": name, "shots": list(shots.values())} for name, shots in found.items()]


@router.get("/{uuid:production_id}/lockoffs", response=list[HeldLockOff])
def list_lockoffs(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The lock-offs of the production, by the first shot of each."""
    production = enter(request, production_id, Verb.VIEW)
    taken = Plate.objects.filter(pk=OuterRef("pk"), cards__takes__isnull=False)
    rows = plates_in(production.pk).select_related("shot").annotate(filmed=Exists(taken))
    fields = ("id", "name", "film_on", "lock_group", "shot_id", "shot__number", "shot__title")
    order = ("shot__position", "shot__created_at", "shot_id", "position", "created_at", "id")
    return _told(list(rows.only(*fields).order_by(*order)))


class Renaming(Fields):
    """A lock-off, and what it is to be called."""

    name: Annotated[str, Field(min_length=1, max_length=LONGEST)]
    to: Annotated[str, Field(min_length=1, max_length=LONGEST)]


@router.post("/{uuid:production_id}/lockoffs/rename", response=list[HeldLockOff])
def rename_lockoff(request: HttpRequest, production_id: uuid.UUID, payload: Renaming) -> Any:
    """Call a lock-off something else on all its plates, in one step that the Board undoes."""
    production = enter(request, production_id, Verb.PLAN)
    with recording(request.user, production, f"Rename lock-off {payload.name}") as step:
        if payload.to != payload.name and payload.to in names_taken(production.pk):
            raise Refused("to", "Another lock-off of this production is called that.")
        plates = list(plates_in(production.pk).filter(lock_group=payload.name))
        if not plates:
            raise Refused("name", "There is no lock-off of that name any more.")
        for plate in plates:
            step.change(plate, lock_group=payload.to)
    return list_lockoffs(request, production_id)
