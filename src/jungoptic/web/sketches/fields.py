"""The typed fields of pictures and of the marks on them."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field

from jungoptic.core.breakdown.sketch_marks import LAYERS

from ..schemas import MOST_POSITION, Fields, LongText, Name, OneOf, Within, edit_of, made_from

Point = Annotated[list[Annotated[float, Within(-1, 2)]], Field(min_length=2, max_length=2)]


class SketchFields(Fields):
    """What may be changed of a picture. `planned`: it shows what the world camera sees."""

    title: Name
    note: LongText = ""
    kind: Literal["sketch", "still"] = "sketch"
    position: Annotated[float, Within(-MOST_POSITION, MOST_POSITION)] = 0.0
    planned: bool = False
    view_id: uuid.UUID | None = None


class AnnotationFields(Fields):
    """A mark: its layer, its points over the picture (0 to 1), and what is known of it."""

    layer: Annotated[str, OneOf(tuple(LAYERS))]
    name: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=400)] = ""
    points: Annotated[list[Point], Field(min_length=1, max_length=500)]
    distance_m: Annotated[float, Within(0.01, 1_000_000)] | None = None
    height_m: Annotated[float, Within(0.001, 100_000)] | None = None


SketchEdit = edit_of(SketchFields, "SketchEdit")
AnnotationIn = made_from(AnnotationFields, "AnnotationIn")
AnnotationEdit = edit_of(AnnotationFields, "AnnotationEdit")
