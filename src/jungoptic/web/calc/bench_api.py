"""The Bench on paper."""

from __future__ import annotations

import uuid

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from jungoptic.core.words import quantities as say

from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load, plan_json
from ..records import Refused
from .api import NotationFields
from .bench_pdf import bench_document

router = Router(tags=["plans"])


@router.get("/{uuid:production_id}/shots/{uuid:pk}/bench.pdf", response=bytes)
def print_bench(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate: uuid.UUID,
    notation: Query[NotationFields],
    at: float = Query(0.0, ge=0, le=1),
) -> HttpResponse:
    """One plate of the shot on one page of A4."""
    shot = (
        shots_of(enter(request, production_id, Verb.VIEW)).select_related("production").get(pk=pk)
    )
    plan = load(plan_json(shot))
    chosen = next((p for p in plan.plates if p.id == str(plate)), None)
    if chosen is None:
        raise Refused("plate", "There is no such plate in this shot.")
    with say.written_in(notation.core()):
        pages = bench_document(plan, chosen, str(shot), at)
    response = HttpResponse(pages.write_pdf(), content_type="application/pdf")
    response["Content-Disposition"] = 'inline; filename="bench.pdf"'
    return response
