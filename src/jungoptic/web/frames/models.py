"""Exposure sheets as they are kept."""

from __future__ import annotations

from django.db import models

from ..plans.models import Shot
from ..productions.models import Production
from ..records import Record


class Sheet(Record):
    """The exposure sheet of one plate. It names its plate without being bound to it, so that a
    plate whose removal is undone has its sheet again."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="sheets")
    plate_id = models.UUIDField(unique=True)
    #: As `fields.ColumnFields`, `fields.WorkedFields`, `fields.LapseFields`,
    #: `set_fields.SetMapFields` and `fields.ReferenceFields`; null: none.
    columns = models.JSONField(default=list)
    worked = models.JSONField(default=list)
    lapse = models.JSONField(null=True, default=None)
    set_map = models.JSONField(null=True, default=None)
    reference = models.JSONField(null=True, default=None)

    class Meta:
        ordering = ["created_at", "id"]

    def __str__(self) -> str:
        return f"Sheet in {self.shot}"

    def production_of(self) -> Production:
        """The production its shot belongs to."""
        return self.shot.production
