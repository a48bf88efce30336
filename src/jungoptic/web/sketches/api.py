"""Pictures of a shot, the marks on them, and what the marks say."""

from __future__ import annotations

import uuid
from functools import partial
from typing import Any, Literal

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import File, Form, Router
from ninja.files import UploadedFile

from jungoptic.core.breakdown.annotations import StillReport
from jungoptic.core.breakdown.sketch_marks import LAYERS
from jungoptic.core.plan import in_view

from .. import crud, saving
from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load
from ..plans.models import Shot
from ..plans.stored import plan_json
from ..plans.views import decided, refuse_unknown
from ..productions.models import Production
from ..reading import child
from ..reading.picture import Stored as Picture
from ..records import Refused
from ..schemas import Conflict, Fields, Name, Out, Stored, after
from . import pdf, render
from .fields import (
    AnnotationEdit,
    AnnotationFields,
    AnnotationIn,
    SketchEdit,
    SketchFields,
)
from .models import FOLDER, Annotation, Sketch
from .reports import report_of

router = Router(tags=["sketches"])
#: The most pictures of a shot, and the most marks on a picture.
MOST_PICTURES = 40
MOST_MARKS = 300
WORLD_FIELDS = (
    "focal_mm",
    "sensor_width_mm",
    "camera_height_m",
    "tilt_deg",
    "pan_deg",
    "roll_deg",
    "delivery_width_px",
    "delivery_height_px",
)


class AnnotationOut(Stored, AnnotationFields):
    """A stored mark."""


class SketchOut(Stored, SketchFields):
    """A stored picture with its marks. `stale`: drawn from a world camera that has changed since;
    `drawn`: whether it was drawn from the Frame."""

    shot_id: uuid.UUID
    width_px: int
    height_px: int
    drawn: bool
    stale: bool
    annotations: list[AnnotationOut]


class LayerOut(Out):
    """A layer and what it is for."""

    key: str
    name: str
    meaning: str


class NamedView(Out):
    """A further view of the shot that can be drawn."""

    id: uuid.UUID
    name: str


class SketchPage(Out):
    """The pictures of a shot."""

    number: str
    title: str
    delivery_width_px: int
    views: list[NamedView]
    layers: list[LayerOut]
    sketches: list[SketchOut]


def world_of(shot: Shot, view_id: uuid.UUID | None) -> dict[str, float]:
    """The world camera of a view as a sketch remembers it."""
    return {n: decided(shot, view_id, n) for n in WORLD_FIELDS}


def _drawn(shot: Shot, view_id: uuid.UUID | None) -> Picture:
    view = None if view_id is None else str(view_id)
    return render.sketch(in_view(load(plan_json(shot)), view))


def sketch_out(sketch: Sketch) -> dict[str, Any]:
    """A picture, ready for JSON."""
    return {
        **crud.fields_out(sketch, SketchFields),
        "shot_id": sketch.shot_id,
        "width_px": sketch.width_px,
        "height_px": sketch.height_px,
        "drawn": sketch.drawn_from is not None,
        "stale": sketch.drawn_from is not None
        and sketch.drawn_from != world_of(sketch.shot, sketch.view_id),
        "annotations": [annotation_out(a) for a in sketch.annotations.all()],
    }


def annotation_out(annotation: Annotation) -> dict[str, Any]:
    """A mark, ready for JSON."""
    return crud.fields_out(annotation, AnnotationFields)


def sketches_of(production: Production) -> Any:
    """The pictures of a production."""
    return Sketch.objects.filter(shot__production=production, shot__removed_at=None).select_related(
        "shot"
    )


