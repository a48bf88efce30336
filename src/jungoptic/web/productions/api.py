"""Productions: list, make, rename; and who belongs to them."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import transaction
from django.db.models import Count, Q
from django.http import HttpRequest
from ninja import Query, Router, Schema, Status

from .. import saving
from ..permissions import Verb, enter
from ..records import Stale
from ..schemas import (
    Conflict,
    Fields,
    LongText,
    Name,
    Stored,
    changes_in,
    edit_of,
    made_from,
    whole,
)
from ..schemas import number as bounded
from .models import Membership, Production, Role

router = Router(tags=["productions"])


class ProductionFields(Fields):
    """What is decided for a whole production."""

    name: Name
    story: LongText = ""
    delivery_width_px: whole(16, 32768) = 1920
    delivery_height_px: whole(16, 32768) = 1080
    playback_fps: bounded(1, 1000) = 24.0


ProductionIn = made_from(ProductionFields, "ProductionIn")
ProductionEdit = edit_of(ProductionFields, "ProductionEdit")


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
    request: HttpRequest, limit: int = Query(100, ge=1, le=200), offset: int = Query(0, ge=0)
) -> dict[str, Any]:
    """The productions that the signed-in user belongs to."""
    rows = (
        Membership.objects.filter(user_id=request.user.pk)
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
    made = Production.objects.filter(pk=payload.id).first() if payload.id else None
    if made is not None:
        enter(request, made.pk, Verb.OWN)
        return _out(made, Role.OWNER, made.shots.count())
    with transaction.atomic():
        given = {} if payload.id is None else {"id": payload.id}
        production = Production.objects.create(**given, **values)
        Membership.objects.create(production=production, user_id=request.user.pk, role=Role.OWNER)
    return _out(production, Role.OWNER, 0)


@router.get("/{uuid:production_id}", response=ProductionOut)
def get_production(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """One production."""
    production = enter(request, production_id, Verb.VIEW)
    role = production.memberships.get(user_id=request.user.pk).role
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
        return Status(409, {"message": str(stale), "current": out(stale.current)})
    return Status(200, out(changed))


@router.delete("/{uuid:production_id}", response={204: None})
def remove_production(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """Remove a production with everything in it."""
    enter(request, production_id, Verb.OWN).delete()
    return Status(204, None)
