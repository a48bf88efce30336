"""Create, edit and remove, the same way for every noun."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from django.db import models
from django.http import HttpRequest
from ninja import Status

from . import saving
from .permissions import Verb, enter
from .productions.models import Production
from .records import Stale, plain
from .schemas import changes_in

Checked = Callable[[Production, dict[str, Any]], dict[str, Any]]


def make(
    request: HttpRequest,
    production_id: uuid.UUID,
    model: type[saving.R],
    payload: Any,
    prepare: Checked,
    verb: Verb = Verb.PLAN,
) -> saving.R:
    """Make a record from `payload`. `prepare` checks the values against the production and adds
    the parent; it raises `Refused` or DoesNotExist."""
    production = enter(request, production_id, verb)

    def values() -> dict[str, Any]:
        return prepare(production, payload.model_dump(exclude={"id"}))

    return saving.create(request.user, production, model, values, payload.id)


def change(
    request: HttpRequest,
    production_id: uuid.UUID,
    rows: Callable[[Production], models.QuerySet[saving.R]],
    pk: uuid.UUID,
    payload: Any,
    out: Callable[[Any], Any],
    prepare: Checked | None = None,
    verb: Verb = Verb.PLAN,
) -> Status[Any]:
    """Edit a record among `rows`; a stale revision answers 409 with what is stored."""
    production = enter(request, production_id, verb)

    def changes() -> dict[str, Any]:
        named = changes_in(payload)
        return named if prepare is None else prepare(production, named)

    try:
        record = saving.edit(
            request.user, production, rows(production), pk, payload.revision, changes
        )
    except Stale as stale:
        current = out(stale.current)
        return Status(409, {"message": str(stale), "current": current})
    return Status(200, out(record))


def drop(
    request: HttpRequest,
    production_id: uuid.UUID,
    rows: Callable[[Production], models.QuerySet[Any]],
    pk: uuid.UUID,
    verb: Verb = Verb.PLAN,
) -> Status[Any]:
    """Remove a record among `rows`."""
    production = enter(request, production_id, verb)
    saving.remove(request.user, production, rows(production), pk)
    return Status(204, None)


def fields_out(record: models.Model, fields: type[Any]) -> dict[str, Any]:
    """Id, revision and the schema's fields of a record, ready for JSON."""
    names = ("id", "revision", *fields.model_fields)
    return {name: plain(getattr(record, name)) for name in names}
