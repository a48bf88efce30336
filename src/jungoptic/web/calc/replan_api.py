"""What a change of kit does to the plates of a production."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from jungoptic.core import planner
from jungoptic.core.words import quantities as say

from ..jobs.work import Kind, Work
from ..permissions import Verb, enter
from ..plans.bridge import load
from ..plans.models import Shot
from ..plans.stored import bare_kit, elsewhere, plan_json, with_takes
from ..productions.models import Production
from .api import ChangeOut, NotationFields, Without, changes_out

router = Router(tags=["plans"])


class WithoutKit(Without):
    """What is taken away, and for which shots; all of them unless some are named, so that a screen
    can ask in parts and show how far it is."""

    shots: Annotated[list[uuid.UUID], Field(max_length=500)] | None = None
    notation: NotationFields = NotationFields()


class WithoutWhole(Without):
    """The same of all shots, told by a piece of long work."""

    notation: NotationFields = NotationFields()


class ShotChange(ChangeOut):
    """One plate's change, with the shot it belongs to."""

    number: str
    title: str


class Replanned(BaseModel):
    """Every plate that was looked at, in story order, and how many shots that were."""

    shots: int
    changes: list[ShotChange]


@router.post("/{uuid:production_id}/replan", response=Replanned)
def replan_production(
    request: HttpRequest, production_id: uuid.UUID, payload: WithoutKit
) -> dict[str, Any]:
    """Follow every plate to a kit without some things. Nothing is stored."""
    production = enter(request, production_id, Verb.VIEW)
    rows = Shot.objects.filter(production=production)
    if payload.shots is not None:
        rows = rows.filter(pk__in=payload.shots)
    shots = list(rows.prefetch_related("plates__use", "stand_ins", with_takes()))
    with say.written_in(payload.notation.core()):
        changes = [c for part in _followed(production, shots, payload) for c in part]
    return {"shots": len(shots), "changes": changes}


def _followed(
    production: Production, shots: list[Shot], taken: Without
) -> Iterator[list[dict[str, Any]]]:
    """What becomes of the plates of each shot, in order."""
    kit = bare_kit(production)
    beside = elsewhere(shots, kit)
    for shot in shots:
        plan = [(str(shot.pk), load(plan_json(shot, kit=kit, beside=beside[shot.pk])))]
        found = changes_out(planner.replan(plan, taken.ids, taken.whole))
        yield [{**one, "number": shot.number, "title": shot.title} for one in found]


def _replan(work: Work[WithoutWhole]) -> None:
    rows = Shot.objects.filter(production=work.production)
    shots = list(rows.prefetch_related("plates__use", "stand_ins", with_takes()))
    changes: list[dict[str, Any]] = []
    work.tell(0, len(shots), "shots")
    with say.written_in(work.params.notation.core()):
        followed = _followed(work.production, shots, work.params)
        for number, part in enumerate(followed, start=1):
            changes += part
            work.tell(number, len(shots), "shots")
    work.keep({"shots": len(shots), "changes": changes})


REPLAN = Kind("replan", "Every shot without some of the kit", Verb.VIEW, WithoutWhole, _replan)
