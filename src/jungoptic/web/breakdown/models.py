"""Recipes of one's own, logged hours, read cautions, continuity threads, and steps of the Board."""

from __future__ import annotations

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models

from ..plans.models import Plate, Shot
from ..productions.models import Production
from ..records import Record


class OwnRecipe(Record):
    """A recipe saved from a shot; `content` is a `core.recipes.Recipe`."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=120)
    content = models.JSONField()

    class Meta:
        ordering = ["name", "id"]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class LoggedHours(models.Model):
    """Hours that a finished piece of work really took: a plate's, or the shot's as a whole."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="logged_hours")
    plate = models.ForeignKey(Plate, null=True, on_delete=models.CASCADE, related_name="+")
    phase = models.CharField(max_length=4)
    hours = models.FloatField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["shot", "plate", "phase"], name="one_log_per_piece", nulls_distinct=False
            )
        ]

    def __str__(self) -> str:
        return f"{self.hours:g} h {self.phase}"


class ReadCaution(models.Model):
    """Somebody has read the cautions of a hazard for a shot: by name and time."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="read_cautions")
    hazard = models.CharField(max_length=20)
    name = models.CharField(max_length=120)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "id"]
        constraints = [
            models.UniqueConstraint(fields=["shot", "hazard", "name"], name="read_once_by_name")
        ]

    def __str__(self) -> str:
        return f"{self.hazard} read by {self.name}"


class Thread(Record):
    """Something that must recur, attached to places or to single shots."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="threads")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, default="thing")
    note = models.TextField(max_length=2000, blank=True, default="")
    places = ArrayField(models.CharField(max_length=120), default=list)
    shots = models.ManyToManyField(Shot, related_name="threads")

    class Meta:
        ordering = ["created_at", "id"]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class KeptThread(Record):
    """A shot, or one of its plates, takes care of a thread; or says why it may be missing."""

    thread = models.ForeignKey(Thread, on_delete=models.CASCADE, related_name="kept")
    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="kept_threads")
    plate = models.ForeignKey(Plate, null=True, on_delete=models.CASCADE, related_name="+")
    excuse = models.CharField(max_length=300, blank=True, default="")

    class Meta:
        ordering = ["created_at", "id"]

    def __str__(self) -> str:
        return f"{self.thread} in {self.shot}"

    def production_of(self) -> Production:
        """The production its thread belongs to."""
        return self.thread.production


class BoardStep(models.Model):
    """One thing done to several records at once, with what is needed to undo and redo it."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="steps")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    label = models.CharField(max_length=120)
    at = models.DateTimeField(auto_now_add=True)
    ops = models.JSONField()
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["production", "user", "-id"])]

    def __str__(self) -> str:
        return self.label
