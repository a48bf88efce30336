"""Set maps: what they come to, and on paper. They are kept with the sheet of their plate."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from jungoptic.core.frames.laid_out import place_error_m
from jungoptic.core.frames.set_report import SetReport, set_report
from jungoptic.core.plan import Shot
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.marks import fixed_points, place_from_tapes
from jungoptic.core.words import quantities as say

from ..calc.api import NotationFields, PlateQuestion, case_or_refused
from ..frames.api import SheetQuestion, as_file, with_sheet
from ..frames.fields import SheetFields
from ..permissions import Verb, enter
from ..plans.bridge import to_core
from ..printing.child import pdf
from ..productions.models import Production
from ..schemas import Within
from ..tables import csv_response, slug
from .answers import SetMapAnswer, TapedPlace, angles_on, map_answer
from .papers import map_html, notes_of

router = Router(tags=["frames"])
calculator = Router(tags=["calculators"])
PLATE = "/{uuid:production_id}/shots/{uuid:pk}/plates/{uuid:plate_id}"

#: The columns of the table.
HEADS = (
    "name",
    "kind",
    "from_left_m",
    "from_right_m",
    "found_to_m",
    "right_m",
    "ahead_m",
    "foot_m",
    "height_m",
    "turned_deg",
    "words",
)


class TapesQuestion(PlateQuestion):
    """Two tapes along the ground, from the two fixed points of a plate's stage."""

    from_left_m: Annotated[float, Within(0, 300)]
    from_right_m: Annotated[float, Within(0, 300)]


@calculator.post("/set-map", response=SetMapAnswer)
def read_map(request: HttpRequest, payload: SheetQuestion) -> Any:
    """What the set map of a sheet comes to: tapes, edges, reach, findings and its drawing. Nothing
    is stored."""
    shot, plate = payload.shot_and_plate()
    with say.written_in(payload.notation.core()):
        case = case_or_refused(shot, plate)
        sheet = payload.sheet.core()
        return map_answer(to_core(payload), case, sheet, set_report(case, sheet))


@calculator.post("/set-map/place", response=TapedPlace)
def find_place(request: HttpRequest, payload: TapesQuestion) -> Any:
    """Where two tapes meet, ahead of the line between the two fixed points. Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    case = case_or_refused(shot, plate)
    left, right = ((end.x_m, end.y_m) for end in fixed_points(case))
    x, y = place_from_tapes(left, right, payload.from_left_m, payload.from_right_m)
    return TapedPlace(x_m=x, y_m=y, error_m=place_error_m(case, x, y))


def _kept(
    production: Production, pk: uuid.UUID, plate_id: uuid.UUID
) -> tuple[str, Shot, Case, SheetFields, SetReport]:
    """What the shot is called, the shot of the core, the plate's case, its stored sheet, and what
    its map comes to."""
    title, shot, plate, sheet = with_sheet(production, pk, plate_id)
    case = case_or_refused(shot, plate)
    return title, shot, case, sheet, set_report(case, sheet.core())


@router.get(PLATE + "/set-map.csv", response=bytes)
def map_table(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, plate_id: uuid.UUID
) -> HttpResponse:
    """The stored set map as a table: everything with its two tapes, metres and degrees."""
    production = enter(request, production_id, Verb.VIEW)
    title, _, case, sheet, found = _kept(production, pk, plate_id)
    notes = notes_of(sheet)
    rows = (
        (
            row.name,
            row.kind,
            f"{row.from_left_m:.3f}",
            f"{row.from_right_m:.3f}",
            "" if row.error_m is None else f"{row.error_m:.3f}",
            f"{row.x_m:.3f}",
            f"{row.y_m:.3f}",
            f"{row.foot_m:.3f}",
            f"{row.height_m:.3f}",
            f"{row.turn_deg:.1f}",
            "; ".join(w for w in (row.words, notes.get(row.key, "")) if w),
        )
        for row in found.rows
    )
    return csv_response(f"set-{slug(title)}-{slug(case.plate.name)}.csv", HEADS, rows)


@router.get(PLATE + "/set-map.pdf", response=bytes)
def print_map(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    notation: Query[NotationFields],
) -> HttpResponse:
    """The stored set map on A4: its drawing, every tape, and the pictures of its pieces."""
    production = enter(request, production_id, Verb.VIEW)
    with say.written_in(notation.core()):
        title, shot, case, sheet, found = _kept(production, pk, plate_id)
        page = map_html(production, title, case, sheet, found, angles_on(shot, case.plate))
    return as_file(pdf(page), "application/pdf", "set-map.pdf")
