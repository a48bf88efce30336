"""Productions, and who belongs to them."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from ..records import Record, within
from .fields import ProductionFields


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
    #: In the bin since then: nobody enters it, an owner can fetch it back for a while.
    removed_at = models.DateTimeField(null=True, default=None, editable=False)

    objects = ProductionQuerySet.as_manager()

    class Meta:
        ordering = ["name", "id"]
        constraints = [within("production", ProductionFields)]

    def __str__(self) -> str:
        return self.name

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
