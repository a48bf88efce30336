"""Developing a plate of a stored plan, and keeping what came of it."""

from __future__ import annotations

import io
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import transaction
from PIL import Image

from jungoptic.core import plan as core
from jungoptic.core.plan import in_view
from jungoptic.render.picture import Picture, develop

from ..kept import answers
from ..plans.bridge import load, plan_json
from ..plans.models import Plate, Shot
from ..records import Refused
from .models import FOLDER, MOST, Developed

Tell = Callable[[int, int], None]
#: How good a kept picture is: a 960 pixel picture takes some 40 kB.
QUALITY = 88


def stamp(plan: dict[str, Any]) -> str:
    """What tells a plan, its kit and the program from any other."""
    return answers.keys([plan], "developed")[0]


def plate_of(shot: Shot, plate_id: uuid.UUID | None) -> Plate | None:
    """The plate of that id; None for the story. Refused where the shot has no such plate."""
    if plate_id is None:
        return None
    plate = shot.plates.filter(pk=plate_id).first()
    if plate is None:
        raise Refused("plate_id", "This shot has no such plate any more.")
    return plate


@dataclass(frozen=True)
class Subject:
    """What a picture shows: a plate, or without one the story of a view (None: the first camera's),
    at a frame from 1."""

    plate: Plate | None
    view_id: uuid.UUID | None
    frame: int


def picture_of(whole: core.Shot, subject: Subject, width: int, tell: Tell) -> Picture:
    """The picture of a plan's frame; the last where the shot is shorter."""
    plate, view = None, None if subject.view_id is None else str(subject.view_id)
    if subject.plate is not None:
        plate = next(p for p in whole.plates if p.id == str(subject.plate.pk))
        view = plate.view_id
    own = in_view(whole, view)
    part = min((subject.frame - 1) / max(own.frames - 1, 1), 1.0)
    return develop(own, plate, part, width, tell=tell)


def keep(shot: Shot, subject: Subject, width: int, tell: Tell) -> Developed:
    """Develop a picture of the plan as it is stored, and keep it in the place of an older one."""
    plan = plan_json(shot)
    found = picture_of(load(plan), subject, width, tell)
    data = io.BytesIO()
    Image.fromarray(found.pixels).save(data, "WEBP", quality=QUALITY, method=4)
    of = {"plate": subject.plate, "view_id": subject.view_id, "frame": subject.frame}
    made = Developed(
        shot=shot,
        **of,
        width_px=found.pixels.shape[1],
        height_px=found.pixels.shape[0],
        stamp=stamp(plan),
        remarks=list(found.remarks),
    )
    made.picture = default_storage.save(f"{FOLDER}/{made.pk}.webp", ContentFile(data.getvalue()))
    with transaction.atomic():
        made.save()
        old = Developed.objects.filter(shot=shot, **of).exclude(pk=made.pk)
        _drop([*old, *Developed.objects.filter(shot=shot)[MOST:]])
    return made


def _drop(gone: list[Developed]) -> None:
    """Forget pictures; their files go once that is certain."""
    names = [one.picture for one in gone]
    Developed.objects.filter(pk__in=[one.pk for one in gone]).delete()
    for name in names:
        transaction.on_commit(partial(default_storage.delete, name))
