"""What is owned or borrowed: bodies with their recording modes, and lenses."""

from __future__ import annotations

from django.db import models

from ..productions.models import Production
from ..records import Record, in_order


class Body(Record):
    """A camera body."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="bodies")
    name = models.CharField(max_length=120)
    axis_height_mm = models.FloatField()
    flange_mm = models.FloatField()
    note = models.CharField(max_length=400, blank=True, default="")

    class Meta:
        ordering = ["created_at", "id"]

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

    class Meta:
        ordering = ["created_at", "id"]

    def __str__(self) -> str:
        return f"{self.body}: {self.name}"

    def rules(self) -> None:
        """Rates and ISO values run upwards."""
        in_order(self, "min_fps", "max_fps", "frame rates")
        in_order(self, "min_iso", "max_iso", "ISO values")

    def production_of(self) -> Production:
        """The production its body belongs to."""
        return self.body.production


class Lens(Record):
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

    class Meta:
        ordering = ["focal_min_mm", "created_at", "id"]
        verbose_name_plural = "lenses"

    def __str__(self) -> str:
        return self.name

    def rules(self) -> None:
        """Focal lengths and stops run upwards."""
        in_order(self, "focal_min_mm", "focal_max_mm", "focal lengths")
        in_order(self, "widest_stop", "smallest_stop", "stops")

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production
