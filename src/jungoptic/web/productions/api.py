"""Productions: list, make, rename; and who belongs to them."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.db import transaction
from django.db.models import Count, Q
from django.http import HttpRequest
from ninja import Router, Schema, Status

from .. import saving
from ..permissions import Verb, enter, signed_in
from ..records import Stale
from ..schemas import (
    Conflict,
    Stored,
    Within,
    changes_in,
)
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
        Membership.objects.filter(user=signed_in(request))
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
    with transaction.atomic():
        pk = payload.id or uuid.uuid4()
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


@router.delete("/{uuid:production_id}", response={204: None})
def remove_production(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """Remove a production with everything in it."""
    enter(request, production_id, Verb.OWN).delete()
    return Status(204, None)
