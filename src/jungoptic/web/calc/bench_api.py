"""The Bench on paper."""

from __future__ import annotations

import uuid
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from jungoptic.core.plan import seen_from_own
from jungoptic.core.words import quantities as say

from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load
from ..plans.stored import plan_json
from ..plans.views import called
from ..printing.child import pdf
from ..records import Refused
from ..schemas import Within
from .api import NotationFields
from .bench_pdf import bench_html

router = Router(tags=["plans"])


@router.get("/{uuid:production_id}/shots/{uuid:pk}/bench.pdf", response=bytes)
def print_bench(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate: uuid.UUID,
    notation: Query[NotationFields],
    at: Annotated[float, Within(0, 1)] = 0.0,
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
        title = called(shot, chosen.view_id)
        page = bench_html(seen_from_own(plan, chosen), chosen, title, at)
    response = HttpResponse(pdf(page), content_type="application/pdf")
    response["Content-Disposition"] = 'inline; filename="bench.pdf"'
    return response
