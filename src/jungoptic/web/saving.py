"""Saving: made once, edited against the revision that was seen, written down each time.

Every use case takes the user, checks, writes and records in one transaction. A stale revision
never overwrites: it raises `Stale`, which carries what is stored now.
"""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

from django.core.exceptions import ObjectDoesNotExist
from django.db import models, transaction

from .journal import writing as journal
from .productions.models import Production
from .records import Record, Refused, Stale, values_of

R = TypeVar("R", bound=Record)
#: Values to store, or what works them out once nobody else can write.
Values = dict[str, Any] | Callable[[], dict[str, Any]]


def _worked_out(values: Values) -> dict[str, Any]:
    return values() if callable(values) else values


@contextmanager
def writing(production: Production) -> Iterator[None]:
    """A transaction that writes into a production. It takes the production's own row first, as
    every other does, so that no two can wait for one another; who reads waits for nobody."""
    with transaction.atomic():
        rows = Production._default_manager.select_for_update(of=("self",), no_key=True)
        rows.filter(pk=production.pk).values_list("pk").first()
        yield


def write_down(user: Any, production: Any, record: Record, action: str, **what: Any) -> None:
    """Enter in the journal who did what to which record."""
    journal.write(user, production.pk, record._meta.model_name or "", record.pk, action, **what)


def _made_before(production: Any, model: type[R], record_id: uuid.UUID | None) -> R | None:
    """The record that an earlier try made under this id; raises `Refused` where it is another
    production's, or was put away since."""
    if record_id is None:
        return None
    every = getattr(model, "everything", model._default_manager)
    found = every.filter(pk=record_id).first()
    if found is None:
        return None
    gone = getattr(found, "removed_at", None) is not None
    if gone or found.production_of() != production:
        raise Refused("id", "This id is taken; make a new one.")
    made: R = found
    return made


def create(
    user: Any, production: Any, model: type[R], values: Values, record_id: uuid.UUID | None
) -> R:
    """Make a record. The same id a second time gives back the first: a retry makes no twin, and has
    nothing to be refused for."""
    with writing(production):
        return _made_before(production, model, record_id) or _made(
            user, production, model, _worked_out(values), record_id
        )


def _made(
    user: Any, production: Any, model: type[R], values: dict[str, Any], record_id: uuid.UUID | None
) -> R:
    record = model(**values) if record_id is None else model(id=record_id, **values)
    record.rules()
    record.save(force_insert=True)
    names = [name for name in values if not isinstance(values[name], models.Model)]
    write_down(user, production, record, "made", after=values_of(record, names))
    return record


def edit(
    user: Any,
    production: Any,
    queryset: models.QuerySet[R],
    pk: Any,
    revision: int,
    changes: Values,
) -> R:
    """Change the named fields if `revision` is still the stored one; raise `Stale` if not.

    Raises the model's DoesNotExist when `queryset` has no such record.
    """
    with writing(production):
        return _edited(user, production, queryset, pk, revision, _worked_out(changes))


def _edited(
    user: Any,
    production: Any,
    queryset: models.QuerySet[R],
    pk: Any,
    revision: int,
    changes: dict[str, Any],
) -> R:
    # Only the record's own row is locked: joined tables may be nullable and need no lock.
    record = queryset.select_for_update(of=("self",)).get(pk=pk)
    if record.revision != revision:
        raise Stale(record)
    names = list(changes)
    before = values_of(record, names)
    for name, value in changes.items():
        setattr(record, name, value)
    record.rules()
    record.revision += 1
    record.save()
    write_down(user, production, record, "edited", before=before, after=values_of(record, names))
    return record


def remove(user: Any, production: Any, queryset: models.QuerySet[R], pk: Any) -> None:
    """Delete a record; gone already is as good. What it was stays in the journal."""
    with writing(production):
        _removed(user, production, queryset, pk)


def _removed(user: Any, production: Any, queryset: models.QuerySet[R], pk: Any) -> None:
    try:
        record = queryset.select_for_update(of=("self",)).get(pk=pk)
    except ObjectDoesNotExist:
        return
    names = [f.attname for f in record._meta.concrete_fields if f.attname not in {"id"}]
    before = {n: v for n, v in values_of(record, names).items() if not n.endswith("_at")}
    write_down(user, production, record, "removed", before=before)
    record.delete()
