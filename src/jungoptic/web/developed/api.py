"""Which pictures of a shot are developed, whether the plan has moved on since, and the files."""

from __future__ import annotations

import datetime
import uuid
from dataclasses import asdict
from typing import Any, Literal

from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router

from jungoptic.core.plan import in_view
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.report.places import finding_places
from jungoptic.core.stage.in_frame import part_at
from jungoptic.render.engine import MISSING, available

from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load
from ..plans.stored import plan_json
from ..schemas import Out
from ..storage import served, served_clip
from .keeping import stamp
from .models import Developed, DryRun

router = Router(tags=["developed"])
#: The two pictures of a dry run.
Which = Literal["composite", "story"]
SHOWN = ("number", "title", "delivery_width_px", "delivery_height_px")


class ViewName(Out):
    """A camera of a shot (null: the first), and how many frames it shows."""

    id: uuid.UUID | None
    name: str
    frames: int


class DevelopedOut(Out):
    """A developed picture. `current`: of the plan, the kit and the program as they are now;
    `change`: what of the plate was not as planned, as a remedy has it (empty: nothing); `at`: the
    place that is looked at closely (empty: all of it is shown)."""

    id: uuid.UUID
    plate_id: uuid.UUID | None
    view_id: uuid.UUID | None
    frame: int
    width_px: int
    height_px: int
    made_at: datetime.datetime
    current: bool
    change: dict[str, Any]
    at: list[float]
    remarks: list[str]


class DevelopedPage(Out):
    """The developed pictures of a shot, newest first. `missing`: what to install where none can be
    made; empty where they can."""

    missing: str
    pictures: list[DevelopedOut]


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/developed", response=DevelopedPage)
def list_developed(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """The pictures that the simulated camera has made of a shot."""
    shot = shots_of(enter(request, production_id, Verb.VIEW)).get(pk=shot_id)
    now = stamp(plan_json(shot))
    return {
        "missing": "" if available() else MISSING,
        "pictures": [
            {
                **{n: getattr(one, n) for n in DevelopedOut.model_fields if n != "current"},
                "current": one.stamp == now,
            }
            for one in shot.developed.all()
        ],
    }


class ThingOut(Out):
    """A thing in the dry run: how much brighter the composite has it than the story, stops (null
    where that says nothing: too dark, or not lit yet), and where it is: left, top, right, bottom,
    parts of the picture."""

    thing_id: str
    name: str
    stops: float | None
    box: list[float]


class DryRunOut(Out):
    """A dry run of a frame, or (frame null) all of it as a clip of so many pictures a second.
    `hole`: the part of the picture that no plate shows."""

    id: uuid.UUID
    view_id: uuid.UUID | None
    frame: int | None
    fps: float | None
    width_px: int
    height_px: int
    made_at: datetime.datetime
    current: bool
    hole: float
    things: list[ThingOut]
    remarks: list[str]


class DryRunPage(Out):
    """The dry runs of a shot, newest first, and its cameras."""

    missing: str
    number: str
    title: str
    delivery_width_px: int
    delivery_height_px: int
    views: list[ViewName]
    runs: list[DryRunOut]


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/dry-runs", response=DryRunPage)
def list_dry_runs(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """What the simulated camera has made of all plates of a shot together."""
    shot = shots_of(enter(request, production_id, Verb.VIEW)).get(pk=shot_id)
    plan = plan_json(shot)
    now, whole = stamp(plan), load(plan)
    cameras = [(None, "The first camera"), *((v.id, v.name) for v in whole.views)]
    return {
        "missing": "" if available() else MISSING,
        **{n: getattr(shot, n) for n in SHOWN},
        "views": [
            {"id": one, "name": name, "frames": in_view(whole, one).frames} for one, name in cameras
        ],
        "runs": [
            {
                **{n: getattr(one, n) for n in DryRunOut.model_fields if n != "current"},
                "current": one.stamp == now,
            }
            for one in shot.dry_runs.all()
        ],
    }


class PlaceOut(Out):
    """A finding that does not hold, and where it shows: left, top, right, bottom of every place,
    parts of the picture."""

    plate_id: uuid.UUID
    plate: str
    key: str
    title: str
    verdict: Verdict
    sentence: str
    boxes: list[list[float]]


@router.get("/{uuid:production_id}/dry-runs/{uuid:pk}/findings", response=list[PlaceOut])
def dry_run_findings(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """What does not hold of the plates of a dry run as the plan is now, and where its pictures show
    that."""
    production = enter(request, production_id, Verb.VIEW)
    run = DryRun.objects.select_related("shot__production").get(pk=pk, shot__production=production)
    whole = load(plan_json(run.shot))
    own = in_view(whole, None if run.view_id is None else str(run.view_id))
    return [asdict(one) for one in finding_places(own, part_at(own, run.frame or 1))]


@router.get("/{uuid:production_id}/dry-runs/{uuid:pk}/picture", response=bytes)
def dry_run_picture(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, which: Which
) -> HttpResponseBase:
    """One of the two pictures of a dry run, or of its two clips."""
    production = enter(request, production_id, Verb.VIEW)
    run = DryRun.objects.get(pk=pk, shot__production=production)
    if run.frame is None:
        return served_clip(request, getattr(run, which), "This clip is gone; film it again.")
    return _file(getattr(run, which))


@router.get("/{uuid:production_id}/developed/{uuid:pk}/picture", response=bytes)
def developed_picture(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID
) -> FileResponse:
    """A developed picture."""
    production = enter(request, production_id, Verb.VIEW)
    return _file(Developed.objects.get(pk=pk, shot__production=production).picture)


def _file(name: str) -> FileResponse:
    return served(name, "image/webp", "This picture is gone; develop it again.")
