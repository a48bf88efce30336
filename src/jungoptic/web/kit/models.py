"""What is owned or borrowed: bodies with their recording modes, lenses, lamps, rooms, grip."""

from __future__ import annotations

from django.db import models

from jungoptic.core.plan.kit import USUAL_WALLS

from ..productions.models import Production, refuse_no_place
from ..records import Record, Refused, in_order, within
from .fields import (
    BodyFields,
    ClothFields,
    CordFields,
    LampFields,
    LensFields,
    ModeFields,
    PersonFields,
    RigFields,
    RoomFields,
    SupportFields,
)


class Lent(Record):
    """Something that may be borrowed, with the first and last day it is there."""

    borrowed = models.BooleanField(default=False)
    loan_first = models.DateField(null=True, default=None)
    loan_last = models.DateField(null=True, default=None)

    class Meta:
        abstract = True

    def rules(self) -> None:
        """A loan ends after it begins."""
        if self.loan_first and self.loan_last and self.loan_first > self.loan_last:
            raise Refused("loan_last", "The loan ends before it begins.")


class Body(Lent):
    """A camera body."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="bodies")
    name = models.CharField(max_length=120)
    axis_height_mm = models.FloatField()
    flange_mm = models.FloatField()
    socket_mm = models.FloatField(null=True, default=None)
    stabiliser = models.BooleanField(default=True)
    remote = models.BooleanField(default=True)
    note = models.CharField(max_length=400, blank=True, default="")

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("body", BodyFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class Mode(Record):
    """One way a body records."""

    body = models.ForeignKey(Body, on_delete=models.CASCADE, related_name="modes")
    name = models.CharField(max_length=120)
    sensor_width_mm = models.FloatField()
    sensor_height_mm = models.FloatField()
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    min_fps = models.FloatField()
    max_fps = models.FloatField()
    codec = models.CharField(max_length=60, blank=True, default="")
    bit_depth = models.PositiveSmallIntegerField(default=8)
    subsampling = models.CharField(max_length=5, default="4:2:0")
    base_iso = models.FloatField()
    min_iso = models.FloatField()
    max_iso = models.FloatField()
    readout_ms = models.FloatField(null=True, default=None)
    bitrate_mbps = models.FloatField(null=True, default=None)
    long_gop = models.BooleanField(default=False)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("mode", ModeFields)]

    def __str__(self) -> str:
        return f"{self.body}: {self.name}"

    def rules(self) -> None:
        """Rates and ISO values run upwards."""
        in_order(self, "min_fps", "max_fps", "frame rates")
        in_order(self, "min_iso", "max_iso", "ISO values")

    def production_of(self) -> Production:
        """The production its body belongs to."""
        return self.body.production


class Lens(Lent):
    """A lens, prime or zoom."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="lenses")
    name = models.CharField(max_length=120)
    focal_min_mm = models.FloatField()
    focal_max_mm = models.FloatField()
    widest_stop = models.FloatField()
    smallest_stop = models.FloatField()
    close_focus_m = models.FloatField()
    t_over_f = models.FloatField(default=1.0)
    pupil_ratio = models.FloatField(default=1.0)
    length_mm = models.FloatField(null=True, default=None)
    pupil_from_mount_mm = models.FloatField(null=True, default=None)
    #: What it was measured to be, each as `fields.LensMeasureFields`.
    measured = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["focal_min_mm", "created_at", "id"]
        verbose_name_plural = "lenses"
        constraints = [within("lens", LensFields)]

    def __str__(self) -> str:
        return self.name

    def rules(self) -> None:
        """Focal lengths and stops run upwards."""
        super().rules()
        in_order(self, "focal_min_mm", "focal_max_mm", "focal lengths")
        in_order(self, "widest_stop", "smallest_stop", "stops")

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class Lamp(Lent):
    """A lamp that can be set up; `count` of them alike."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="lamps")
    name = models.CharField(max_length=120)
    lux_at_1m = models.FloatField()
    size_m = models.FloatField(default=0.2)
    watts = models.FloatField(default=0.0)
    temperature_k = models.FloatField(default=5600.0)
    flicker_free = models.BooleanField(default=True)
    count = models.PositiveSmallIntegerField(default=1)
    kind = models.CharField(max_length=10, default="panel")
    width_m = models.FloatField(null=True, default=None)
    beam_deg = models.FloatField(null=True, default=None)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("lamp", LampFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class Room(Lent):
    """A place to film in; without a height it is open air, without mains there is none."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="rooms")
    name = models.CharField(max_length=120)
    length_m = models.FloatField()
    width_m = models.FloatField()
    height_m = models.FloatField(null=True, default=None)
    mains_hz = models.FloatField(null=True, default=None)
    volts = models.FloatField(default=230.0)
    circuit_a = models.FloatField(default=16.0)
    circuits = models.PositiveSmallIntegerField(default=1)
    latitude_deg = models.FloatField(null=True, default=None)
    longitude_deg = models.FloatField(null=True, default=None)
    time_zone = models.CharField(max_length=60, default="UTC")
    #: What rises above the skyline: [azimuth, elevation] each, degrees.
    horizon = models.JSONField(default=list, blank=True)
    #: The part of light that floor, walls and ceiling give back.
    reflectance = models.FloatField(default=USUAL_WALLS)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("room", RoomFields)]

    def __str__(self) -> str:
        return self.name

    def rules(self) -> None:
        """Where it lies is a place on the globe, or not said."""
        super().rules()
        refuse_no_place(self)

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class MoveRig(Lent):
    """Something that moves the camera or what stands before it by counted steps."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="rigs")
    name = models.CharField(max_length=120)
    axis = models.CharField(max_length=10)
    per_turn = models.FloatField(default=1.0)
    steps_per_turn = models.PositiveIntegerField(default=1)
    travel = models.FloatField(null=True, default=None)
    backlash = models.FloatField(default=0.0)
    per_s = models.FloatField(null=True, default=None)
    radius_mm = models.FloatField(null=True, default=None)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("moverig", RigFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class Support(Lent):
    """What a camera stands or rides on."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="supports")
    name = models.CharField(max_length=120)
    lowest_mm = models.FloatField()
    highest_mm = models.FloatField()
    #: Null: it has no head.
    turns_about = models.CharField(max_length=8, null=True, default="socket")  # noqa: DJ001
    slide_mm = models.FloatField(default=0.0)
    travel_mm = models.FloatField(null=True, default=0.0)
    lifts = models.BooleanField(default=False)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("support", SupportFields)]

    def __str__(self) -> str:
        return self.name

    def rules(self) -> None:
        """Its lowest is no higher than its highest."""
        super().rules()
        in_order(self, "lowest_mm", "highest_mm", "heights")

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class Cloth(Lent):
    """A cloth, paper or board to hang behind the action."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="cloths")
    name = models.CharField(max_length=120)
    width_m = models.FloatField()
    length_m = models.FloatField()
    colour = models.CharField(max_length=6, default="green")
    stiff = models.BooleanField(default=False)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("cloth", ClothFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class Cord(Lent):
    """A thread or a line on its spool."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="cords")
    name = models.CharField(max_length=120)
    diameter_mm = models.FloatField()
    rated_kg = models.FloatField(null=True, default=None)
    clear = models.BooleanField(default=False)

    class Meta:
        ordering = ["diameter_mm", "created_at", "id"]
        constraints = [within("cord", CordFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


def _performs() -> list[str]:
    return ["performer"]


class Person(Lent):
    """Somebody who is filmed or works on set; the days of a loan are those on which they are
    there."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="persons")
    name = models.CharField(max_length=120)
    height_m = models.FloatField(default=1.7)
    roles = models.JSONField(default=_performs, blank=True)
    reach_m = models.FloatField(null=True, default=None)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("person", PersonFields)]

    def __str__(self) -> str:
        return self.name

    def rules(self) -> None:
        """The days on which somebody is there end after they begin."""
        if self.loan_first and self.loan_last and self.loan_first > self.loan_last:
            raise Refused("loan_last", f"{self.name} leaves before they come.")

    def production_of(self) -> Production:
        """The production they work on."""
        return self.production
