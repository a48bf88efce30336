"""What was filmed: pictures and the files that they are made of."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from ..kit.models import Lens
from ..plans.models import Plate, Shot
from ..productions.models import Production
from ..records import Record, within
from ..takes.models import Take
from .fields import PICKED, PictureFields

#: Where files lie, by production, named by what is in them; and what is shown of them.
FOLDER, LOOKS = "pictures", "looks"
#: Small pictures of every frame lie in sheets of so many across and down.
ACROSS, DOWN = 10, 10
A_SHEET = ACROSS * DOWN


class Arrival(models.TextChoices):
    """How far a picture is: still being sent, here and not looked at, read, or not to be read."""

    COMING = "coming", "Being sent"
    HERE = "here", "Not looked at yet"
    READ = "read", "Read"
    REFUSED = "refused", "Cannot be read"


def _one_place() -> models.CheckConstraint:
    """A picture hangs in one place at most."""
    places = ("take", "plate", "shot", "lens")
    held = models.Q(**{f"{name}__isnull": True for name in places})
    for name in places:
        held |= models.Q(**{f"{other}__isnull": other != name for other in places})
    return models.CheckConstraint(condition=held, name="picture_in_one_place")


class Picture(Record):
    """A still, a clip or a numbered sequence. What it hung on may go; the picture stays."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="pictures")
    take = models.ForeignKey(
        Take, on_delete=models.SET_NULL, null=True, default=None, related_name="pictures"
    )
    plate = models.ForeignKey(
        Plate, on_delete=models.SET_NULL, null=True, default=None, related_name="pictures"
    )
    shot = models.ForeignKey(
        Shot, on_delete=models.SET_NULL, null=True, default=None, related_name="pictures"
    )
    lens = models.ForeignKey(
        Lens, on_delete=models.SET_NULL, null=True, default=None, related_name="pictures"
    )
    sent_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    #: The name that was typed by whoever sent it through a crew link; "" for a member's.
    sent_as = models.CharField(max_length=60, blank=True, default="")
    name = models.CharField(max_length=120)
    role = models.CharField(max_length=9, default="recorded")
    note = models.TextField(max_length=2000, blank=True, default="")
    put_away = models.BooleanField(default=False)
    put_away_at = models.DateTimeField(null=True, default=None)
    #: It lies on a disk of the crew's own; only its path and checksum are kept.
    elsewhere = models.BooleanField(default=False)
    state = models.CharField(max_length=8, choices=Arrival.choices, default=Arrival.COMING)
    problem = models.CharField(max_length=500, blank=True, default="")
    #: What the file says of itself; null until it was read.
    facts = models.JSONField(null=True, default=None)
    #: What was measured frame by frame; null until it was.
    ran = models.JSONField(null=True, default=None)
    #: The board that was held up in it; null where none was seen. `board_way`: whether it lay or
    #: stood, and `board_up_m`: how far above the floor, where somebody has said so.
    board = models.JSONField(null=True, default=None)
    board_way = models.CharField(max_length=8, blank=True, default="")
    board_up_m = models.FloatField(null=True, default=None)
    #: The frame (from 1) of it in which the shot begins; null until somebody has said so.
    begins = models.PositiveIntegerField(null=True, default=None)
    #: What was picked in which frame of it, and what that says of the camera or the light; null
    #: until it was worked out.
    picked_in = models.PositiveIntegerField(default=1)
    marks = models.JSONField(default=list, blank=True)
    edges = models.JSONField(default=list, blank=True)
    uprights = models.JSONField(default=list, blank=True)
    balls = models.JSONField(default=list, blank=True)
    picked = models.JSONField(null=True, default=None)
    #: The frames (from 1) that can be looked at, and their size.
    looks = models.JSONField(default=list)
    look_width_px = models.PositiveIntegerField(default=0)
    look_height_px = models.PositiveIntegerField(default=0)
    #: Small pictures of every frame, as `strips.StripOut`; null until they were asked for.
    strip = models.JSONField(null=True, default=None)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [_one_place(), within("picture", PictureFields)]
        indexes = [models.Index(fields=["production", "state"], name="pictures_by_state")]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """Its production."""
        return self.production

    def look(self, frame: int) -> str:
        """Where a frame that can be looked at lies."""
        return f"{LOOKS}/{self.production_id}/{self.pk}-{frame}.jpg"

    @property
    def holds_picks(self) -> bool:
        """Whether a person has picked anything in it."""
        return any(getattr(self, name) for name in PICKED)

    @property
    def tells_camera(self) -> bool:
        """Whether something in it says where its camera stood, or did until now."""
        return self.board is not None or self.picked is not None or self.holds_picks

    def strip_sheet(self, number: int) -> str:
        """Where a sheet of small pictures lies, from 1."""
        return f"{LOOKS}/{self.production_id}/{self.pk}-strip-{number}.jpg"

    @property
    def strip_sheets(self) -> int:
        """How many sheets its small pictures fill."""
        return 0 if self.strip is None else -(-int(self.strip["frames"]) // A_SHEET)

    @property
    def rows(self) -> str:
        """Where what was measured of every frame lies, to be drawn."""
        return f"{LOOKS}/{self.production_id}/{self.pk}-rows.json"


class PictureFile(models.Model):
    """A file of a picture. `received`: bytes that are safely on our disk; `stored`: where it is
    kept once all are."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    picture = models.ForeignKey(Picture, on_delete=models.CASCADE, related_name="files")
    position = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=255)
    size = models.BigIntegerField()
    received = models.BigIntegerField(default=0)
    sha256 = models.CharField(max_length=64, blank=True, default="", db_index=True)
    stored = models.CharField(max_length=200, blank=True, default="")
    path = models.CharField(max_length=1000, blank=True, default="")

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["picture", "position"], name="one_file_per_place")
        ]

    def __str__(self) -> str:
        return self.name
