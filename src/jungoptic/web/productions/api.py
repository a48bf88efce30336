"""Productions: list, make, rename; and who belongs to them."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any

from django.db import transaction
from django.db.models import Count, Q
from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from .. import saving
from ..accounts import sure
from ..permissions import Verb, enter, signed_in
from ..records import Stale
from ..schemas import (
    Conflict,
    Fields,
    Out,
    Stored,
    Within,
    changes_in,
)
from . import bin
from .fields import ProductionEdit, ProductionFields, ProductionIn
from .models import Membership, Production, Role

router = Router(tags=["productions"])


class ProductionOut(Stored, ProductionFields):
    """A production as a member sees it."""

    role: str
    shot_count: int


class Page(Schema):
    """One page of productions and how many there are in all."""

    items: list[ProductionOut]
    count: int


def _out(production: Production, role: str, shots: int) -> dict[str, Any]:
    names = ("id", "revision", *ProductionFields.model_fields)
    return {
        **{name: getattr(production, name) for name in names},
        "role": role,
        "shot_count": shots,
    }


#: Shots that have not been put away.
LIVE = Q(production__shots__removed_at=None)


@router.get("", response=Page)
def list_productions(
    request: HttpRequest,
    limit: Annotated[int, Within(1, 200)] = 100,
    offset: Annotated[int, Within(0, 2**31 - 1)] = 0,
) -> dict[str, Any]:
    """The productions that the signed-in user belongs to."""
    rows = (
        Membership.objects.filter(user=signed_in(request), production__removed_at=None)
        .select_related("production")
        .annotate(shot_count=Count("production__shots", filter=LIVE))
        .order_by("production__name", "production_id")
    )
    return {
        "items": [_out(m.production, m.role, m.shot_count) for m in rows[offset : offset + limit]],
        "count": rows.count(),
    }


@router.post("", response=ProductionOut)
def make_production(request: HttpRequest, payload: ProductionIn) -> dict[str, Any]:
    """Make a production; whoever makes it owns it."""
    values = payload.model_dump(exclude={"id"})
    Production(**values).rules()
    with transaction.atomic():
        pk = payload.id or uuid.uuid4()
        if not Production.objects.filter(pk=pk).exists():
            bin.refuse_more(signed_in(request))
        # Twice at the same moment: one makes it, the other finds it.
        production, fresh = Production.objects.get_or_create(pk=pk, defaults=values)
        if fresh:
            Membership.objects.create(
                production=production, user=signed_in(request), role=Role.OWNER
            )
    if not fresh:
        enter(request, production.pk, Verb.OWN)
    return _out(production, Role.OWNER, production.shots.count())


@router.get("/{uuid:production_id}", response=ProductionOut)
def get_production(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """One production."""
    production = enter(request, production_id, Verb.VIEW)
    role = production.memberships.get(user=signed_in(request)).role
    return _out(production, role, production.shots.count())


@router.patch("/{uuid:production_id}", response={200: ProductionOut, 409: Conflict})
def edit_production(
    request: HttpRequest,
    production_id: uuid.UUID,
    payload: ProductionEdit,
) -> Any:
    """Change a production."""
    production = enter(request, production_id, Verb.OWN)
    mine = Production.objects.filter(pk=production.pk)

    def out(record: Production) -> dict[str, Any]:
        return _out(record, Role.OWNER, record.shots.count())

    try:
        changed = saving.edit(
            request.user,
            production,
            mine,
            production.pk,
            payload.revision,
            changes_in(payload),
        )
    except Stale as stale:
        current = out(mine.get())
        return Status(409, {"message": str(stale), "current": current})
    return Status(200, out(changed))


class Typed(Fields):
    """The name of a production, typed to show that it is meant."""

    name: Annotated[str, Field(max_length=500)]


class Removed(Out):
    """A production in the bin, and when it is erased."""

    id: uuid.UUID
    name: str
    removed_at: datetime.datetime
    erased_at: datetime.datetime


@router.get("/in-the-bin", response=list[Removed])
def list_removed(request: HttpRequest) -> Any:
    """The productions in the bin that the signed-in user owns."""
    rows = bin.owned(signed_in(request)).exclude(removed_at=None).order_by("-removed_at")
    return [
        {
            "id": one.pk,
            "name": one.name,
            "removed_at": one.removed_at,
            "erased_at": one.removed_at + bin.KEPT_FOR,
        }
        for one in rows[:200]
    ]


@router.post("/{uuid:production_id}/remove", response={204: None})
def remove_production(request: HttpRequest, production_id: uuid.UUID, payload: Typed) -> Any:
    """Lay a production into the bin: nobody enters it any more, and after thirty days it is erased
    with everything in it. Until then an owner can fetch it back."""
    production = enter(request, production_id, Verb.OWN)
    sure.demand(request)
    bin.remove(signed_in(request), production, payload.name)
    return Status(204, None)


@router.post("/{uuid:production_id}/restore", response=ProductionOut)
def restore_production(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """Fetch a production back out of the bin; one that is not in it stays as it is."""
    held = Membership.objects.filter(production=production_id, user=signed_in(request)).first()
    if held is None or held.role != Role.OWNER or held.production.removed_at is None:
        enter(request, production_id, Verb.OWN)
    member = bin.restore(signed_in(request), production_id)
    return _out(member.production, member.role, member.production.shots.count())