def _annotations_of(production: Production) -> Any:
    return Annotation.objects.filter(sketch__shot__production=production).select_related("sketch")


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/sketches", response=SketchPage)
def list_sketches(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """The pictures of a shot with their marks."""
    production = enter(request, production_id, Verb.VIEW)
    shot = shots_of(production).get(pk=shot_id)
    rows = sketches_of(production).filter(shot=shot).prefetch_related("annotations")
    return {
        "number": shot.number,
        "title": shot.title,
        "delivery_width_px": shot.delivery_width_px,
        "views": [{"id": v["id"], "name": v["name"]} for v in shot.views],
        "layers": [{"key": k, "name": n, "meaning": m} for k, (n, m) in LAYERS.items()],
        "sketches": [sketch_out(s) for s in rows],
    }


def add_picture(user: Any, shot: Shot, picture: Picture, **fields: Any) -> Sketch:
    """Store a picture with its thumbnail; refuses more than a shot can hold."""
    with saving.writing(shot.production):
        Shot.objects.select_for_update(of=("self",)).get(pk=shot.pk)
        there = shot.sketches.count()
        if there >= MOST_PICTURES:
            raise Refused("file", f"A shot holds {MOST_PICTURES} pictures; remove one first.")
        last = max(shot.sketches.values_list("position", flat=True), default=0.0)
        values = {"position": after(last), **fields, **_saved(picture)}
        return saving.create(user, shot.production, Sketch, {"shot": shot, **values}, None)


def _read(data: bytes) -> Picture:
    """A picture from outside, unpacked where it can do no harm. Raises Refusal and Busy."""
    head, (picture, thumb) = child.read("picture", data)
    return Picture(picture, thumb, head["suffix"], head["width_px"], head["height_px"])


def _saved(picture: Picture) -> dict[str, Any]:
    """Write the two files and give back what is stored of them; ours by name, not the sender's."""
    stem = f"{FOLDER}/{uuid.uuid4().hex}"
    names = {"picture": default_storage.save(stem + picture.suffix, ContentFile(picture.data))}
    try:
        names["thumb"] = default_storage.save(stem + "-small.jpg", ContentFile(picture.thumb))
    except OSError:
        default_storage.delete(names["picture"])
        raise
    return {**names, "width_px": picture.width_px, "height_px": picture.height_px}


def _forget(*names: str) -> None:
    """Delete files once the change that drops them is stored for good."""
    for name in names:
        transaction.on_commit(partial(default_storage.delete, name))


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/sketches", response=SketchOut)
def upload_sketch(
    request: HttpRequest,
    production_id: uuid.UUID,
    shot_id: uuid.UUID,
    file: File[UploadedFile],
    title: Form[str] = "",
    kind: Form[Literal["sketch", "still"]] = "still",
) -> Any:
    """Add a picture: PNG, JPEG or WebP. It is turned upright and stripped of everything else."""
    production = enter(request, production_id, Verb.PLAN)
    shot = shots_of(production).select_related("production").get(pk=shot_id)
    name = (title.strip() or (file.name or "").rsplit(".", 1)[0].strip() or "Picture")[:120]
    made = add_picture(request.user, shot, _read(file.read()), title=name, kind=kind)
    return sketch_out(made)


class DrawIn(Fields):
    """A name for a sketch drawn from the Frame, and the view that it shows."""

    title: Name = "From the Frame"
    view_id: uuid.UUID | None = None


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/sketches/frame", response=SketchOut)
def draw_sketch(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: DrawIn
) -> Any:
    """Draw a sketch of what the world camera sees."""
    production = enter(request, production_id, Verb.PLAN)
    shot = shots_of(production).select_related("production").get(pk=shot_id)
    refuse_unknown(shot, payload.view_id)
    made = draw_for(request.user, shot, payload.title, payload.view_id)
    return sketch_out(made)


def draw_for(user: Any, shot: Shot, title: str, view_id: uuid.UUID | None = None) -> Sketch:
    """A sketch from the Frame of a view, whose camera is therefore known."""
    picture = _drawn(shot, view_id)
    return add_picture(
        user,
        shot,
        picture,
        title=title,
        kind="sketch",
        planned=True,
        drawn_from=world_of(shot, view_id),
        view_id=view_id,
    )


@router.post("/{uuid:production_id}/sketches/{uuid:pk}/redraw", response=SketchOut)
def redraw_sketch(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Draw a sketch again from the world camera as it is now; marks stay."""
    production = enter(request, production_id, Verb.PLAN)
    with saving.writing(production):
        sketch = sketches_of(production).select_for_update(of=("self",)).get(pk=pk)
        if sketch.drawn_from is None:
            raise Refused("sketch", "This picture was not drawn from the Frame.")
        old = (sketch.picture.name, sketch.thumb.name)
        changes = _saved(_drawn(sketch.shot, sketch.view_id))
        now = world_of(sketch.shot, sketch.view_id)
        for name, value in {**changes, "drawn_from": now}.items():
            setattr(sketch, name, value)
        sketch.revision += 1
        sketch.save()
        _forget(*old)
        saving.write_down(request.user, production, sketch, "redrawn", before={"picture": old[0]})
    return sketch_out(sketch)


@router.patch("/{uuid:production_id}/sketches/{uuid:pk}", response={200: SketchOut, 409: Conflict})
def edit_sketch(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: SketchEdit
) -> Any:
    """Change a picture's title, note, place in the row, or whether its camera is the planned."""
    return crud.change(request, production_id, sketches_of, pk, payload, sketch_out)


@router.delete("/{uuid:production_id}/sketches/{uuid:pk}", response={204: None})
def remove_sketch(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a picture and its marks."""
    production = enter(request, production_id, Verb.PLAN)
    with saving.writing(production):
        for sketch in sketches_of(production).filter(pk=pk):
            _forget(sketch.picture.name, sketch.thumb.name)
        return crud.drop(request, production_id, sketches_of, pk)


@router.get("/{uuid:production_id}/sketches/{uuid:pk}/picture", response=bytes)
def get_picture(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    size: Literal["whole", "thumb"] = "whole",
) -> Any:
    """The picture itself, or its thumbnail."""
    sketch = sketches_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    name = sketch.thumb.name if size == "thumb" else sketch.picture.name
    try:
        file = default_storage.open(name, "rb")
    except FileNotFoundError:
        raise Sketch.DoesNotExist from None
    response = FileResponse(
        file, content_type="image/png" if name.endswith(".png") else "image/jpeg"
    )
    # The address carries the revision, so a picture may be kept as long as it is the same.
    response["Cache-Control"] = "private, max-age=86400"
    response["X-Content-Type-Options"] = "nosniff"
    return response


@router.get("/{uuid:production_id}/sketches/{uuid:pk}/report", response=StillReport)
def report_sketch(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """What the marks on a picture say: crossings, things over matte lines, and ways out."""
    production = enter(request, production_id, Verb.VIEW)
    return report_of(sketches_of(production).prefetch_related("annotations").get(pk=pk))


@router.post("/{uuid:production_id}/sketches/{uuid:sketch_id}/annotations", response=AnnotationOut)
def make_annotation(
    request: HttpRequest, production_id: uuid.UUID, sketch_id: uuid.UUID, payload: AnnotationIn
) -> Any:
    """Draw a mark."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        sketch = sketches_of(production).get(pk=sketch_id)
        if sketch.annotations.count() >= MOST_MARKS:
            raise Refused("points", f"A picture holds {MOST_MARKS} marks; remove one first.")
        return {**values, "sketch": sketch}

    return annotation_out(crud.make(request, production_id, Annotation, payload, prepare))


@router.patch(
    "/{uuid:production_id}/annotations/{uuid:pk}", response={200: AnnotationOut, 409: Conflict}
)
def edit_annotation(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: AnnotationEdit
) -> Any:
    """Change or move a mark."""
    return crud.change(request, production_id, _annotations_of, pk, payload, annotation_out)


@router.delete("/{uuid:production_id}/annotations/{uuid:pk}", response={204: None})
def remove_annotation(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a mark."""
    return crud.drop(request, production_id, _annotations_of, pk)


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/sketches.pdf", response=bytes)
def sketches_pdf(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, marks: bool = True
) -> HttpResponse:
    """The pictures on paper: with marks and notes in the margin, or clean."""
    production = enter(request, production_id, Verb.VIEW)
    shot = shots_of(production).get(pk=shot_id)
    response = HttpResponse(pdf.boards_pdf(shot, marks), content_type="application/pdf")
    name = pdf.document_name(shot, marks)
    response["Content-Disposition"] = f'inline; filename="{name}"'
    return response
