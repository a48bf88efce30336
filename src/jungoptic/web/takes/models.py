"""Set cards as issued and takes as logged: frozen copies of what the crew really saw."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone

from .. import documents
from ..plans.models import Plate
from ..productions.models import Production
from ..records import Record, within
from .fields import CardFields, TakeFields

#: Where the pictures on cards lie.
FOLDER = "cards"


class SetCard(Record):
    """An issued card. `content` is what stands on it; `plan` the decisions it came from, both as
    they were stored: read them by `shown` and `frozen_plan`. `board` is the number of its board,
    and `ruler_mm` what the line of 100 mm on that really measures, as it was printed. `picture`:
    where a developed picture of that plan lies, if there was one."""

    plate = models.ForeignKey(Plate, on_delete=models.CASCADE, related_name="cards")
    slate = models.CharField(max_length=40)
    issued_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    content = models.JSONField()
    plan = models.JSONField()
    board = models.PositiveIntegerField(db_index=True)
    ruler_mm = models.FloatField(default=100.0)
    picture = models.CharField(max_length=200, blank=True, default="")

    class Meta:
        ordering = ["-created_at", "id"]
        constraints = [
            within("card", CardFields),
            models.UniqueConstraint(fields=["plate", "slate"], name="one_card_per_slate"),
        ]

    def __str__(self) -> str:
        return self.slate

    @property
    def shown(self) -> documents.Document:
        """What stands on it, in today's form."""
        return documents.CARD.read(self.content)

    @property
    def frozen_plan(self) -> documents.Document:
        """The decisions it came from, in today's form: what its takes are judged by."""
        return documents.CARD_PLAN.read(self.plan)

    def production_of(self) -> Production:
        """The production of the plate's shot."""
        return self.plate.shot.production


class Take(Record):
    """One take with the numbers read off; null means "as planned"."""

    card = models.ForeignKey(SetCard, on_delete=models.CASCADE, related_name="takes")
    number = models.PositiveIntegerField()
    logged_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    #: The name that was typed by whoever logged it through a crew link; "" for a member's.
    logged_as = models.CharField(max_length=60, blank=True, default="")
    axis_height_m = models.FloatField(null=True, default=None)
    distance_m = models.FloatField(null=True, default=None)
    tilt_deg = models.FloatField(null=True, default=None)
    focal_mm = models.FloatField(null=True, default=None)
    focus_tape_m = models.FloatField(null=True, default=None)
    f_number = models.FloatField(null=True, default=None)
    exposure_s = models.FloatField(null=True, default=None)
    iso = models.FloatField(null=True, default=None)
    capture_fps = models.FloatField(null=True, default=None)
    note = models.TextField(max_length=2000, blank=True, default="")
    circled = models.BooleanField(default=False)
    #: Made by a board that was held up, and numbered by the time of its clip until somebody numbers
    #: it.
    by_board = models.BooleanField(default=False)
    #: The names of the readings that a file of its camera filled in, and nobody has changed since.
    from_file = models.JSONField(default=list)

    class Meta:
        ordering = ["-number"]
        constraints = [
            within("take", TakeFields),
            models.UniqueConstraint(fields=["card", "number"], name="one_take_per_number"),
        ]

    def __str__(self) -> str:
        return f"{self.card.slate} take {self.number}"

    def production_of(self) -> Production:
        """The production of the card's plate."""
        return self.card.plate.shot.production


class Tick(models.Model):
    """A line of a card's list that somebody has seen to. One that is cleared is gone."""

    card = models.ForeignKey(SetCard, on_delete=models.CASCADE, related_name="ticks")
    #: The line as it stands on the card, which never changes.
    item = models.CharField(max_length=500)
    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    #: The name that was typed by whoever ticked it through a crew link; "" for a member's.
    ticked_as = models.CharField(max_length=60, blank=True, default="")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["card", "item"], name="one_tick_per_line"),
        ]

    def __str__(self) -> str:
        return f"{self.card.slate}: {self.item}"


class CrewLink(models.Model):
    """Opens one card, or the newest cards of the plates of one filming date, to whoever has it:
    without an account, for a while. The link is made from the id by the server's own secret (see
    `keys`), so that what is stored here opens nothing."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="crew_links")
    card = models.ForeignKey(
        SetCard, null=True, default=None, on_delete=models.CASCADE, related_name="crew_links"
    )
    film_on = models.DateField(null=True, default=None)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True, default=None)
    #: How often a device was let in by it, and when last.
    opened = models.PositiveIntegerField(default=0)
    opened_at = models.DateTimeField(null=True, default=None)

    class Meta:
        ordering = ["-made_at", "id"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(card=None) ^ models.Q(film_on=None),
                name="a_card_or_a_day",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.production}: {self.card or self.film_on}"

    @property
    def why_not(self) -> str:
        """Why it opens nothing any more, as a sentence; "" while it does."""
        if self.withdrawn_at is not None:
            return "This link was withdrawn; ask whoever gave it to you for another."
        if self.expires_at <= timezone.now():
            return "This link has expired; ask whoever gave it to you for another."
        return ""
