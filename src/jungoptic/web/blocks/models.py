"""Blocks of work and the pictures taken in them, as they are kept."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone

from ..plans.models import Shot
from ..productions.models import Production
from ..records import Record

#: Where pictures lie, by production.
FOLDER = "blocks"
#: What takes a picture: a camera at the browser, the simulated one, a file of a camera's card.
SOURCES = ("camera", "simulated", "card")


class Block(Record):
    """A stretch of work at one plate: pictures on end, of one size. It names its plate without
    being bound to it, so that a plate whose removal is undone has its blocks again."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="blocks")
    plate_id = models.UUIDField(db_index=True)
    name = models.CharField(max_length=120, blank=True, default="")
    #: The numbers of its pictures in the order of the film; what is not among them was dropped.
    order = models.JSONField(default=list)
    #: The picture that the others are compared with; null: its first.
    reference = models.PositiveIntegerField(null=True, default=None)
    width_px = models.PositiveIntegerField(default=0)
    height_px = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["created_at", "id"]

    def __str__(self) -> str:
        return self.name or f"Block in {self.shot}"

    def production_of(self) -> Production:
        """The production its shot belongs to."""
        return self.shot.production

    @property
    def compared_with(self) -> int | None:
        """The number of the picture that the others are compared with; None in an empty block."""
        if self.reference in self.order:
            return self.reference
        return self.order[0] if self.order else None


class Exposure(models.Model):
    """A picture of a block. Its file is on the disk before its row is; neither is changed."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="exposures")
    number = models.PositiveIntegerField()
    source = models.CharField(max_length=9, default="camera")
    taken_at = models.DateTimeField(default=timezone.now)
    taken_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    stored = models.CharField(max_length=200)
    proxy = models.CharField(max_length=200)
    size = models.PositiveBigIntegerField()
    #: What was measured against the pictures `before` and `reference` (their numbers).
    told = models.JSONField(null=True, default=None)
    before = models.PositiveIntegerField(null=True, default=None)
    reference = models.PositiveIntegerField(null=True, default=None)

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["block", "number"], name="one_exposure_per_number")
        ]

    def __str__(self) -> str:
        return f"{self.number} of {self.block}"
