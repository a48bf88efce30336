"""Rough composites, kept until something newer takes their place."""

from __future__ import annotations

import uuid

from django.db import models
from django.utils import timezone

from ..plans.models import Shot

#: Where the files lie.
FOLDER = "rough"
#: The newest of a shot that are kept, stills and clips each.
MOST, MOST_CLIPS = 12, 3


class Rough(models.Model):
    """A view of a shot with what was filmed of its plates put together, at a frame (from 1), or
    (frame null) all of it as a clip. `stamp`: the plan that it came of; `told`: what of which
    take was shown, and what it says (see `documents.ROUGH`)."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="roughs")
    view_id = models.UUIDField(null=True, default=None)
    frame = models.PositiveIntegerField(null=True, default=None)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    stamp = models.CharField(max_length=48)
    told = models.JSONField(default=dict)
    #: The picture or the clip, and the plan's own picture of that frame.
    composite = models.CharField(max_length=200)
    planned = models.CharField(max_length=200, blank=True, default="")
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-made_at"]

    def __str__(self) -> str:
        return f"{self.width_px} px, " + ("clip" if self.frame is None else f"frame {self.frame}")
