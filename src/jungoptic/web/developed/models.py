"""What the simulated camera has made of a plan, kept until something newer takes its place."""

from __future__ import annotations

import uuid

from django.db import models
from django.utils import timezone

from ..plans.models import Plate, Shot

#: Where the files lie.
FOLDER = "developed"
#: The newest of a shot that are kept, of the plan with a change, of its dry runs and their clips.
MOST, MOST_CHANGED, MOST_RUNS, MOST_CLIPS = 40, 24, 24, 3


class Developed(models.Model):
    """A picture of a plate, or without one of the story, at a frame (from 1), as planned or with a
    `change`; all of it, or a place `at` (right and down, parts of it) pixel for pixel, as the card
    keeps it. `stamp` tells the plan (without the change), kit and program that it came of;
    `remarks`: what to know when looking at it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="developed")
    plate = models.ForeignKey(Plate, on_delete=models.CASCADE, null=True, related_name="developed")
    #: The further view whose story it shows; null: the first camera's, or a plate's own.
    view_id = models.UUIDField(null=True, default=None)
    frame = models.PositiveIntegerField(default=1)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    stamp = models.CharField(max_length=48)
    #: The change that it was developed with, as `Change` has it, and its key; empty: as planned.
    change = models.JSONField(default=dict)
    change_key = models.CharField(max_length=32, default="")
    remarks = models.JSONField(default=list)
    at = models.JSONField(default=list)
    picture = models.CharField(max_length=200)
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-made_at"]

    def __str__(self) -> str:
        return f"{self.width_px} px, frame {self.frame}"


class DryRun(models.Model):
    """A view of a shot with all its plates filmed in simulation and put together: the `composite`
    beside the `story`, pictures of a frame (from 1), or (frame null) clips of all of it, with
    `fps` pictures a second. `things`: what stands in it, as both pictures have it; `hole`: the part
    that no plate shows."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="dry_runs")
    view_id = models.UUIDField(null=True, default=None)
    frame = models.PositiveIntegerField(null=True, default=1)
    fps = models.FloatField(null=True, default=None)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    stamp = models.CharField(max_length=48)
    hole = models.FloatField(default=0.0)
    things = models.JSONField(default=list)
    remarks = models.JSONField(default=list)
    composite = models.CharField(max_length=200)
    story = models.CharField(max_length=200)
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-made_at"]

    def __str__(self) -> str:
        return f"{self.width_px} px, " + ("clip" if self.frame is None else f"frame {self.frame}")
