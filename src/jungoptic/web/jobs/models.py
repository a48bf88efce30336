"""What was asked for, how far it is, and what came of it."""

from __future__ import annotations

import datetime
import uuid
from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from ..productions.models import Production

#: Where results that are files are kept.
FOLDER = "jobs"
#: So long a result is kept, and so long work may say nothing before it counts as cut off.
KEPT_FOR = datetime.timedelta(days=1)
SILENT_FOR = datetime.timedelta(seconds=60)


class State(models.TextChoices):
    """How a piece of work stands."""

    WAITING = "waiting", "Waiting"
    RUNNING = "running", "Running"
    DONE = "done", "Done"
    FAILED = "failed", "Failed"
    CANCELLED = "cancelled", "Cancelled"


OPEN = (State.WAITING, State.RUNNING)


class Job(models.Model):
    """A piece of long work; it ends with its production."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="jobs")
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="jobs"
    )
    kind = models.CharField(max_length=40)
    params = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    #: Set by whoever no longer wants it; whoever does it looks.
    cancel = models.BooleanField(default=False)
    #: How much of it is done (0..1), and in words.
    part = models.FloatField(default=0.0)
    told = models.CharField(max_length=200, blank=True, default="")
    problem = models.CharField(max_length=500, blank=True, default="")
    result = models.JSONField(null=True)
    file = models.CharField(max_length=200, blank=True, default="")
    file_name = models.CharField(max_length=120, blank=True, default="")
    content_type = models.CharField(max_length=80, blank=True, default="")
    asked_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(null=True)
    #: When it last said that it goes on.
    seen_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-asked_at", "id"]
        indexes = [models.Index(fields=["state", "asked_at"], name="jobs_by_state")]

    def __str__(self) -> str:
        return f"{self.kind} {self.state}"

    @property
    def cut_off(self) -> bool:
        """Whether whoever did it has gone without a word."""
        return (
            self.state == State.RUNNING
            and self.seen_at is not None
            and timezone.now() - self.seen_at > SILENT_FOR
        )

    def end(self, state: State, **values: Any) -> None:
        """It has ended so, unless it has ended before."""
        Job.objects.filter(pk=self.pk, state__in=OPEN).update(
            state=state, ended_at=timezone.now(), **values
        )
