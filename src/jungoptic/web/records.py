"""What every saved thing is, and why a save can be refused. `saving` does the saving."""

from __future__ import annotations

import datetime
import uuid
from typing import Any

from django.db import models
from django.db.models.fields.files import FieldFile

from .schemas import bounds_of


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


def within(model: str, fields: type[Any]) -> models.CheckConstraint:
    """The database's own hold on every number of a model: the bounds of its schema, so that nothing
    can be stored that could not be sent, however it was worked out."""
    held = models.Q()
    for name, (low, high) in sorted(bounds_of(fields).items()):
        held &= models.Q((f"{name}__gte", low), (f"{name}__lte", high))
    return models.CheckConstraint(condition=held, name=f"{model}_within_bounds")


def in_order(record: Record, low: str, high: str, words: str) -> None:
    """Refuse a range given upside down."""
    if getattr(record, low) > getattr(record, high):
        raise Refused(
            high,
            f"The {words} are upside down: {getattr(record, low):g} to {getattr(record, high):g}.",
        )


def values_of(record: Record, names: list[str]) -> dict[str, Any]:
    """The named fields as JSON can hold them, for the journal."""
    return {name: plain(getattr(record, name)) for name in names}


def plain(value: Any) -> Any:
    """A field as JSON can hold it."""
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, FieldFile):
        return value.name
    return value.isoformat() if isinstance(value, datetime.date) else value
