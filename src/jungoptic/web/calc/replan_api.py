"""What a change of kit does to the plates of a production."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from jungoptic.core import planner
from jungoptic.core.words import quantities as say

from ..kit.api import kit_out
from ..permissions import Verb, enter
from ..plans.bridge import load, plan_json, with_takes
from ..plans.models import Shot
from .api import ChangeOut, NotationFields, Without, changes_out

router = Router(tags=["plans"])


class WithoutKit(Without):
    """What is taken away, and for which shots; all of them unless some are named, so that a screen
    can ask in parts and show how far it is."""

    shots: Annotated[list[uuid.UUID], Field(max_length=500)] | None = None
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
    named = {str(s.pk): s for s in shots}
    kit = kit_out(production)
    with say.written_in(payload.notation.core()):
        found = changes_out(
            planner.replan(
                ((pk, load(plan_json(shot, kit=kit))) for pk, shot in named.items()),
                payload.ids,
                payload.whole,
            )
        )
    changes = [
        {**one, "number": named[one["shot_id"]].number, "title": named[one["shot_id"]].title}
        for one in found
    ]
    return {"shots": len(shots), "changes": changes}
