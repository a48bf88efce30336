"""What can be laid in of a shot, and the rough composites that were made of it."""

from __future__ import annotations

import datetime
import uuid
from typing import Any, Literal

from django.http import Http404, HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router

from jungoptic.core.filmed.rough import How, laid_in
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import all_views, in_view
from jungoptic.core.plan.findings import Finding

from .. import documents
from ..developed.api import SHOWN, ViewName
from ..developed.keeping import stamp
from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load
from ..plans.stored import plan_json
from ..schemas import Out
from ..storage import served, served_clip
from .choosing import filmed_of
from .models import Rough

router = Router(tags=["rough"])
WhichRough = Literal["composite", "planned"]


class FilmedPicture(Out):
    """A picture that can be laid in: what it is called, how many frames it has, the one (from 1) in
    which the shot begins, and whether somebody has said so. `revision`: of the picture, to change
    that."""

    id: uuid.UUID
    name: str
    frames: int
    begins: int
    told: bool
    revision: int


class RoughPlate(Out):
    """A plate that makes the picture, farthest first: how it is cut, what it is keyed from, and
    what of it can be laid in, what counts first."""

    id: uuid.UUID
    name: str
    kind: str
    view_id: uuid.UUID | None
    how: How
    colour: str
    pictures: list[FilmedPicture]


class RoughLayer(Out):
    """What of a plate went in (null: nothing): the frame of it that is `shown`, and whether it was
    what counted; `low` and `high` of its key."""

    plate_id: uuid.UUID
    picture_id: uuid.UUID | None
    name: str
    shown: int
    counted: bool
    left_out: bool
    low: float
    high: float


class RoughOut(Out):
    """A rough composite: a frame (from 1), or all as a clip (null). `current`: of the plan as it is
    now, and of what counts now; `answer`: whether the shot works; `hole`: the part of the picture
    that no plate shows."""

    id: uuid.UUID
    view_id: uuid.UUID | None
    frame: int | None
    width_px: int
    height_px: int
    made_at: datetime.datetime
    current: bool
    layers: list[RoughLayer]
    hole: float
    answer: str
    findings: list[Finding]


class RoughPage(Out):
    """The rough composites of a shot, newest first, its cameras, and what can be laid in.
    `problem`: why nothing can."""

    number: str
    title: str
    delivery_width_px: int
    delivery_height_px: int
    fps: float
    views: list[ViewName]
    plates: list[RoughPlate]
    roughs: list[RoughOut]
    problem: str


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/rough", response=RoughPage)
def rough_page(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """What was filmed of a shot and can be put together, and what has been."""
    shot = shots_of(enter(request, production_id, Verb.VIEW)).get(pk=shot_id)
    plan = plan_json(shot)
    whole, now, problem = load(plan), stamp(plan), ""
    plates: list[dict[str, Any]] = []
    try:
        for view in all_views(whole):
            filmed = filmed_of(shot.pk, view)
            plates += [_plate(piece, filmed) for piece in laid_in(view, 0.0, filmed.keys())]
    except Impossible as error:
        problem = str(error)
    cameras = [(None, "The first camera"), *((v.id, v.name) for v in whole.views)]
    return {
        **{n: getattr(shot, n) for n in SHOWN},
        "fps": whole.delivery.fps,
        "views": [
            {"id": one, "name": name, "frames": in_view(whole, one).frames} for one, name in cameras
        ],
        "plates": plates,
        "roughs": [_out(one, now, plates) for one in shot.roughs.all()],
        "problem": problem,
    }


def _plate(piece: Any, filmed: dict[str, Any]) -> dict[str, Any]:
    plate = piece.plate
    return {
        **{n: getattr(plate, n) for n in ("id", "name", "kind", "view_id")},
        "how": piece.how,
        "colour": piece.colour,
        "pictures": [
            {
                **{n: getattr(one, n) for n in ("name", "frames", "begins")},
                "id": one.picture.pk,
                "told": one.picture.begins is not None,
                "revision": one.picture.revision,
            }
            for one in filmed.get(plate.id, [])
        ],
    }


TOLD = ("layers", "hole", "answer", "findings")


def _out(one: Rough, now: str, plates: list[dict[str, Any]]) -> dict[str, Any]:
    told = documents.ROUGH.read(one.told)
    rest = [n for n in RoughOut.model_fields if n not in (*TOLD, "current")]
    return {
        **{n: getattr(one, n) for n in rest},
        **{n: told[n] for n in TOLD},
        "current": one.stamp == now and _as_now(told["layers"], plates),
    }


def _as_now(layers: list[dict[str, Any]], plates: list[dict[str, Any]]) -> bool:
    """Whether what went in because it counted still does, and begins where it did."""
    pictures = {str(p["id"]): p["pictures"] for p in plates}
    for layer in layers:
        there = pictures.get(layer["plate_id"], [])
        if layer["left_out"]:
            continue
        if layer["counted"]:
            own = there[0] if there else None
        else:
            own = next((x for x in there if str(x["id"]) == layer["picture_id"]), None)
        now = (None, None) if own is None else (str(own["id"]), own["begins"])
        if now != (layer["picture_id"], layer["begins"]):
            return False
    return True


@router.get("/{uuid:production_id}/rough/{uuid:pk}/file", response=bytes)
def rough_file(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, which: WhichRough
) -> HttpResponseBase:
    """The picture or the clip, or the plan's own picture of that frame."""
    production = enter(request, production_id, Verb.VIEW)
    one = Rough.objects.get(pk=pk, shot__production=production, shot__removed_at=None)
    name = getattr(one, which)
    if not name:
        raise Http404("A clip has no planned picture.")
    gone = "It is gone; put it together again."
    if one.frame is None:
        return served_clip(request, name, gone)
    return served(name, "image/webp", gone)
