"""What the board in a picture is good for, where a person asks."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import HttpRequest
from ninja import Router

from .. import saving
from ..permissions import Verb, enter
from ..records import Refused, values_of
from ..takes.files import settle
from ..takes.told import takes_of
from .answers import PictureWhole, open_jobs, whole
from .api import listed, pictures_of
from .fields import PLACES
from .filing import file_it, in_order, its_card
from .work import find_camera

router = Router(tags=["pictures"])


@router.post("/{uuid:production_id}/pictures/{uuid:pk}/by-board", response=PictureWhole)
def file_by_board(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Hang a picture on a take of the card whose board was held up in it, wherever it hung."""
    production = enter(request, production_id, Verb.FILM)
    with saving.writing(production):
        picture = pictures_of(production).select_for_update(of=("self",)).get(pk=pk)
        if its_card(picture) is None:
            raise Refused("board", "No card of this production has the board of this picture.")
        before = values_of(picture, list(PLACES))
        left = picture.take_id
        for name in PLACES:
            setattr(picture, name, None)
        file_it(request.user, picture)
        if picture.take_id is None and picture.plate_id is None:
            raise Refused("role", "Only what the plate's camera recorded is filed by its board.")
        picture.revision += 1
        picture.save()
        after = values_of(picture, list(PLACES))
        saving.write_down(request.user, production, picture, "edited", before=before, after=after)
        if picture.take is not None:
            in_order(request.user, production, picture.take.card)
        for take in takes_of(production).filter(pk__in=[left, picture.take_id]):
            settle(request.user, production, take)
        find_camera(production, picture, request.user)
    jobs = open_jobs(production)
    return whole(listed(pictures_of(production)).get(pk=pk), jobs)
