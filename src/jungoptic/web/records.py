"""Saved things: made once, edited against the revision that was seen, written down each time.

Every use case takes the user, checks, writes and records in one transaction. A stale revision
never overwrites: it raises `Stale`, which carries what is stored now.
"""

from __future__ import annotations

import datetime
import uuid
from typing import Any, TypeVar

from django.core.exceptions import ObjectDoesNotExist
from django.db import models, transaction
from django.db.models.fields.files import FieldFile


class Record(models.Model):
    """A saved thing with a client-made id and a revision that counts its edits."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    revision = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField(auto_now_add=True)
    updated_at = models.DateTimeField(auto_now=True)

    class Meta:
        abstract = True

    def production_of(self) -> Any:
        """The production this belongs to; every record can say."""
        raise NotImplementedError

    def rules(self) -> None:
        """Raise `Refused` when fields disagree with each other; called before every save."""


R = TypeVar("R", bound=Record)


class Stale(Exception):
    """The record has changed since the revision that the edit was made against."""

    def __init__(self, current: Record) -> None:
        super().__init__("This was changed elsewhere in the meantime.")
        self.current = current


class Refused(Exception):
    """A rule of the project says no; `field` names what to mend, `message` how."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field, self.message = field, message


def in_order(record: Record, low: str, high: str, words: str) -> None:
    """Refuse a range given upside down."""
    if getattr(record, low) > getattr(record, high):
        raise Refused(
            high,
            f"The {words} are upside down: {getattr(record, low):g} to {getattr(record, high):g}.",
        )


def values_of(record: Record, names: list[str]) -> dict[str, Any]:
    """The named fields as JSON can hold them, for the journal."""
    return {name: _plain(getattr(record, name)) for name in names}


def _plain(value: Any) -> Any:
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, FieldFile):
        return value.name
    return value.isoformat() if isinstance(value, datetime.date) else value


def _write_down(user: Any, production: Any, record: Record, action: str, **what: Any) -> None:
    from .productions.models import JournalEntry

    JournalEntry.objects.create(
        production=production,
        user=user,
        kind=record._meta.model_name or "",
        record_id=record.pk,
        action=action,
        **what,
    )


@transaction.atomic
def create(
    user: Any, production: Any, model: type[R], values: dict[str, Any], record_id: uuid.UUID | None
) -> R:
    """Make a record. The same id a second time gives back the first: a retry makes no twin."""
    if record_id is not None:
        found = model._default_manager.filter(pk=record_id).first()
        if found is not None:
            if found.production_of() != production:
                raise Refused("id", "This id is taken; make a new one.")
            return found
    record = model(**values) if record_id is None else model(id=record_id, **values)
    record.rules()
    record.save(force_insert=True)
    names = [name for name in values if not isinstance(values[name], models.Model)]
    _write_down(user, production, record, "made", after=values_of(record, names))
    return record


@transaction.atomic
def edit(
    user: Any, production: Any, queryset: models.QuerySet[R], pk: Any, revision: int, changes: dict
) -> R:
    """Change the named fields if `revision` is still the stored one; raise `Stale` if not.

    Raises the model's DoesNotExist when `queryset` has no such record.
    """
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
    _write_down(user, production, record, "edited", before=before, after=values_of(record, names))
    return record


@transaction.atomic
def remove(user: Any, production: Any, queryset: models.QuerySet[R], pk: Any) -> None:
    """Delete a record; gone already is as good. What it was stays in the journal."""
    try:
        record = queryset.select_for_update(of=("self",)).get(pk=pk)
    except ObjectDoesNotExist:
        return
    names = [f.attname for f in record._meta.concrete_fields if f.attname not in {"id"}]
    before = {n: v for n, v in values_of(record, names).items() if not n.endswith("_at")}
    _write_down(user, production, record, "removed", before=before)
    record.delete()
