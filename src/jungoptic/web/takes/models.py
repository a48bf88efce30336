"""Set cards as issued and takes as logged: frozen copies of what the crew really saw."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from .. import documents
from ..plans.models import Plate
from ..productions.models import Production
from ..records import Record, within
from .fields import CardFields, TakeFields


class SetCard(Record):
    """An issued card. `content` is what stands on it; `plan` the decisions it came from, both as
    they were stored: read them by `shown` and `frozen_plan`. `board` is the number of its board,
    and `ruler_mm` what the line of 100 mm on that really measures, as it was printed."""

    plate = models.ForeignKey(Plate, on_delete=models.CASCADE, related_name="cards")
    slate = models.CharField(max_length=40)
    issued_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    content = models.JSONField()
    plan = models.JSONField()
    board = models.PositiveIntegerField(db_index=True)
    ruler_mm = models.FloatField(default=100.0)

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
