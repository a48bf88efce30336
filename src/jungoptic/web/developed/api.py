"""Which pictures of a shot are developed, whether the plan has moved on since, and the files."""

from __future__ import annotations

import datetime
import uuid
from typing import Any

from django.core.files.storage import default_storage
from django.http import FileResponse, Http404, HttpRequest
from ninja import Router

from jungoptic.render.engine import MISSING, available

from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import plan_json
from ..schemas import Out
from .keeping import stamp
from .models import Developed

router = Router(tags=["developed"])
#: Pictures never change under their id; a browser may keep them.
KEPT = "private, max-age=31536000, immutable"


class DevelopedOut(Out):
    """A developed picture. `current`: of the plan, the kit and the program as they are now."""

    id: uuid.UUID
    plate_id: uuid.UUID | None
    view_id: uuid.UUID | None
    frame: int
    width_px: int
    height_px: int
    made_at: datetime.datetime
    current: bool
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


@router.get("/{uuid:production_id}/developed/{uuid:pk}/picture", response=bytes)
def developed_picture(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID
) -> FileResponse:
    """A developed picture."""
    production = enter(request, production_id, Verb.VIEW)
    one = Developed.objects.get(pk=pk, shot__production=production)
    try:
        file = default_storage.open(one.picture, "rb")
    except FileNotFoundError:
        raise Http404("This picture is gone; develop it again.") from None
    answer = FileResponse(file, content_type="image/webp")
    answer["Cache-Control"] = KEPT
    return answer
