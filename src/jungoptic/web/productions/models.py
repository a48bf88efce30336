"""Productions, and who belongs to them."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any
from zoneinfo import available_timezones

from django.conf import settings
from django.db import models
from django.utils import timezone

from jungoptic.core.plan.formats import usual_width_mm
from jungoptic.core.plan.world import Delivery

from ..records import Record, Refused, within
from .fields import ProductionFields


def refuse_no_place(record: Any) -> None:
    """A place on the globe needs both its numbers, and a clock that is known."""
    if (record.latitude_deg is None) != (record.longitude_deg is None):
        missing = "latitude_deg" if record.latitude_deg is None else "longitude_deg"
        raise Refused(missing, "Latitude and longitude come together: give both or none.")
    if record.time_zone and record.time_zone not in available_timezones():
        raise Refused(
            "time_zone",
            f"There is no time zone called {record.time_zone!r}; Europe/London is one.",
        )


class Role(models.TextChoices):
    """What a member may do; see `permissions`."""

    OWNER = "owner", "Owner"
    CREW = "crew", "Crew"
    VIEWER = "viewer", "Viewer"


class ProductionQuerySet(models.QuerySet["Production"]):
    """Chainable questions about productions."""

    def of(self, user: Any) -> ProductionQuerySet:
        """Those that `user` belongs to, but for what lies in the bin."""
        return self.filter(memberships__user=user, removed_at=None)


class Production(Record):
    """One film. Its delivery is what new shots begin with."""

    name = models.CharField(max_length=120)
    story = models.TextField(max_length=2000, blank=True, default="")
    delivery_width_px = models.PositiveIntegerField(default=1920)
    delivery_height_px = models.PositiveIntegerField(default=1080)
    playback_fps = models.FloatField(default=24.0)
    #: Out of the way in the list; nothing in it changes.
    put_away = models.BooleanField(default=False)
    #: Where it is filmed: new rooms and yards stand there.
    latitude_deg = models.FloatField(null=True, default=None)
    longitude_deg = models.FloatField(null=True, default=None)
    time_zone = models.CharField(max_length=60, blank=True, default="")
    #: How numbers are written for whoever has not chosen otherwise.
    lengths_in = models.CharField(max_length=8, default="metric")
    light_in = models.CharField(max_length=12, default="lux")
    stops_in = models.CharField(max_length=8, default="decimal")
    shutter_in = models.CharField(max_length=8, default="angle")
    #: In the bin since then: nobody enters it, an owner can fetch it back for a while.
    removed_at = models.DateTimeField(null=True, default=None, editable=False)

    objects = ProductionQuerySet.as_manager()

    class Meta:
        ordering = ["name", "id"]
        constraints = [within("production", ProductionFields)]

    def __str__(self) -> str:
        return self.name

    def begins_with(self, given: Mapping[str, Any]) -> dict[str, Any]:
        """A new shot's values where only these are given: delivered as the production is, and with
        the sensor that the story's camera has for the shape of that picture."""
        own = ("delivery_width_px", "delivery_height_px", "playback_fps")
        values = {**{name: getattr(self, name) for name in own}, **given}
        delivery = Delivery(*(values[name] for name in own))
        return {"sensor_width_mm": usual_width_mm(delivery), **values}

    def rules(self) -> None:
        """Where it is filmed is a place, or not said."""
        super().rules()
        refuse_no_place(self)

    def production_of(self) -> Production:
        """Itself: every record can say which production it belongs to."""
        return self


class Membership(models.Model):
    """A person's place in a production."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="memberships")
    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships"
    )
    role = models.CharField(max_length=10, choices=Role.choices)
    #: Null for those who came before this was written down.
    joined_at = models.DateTimeField(null=True, auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["production", "user"], name="one_role_per_member")
        ]

    def __str__(self) -> str:
        return f"{self.user} in {self.production} ({self.role})"


class Invitation(models.Model):
    """A place in a production that is kept for whoever opens its link first. The link is made from
    the id by the server's own secret (see `keys`), so that what is stored here lets nobody in."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=Role.choices)
    #: For whom it is meant, in the inviter's words.
    note = models.CharField(max_length=120, blank=True, default="")
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True, default=None)
    used_at = models.DateTimeField(null=True, default=None)
    used_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )

    class Meta:
        ordering = ["-made_at", "id"]

    def __str__(self) -> str:
        return f"{self.role} in {self.production}"

    @property
    def why_not(self) -> str:
        """Why nobody can come in by it any more, as a sentence; "" while somebody can."""
        if self.used_at is not None:
            return "This invitation has been used already; each lets in one person."
        if self.withdrawn_at is not None:
            return "This invitation was withdrawn."
        if self.expires_at <= timezone.now():
            return "This invitation has expired."
        return ""
