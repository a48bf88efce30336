"""Where post lays a piece that is placed there, as a table."""

from __future__ import annotations

import uuid

from django.http import HttpRequest, HttpResponse
from ninja import Router

from jungoptic.core.impossible import Impossible
from jungoptic.core.stage.case import Case
from jungoptic.core.study.in_post import laid_at

from ..permissions import Verb, enter
from ..records import Refused
from ..tables import csv_response, slug
from .api import stored_plate

files = Router(tags=["plans"])

HEADS = ("frame", "middle_x_px", "middle_y_px", "size_percent", "turned_clockwise_deg")


@files.get(
    "/{uuid:production_id}/shots/{uuid:pk}/plates/{uuid:plate_id}/in-post.csv", response=bytes
)
def in_post_table(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, plate_id: uuid.UUID
) -> HttpResponse:
    """Where the middle of the recording lies in the delivered picture at every frame that shows
    what is placed in post, how large the recording is there, and how far it is turned."""
    production = enter(request, production_id, Verb.VIEW)
    _, shot, plate = stored_plate(production, pk, plate_id)
    try:
        case = Case.of(shot, plate)
    except Impossible as error:
        raise Refused("plate_id", f"{error}") from error
    rows = [] if case is None else laid_at(case)
    if not rows:
        raise Refused("plate_id", "This plate is not placed in post, or is never in the picture.")
    return csv_response(
        f"in-post-{slug(plate.name)}.csv",
        HEADS,
        (
            (
                row.frame,
                round(row.x_px, 2),
                round(row.y_px, 2),
                round(row.size * 100.0, 3),
                round(row.turned_deg, 3),
            )
            for row in rows
        ),
    )
