"""Pictures of a shot before it is filmed, and the marks on them."""

from __future__ import annotations

from django.db import models

from ..plans.models import Shot
from ..productions.models import Production
from ..records import Record, within
from .fields import AnnotationFields, SketchFields

#: Where the files of pictures lie.
FOLDER = "sketches"


class Sketch(Record):
    """A drawing, a scout still, or the Frame as it was planned. The stored picture is ours: turned
    upright, without metadata, no larger than needed."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="sketches")
    title = models.CharField(max_length=120)
    kind = models.CharField(max_length=8)
    note = models.TextField(max_length=2000, blank=True, default="")
    position = models.FloatField(default=0.0)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    picture = models.FileField(upload_to="sketches/")
    thumb = models.FileField(upload_to="sketches/")
    #: Whether the picture shows what the shot's world camera sees, so that its camera is known.
    planned = models.BooleanField(default=False)
    #: The view of the shot that it is of; null: the first.
    view_id = models.UUIDField(null=True, default=None)
    #: The world camera that it was drawn from, where it was drawn from the Frame.
    drawn_from = models.JSONField(null=True, default=None)

    class Meta:
        ordering = ["position", "created_at", "id"]
        constraints = [within("sketch", SketchFields)]

    def __str__(self) -> str:
        return self.title

    def production_of(self) -> Production:
        """The production its shot belongs to."""
        return self.shot.production


class Annotation(Record):
    """A mark on a picture, on the layer of its meaning. Points run from 0 to 1 over the picture."""

    sketch = models.ForeignKey(Sketch, on_delete=models.CASCADE, related_name="annotations")
    layer = models.CharField(max_length=10)
    name = models.CharField(max_length=120, blank=True, default="")
    note = models.CharField(max_length=400, blank=True, default="")
    points = models.JSONField()
    distance_m = models.FloatField(null=True, default=None)
    height_m = models.FloatField(null=True, default=None)

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("annotation", AnnotationFields)]

    def __str__(self) -> str:
        return self.name or self.layer

    def production_of(self) -> Production:
        """The production its sketch belongs to."""
        return self.sketch.shot.production
