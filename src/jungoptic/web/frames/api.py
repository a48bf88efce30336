"""Exposure sheets: kept, computed, and as files to take to the table."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field

from jungoptic.core.frames.chart import Chart
from jungoptic.core.frames.follows import chart_of
from jungoptic.core.frames.gcode import program
from jungoptic.core.frames.lapse import LapseReport, lapse_report
from jungoptic.core.frames.pace import Sitting
from jungoptic.core.frames.set_report import out_of_reach
from jungoptic.core.frames.sheet_report import SheetReport, sheet_report
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.findings import Finding
from jungoptic.core.plan.plate import TIMELESS, Plate
from jungoptic.core.plan.sheet import Column, Sheet
from jungoptic.core.plan.shot import Shot
from jungoptic.core.sky.day import clock_of
from jungoptic.core.stage.derive import choose
from jungoptic.core.words import quantities as say

from ..calc.api import NotationFields, PlateQuestion, stored_plate
from ..permissions import Verb, enter
from ..plans.api import plates_of
from ..plans.views import called
from ..printing.child import pdf
from ..productions.models import Production
from ..records import Refused, Stale
from ..schemas import Conflict, Stored, Within
from ..tables import csv_response, slug
from . import sheets
from .answers import SheetAnswer, lapse_answer, sheet_answer, ticks_mm
from .fields import MOST_DAYS, SatFields, SheetEdit, SheetFields
from .papers import chart_html, sheet_html, strip_html

router = Router(tags=["frames"])
calculator = Router(tags=["calculators"])
PLATE = "/{uuid:production_id}/shots/{uuid:pk}/plates/{uuid:plate_id}"


class SheetOut(Stored, SheetFields):
    """The sheet of a plate; its id is the plate's. Revision 0: none is stored yet."""


class SheetQuestion(PlateQuestion):
    """A plan, one plate of it, and its sheet."""

    sheet: SheetFields = SheetFields()
    #: Days at the table that the camera tells of.
    sat: Annotated[list[SatFields], Field(max_length=MOST_DAYS)] = []
    #: The clock of the production; a plate's room has its own before it.
    time_zone: Annotated[str, Field(max_length=60)] = ""


@router.get("/{uuid:production_id}/plates/{uuid:pk}/sheet", response=SheetOut)
def get_sheet(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """The exposure sheet of a plate."""
    plate = plates_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    return sheets.sheet_out(plate.pk, sheets.stored(plate.pk))


@router.patch(
    "/{uuid:production_id}/plates/{uuid:pk}/sheet", response={200: SheetOut, 409: Conflict}
)
def edit_sheet(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: SheetEdit
) -> Any:
    """Change the exposure sheet of a plate; the first change makes it."""
    production = enter(request, production_id, Verb.PLAN)
    plate = plates_of(production).select_related("shot").get(pk=pk)
    try:
        kept = sheets.keep(request.user, production, plate, payload)
    except Stale as stale:
        out = SheetOut(**sheets.sheet_out(plate.pk, sheets.stored(plate.pk)))
        return Status(409, {"message": str(stale), "current": out.model_dump(mode="json")})
    return Status(200, sheets.sheet_out(plate.pk, kept))


def _computed(
    shot: Shot,
    plate: Plate,
    sheet: Sheet,
    zone: str,
    sat: Sequence[Sitting] = (),
    hold: int | None = None,
) -> SheetReport:
    """`zone`: the production's clock, for what is filmed in no room that has one."""
    room = shot.kit.room(plate.room_id)
    clock = clock_of("" if room is None else room.time_zone, zone)
    return sheet_report(shot, plate, sheet, timezone.localdate(timezone=clock), sat, hold)


@calculator.post("/sheet", response=SheetAnswer)
def read_sheet(request: HttpRequest, payload: SheetQuestion) -> Any:
    """What a sheet comes to: pictures, holds, charts, steps in the picture, findings, pace.
    Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    hold = next((p.hold for p in payload.plates if p.id == payload.plate_id), 1)
    with say.written_in(payload.notation.core()):
        sheet = payload.sheet.core()
        sat = [Sitting(**one.model_dump()) for one in payload.sat]
        found = _computed(shot, plate, sheet, payload.time_zone, sat, hold)
        answer = sheet_answer(shot, plate, hold, found)
        reach = _out_of_reach(shot, plate, sheet)
        answer = answer.model_copy(update={"findings": (*reach, *answer.findings)})
        lapse = _lapse(shot, plate, sheet)
    return answer if lapse is None else answer.model_copy(update={"lapse": lapse_answer(lapse)})


def _out_of_reach(shot: Shot, plate: Plate, sheet: Sheet) -> tuple[Finding, ...]:
    """What the sheet poses and no arm gets to, where its set has been mapped."""
    try:
        found = out_of_reach(shot, plate, sheet)
    except Impossible:
        # A stage that cannot be: the map itself says why, and the sheet is worth having.
        found = None
    return () if found is None else (found,)


def _lapse(shot: Shot, plate: Plate, sheet: Sheet) -> LapseReport | None:
    if sheet.lapse is None:
        return None
    choice = choose(shot.kit, plate)
    return lapse_report(shot, plate, sheet.lapse, None if choice is None else choice.mode)


def with_sheet(
    production: Production, pk: uuid.UUID, plate_id: uuid.UUID
) -> tuple[str, Shot, Plate, SheetFields]:
    """What the shot is called, the shot and the plate of the core, and the plate's stored sheet."""
    stored, shot, plate = stored_plate(production, pk, plate_id)
    return called(stored, plate.view_id), shot, plate, sheets.fields_of(plate_id)


def _kept(
    production: Production, pk: uuid.UUID, plate_id: uuid.UUID
) -> tuple[str, Shot, Plate, Sheet]:
    title, shot, plate, sheet = with_sheet(production, pk, plate_id)
    return title, shot, plate, sheet.core()


def _one(shot: Shot, plate: Plate, sheet: Sheet, key: str) -> tuple[Column, Chart]:
    """An axis column of a sheet with its chart."""
    column = next((c for c in sheet.columns if c.key == key and c.kind == "axis"), None)
    if column is None:
        raise Refused("column", "There is no such move on this sheet.")
    try:
        return column, chart_of(shot, plate, column)
    except Impossible as error:
        raise Refused("column", f"{column.name}: {error}") from error


def as_file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    """A file to take along; a PDF is shown where it is asked for."""
    response = HttpResponse(content, content_type=kind)
    how = "inline" if kind == "application/pdf" else "attachment"
    response["Content-Disposition"] = f'{how}; filename="{name}"'
    return response


@router.get(PLATE + "/sheet.csv", response=bytes)
def sheet_table(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, plate_id: uuid.UUID
) -> HttpResponse:
    """The stored sheet as a table: a row for every frame, with its picture's number, what each
    column holds there, and of moves where they are."""
    production = enter(request, production_id, Verb.VIEW)
    title, shot, plate, sheet = _kept(production, pk, plate_id)
    found = _computed(shot, plate, sheet, production.time_zone)
    taken = set(found.taken)
    number, rows = 0, []
    changed = {c.column.key: set(c.changed) for c in found.columns}
    held = {c.column.key: "" for c in found.columns}
    marked = {(c.key, m.frame): m.name for c in sheet.columns for m in c.marks}
    for frame in range(1, found.frames + 1):
        number += frame in taken
        cells: list[Any] = []
        for one in found.columns:
            key = one.column.key
            if one.moved is not None:
                cells.append(f"{one.moved.chart.reached[frame - 1]:.3f}")
            elif one.levels:
                cells.append(f"{one.levels[frame - 1] * 100:.1f}")
            else:
                held[key] = marked.get((key, frame), held[key])
                cells.append(held[key] or ("new" if frame in changed[key] else ""))
        rows.append((frame, f"{(frame - 1) / found.fps:.4f}", number, *cells))
    heads = [
        f"{c.column.name} ({c.moved.chart.unit})" if c.moved is not None else c.column.name
        for c in found.columns
    ]
    name = f"sheet-{slug(title)}-{slug(plate.name)}.csv"
    return csv_response(name, ("frame", "seconds", "picture", *heads), rows)


@router.get(PLATE + "/sheet.pdf", response=bytes)
def print_sheet(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    notation: Query[NotationFields],
) -> HttpResponse:
    """The stored sheet on A4, a hundred frames to a page, to tick with a pencil."""
    production = enter(request, production_id, Verb.VIEW)
    title, shot, plate, sheet = _kept(production, pk, plate_id)
    with say.written_in(notation.core()):
        beats = {b.frame: b.name for b in shot.beats if b.plate_id in (None, plate.id)}
        found = _computed(shot, plate, sheet, production.time_zone)
        page = sheet_html(title, plate, found, beats)
    return as_file(pdf(page), "application/pdf", "sheet.pdf")


@router.get(PLATE + "/chart.csv", response=bytes)
def chart_table(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    column: str,
) -> HttpResponse:
    """The chart of one move as a table: before each frame how far, in whole steps and in turns of
    the handle, with the play of the gears taken up; and where it then is."""
    production = enter(request, production_id, Verb.VIEW)
    _, shot, plate, sheet = _kept(production, pk, plate_id)
    own, chart = _one(shot, plate, sheet, column)
    rig = chart.rig
    rows = []
    total = 0
    for i, way in enumerate(chart.increments):
        row: list[Any] = [i + 1, f"{way:.4f}", f"{chart.wanted[i]:.4f}"]
        if rig is not None:
            total += chart.steps[i]
            row += [
                chart.steps[i],
                total,
                chart.turned[i],
                f"{chart.turned[i] / rig.steps_per_turn:.4f}",
                f"{chart.reached[i]:.4f}",
            ]
        rows.append(row)
    unit = chart.unit
    heads = ["frame", f"before_it_{unit}", f"total_{unit}"]
    if rig is not None:
        heads += ["steps", "total_steps", "steps_with_play", "turns_with_play", f"reached_{unit}"]
    return csv_response(f"chart-{slug(own.name)}.csv", heads, rows)


@router.get(PLATE + "/chart.gcode", response=bytes)
def chart_program(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    column: str,
) -> HttpResponse:
    """The chart of one move as G-code for a motion rig."""
    production = enter(request, production_id, Verb.VIEW)
    _, shot, plate, sheet = _kept(production, pk, plate_id)
    own, chart = _one(shot, plate, sheet, column)
    text = program(chart, own.name, shot.delivery.fps, plate.kind not in TIMELESS)
    return as_file(text, "text/plain; charset=utf-8", f"move-{slug(own.name)}.gcode")


@router.get(PLATE + "/chart.pdf", response=bytes)
def print_chart(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    column: str,
) -> HttpResponse:
    """The chart of one move on A4, its curve above its numbers."""
    production = enter(request, production_id, Verb.VIEW)
    title, shot, plate, sheet = _kept(production, pk, plate_id)
    own, chart = _one(shot, plate, sheet, column)
    return as_file(pdf(chart_html(title, plate, own, chart)), "application/pdf", "chart.pdf")


@router.get(PLATE + "/lapse.csv", response=bytes)
def lapse_table(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, plate_id: uuid.UUID
) -> HttpResponse:
    """The marks of a time-lapse on the ground: of every photograph when it is taken, and how far
    along the path, metres from the first."""
    production = enter(request, production_id, Verb.VIEW)
    _, shot, plate, sheet = _kept(production, pk, plate_id)
    found = _lapse(shot, plate, sheet)
    if found is None or sheet.lapse is None:
        raise Refused("lapse", "This plate is not planned as a time-lapse yet.")
    every = sheet.lapse.interval_s
    rows = ((i + 1, f"{i * every:.1f}", f"{place:.3f}") for i, place in enumerate(found.places_m))
    return csv_response("time-lapse.csv", ("photograph", "seconds", "along_path_m"), rows)


@router.get(PLATE + "/strip.pdf", response=bytes)
def print_strip(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    column: str,
    radius_mm: Annotated[float, Within(0.5, 10_000)] | None = None,
) -> HttpResponse:
    """The marks of one move at true size, to cut out and stick along a slider or round a crank of
    `radius_mm` (unless its rig says)."""
    production = enter(request, production_id, Verb.VIEW)
    title, shot, plate, sheet = _kept(production, pk, plate_id)
    own, chart = _one(shot, plate, sheet, column)
    radius = radius_mm if radius_mm is not None or chart.rig is None else chart.rig.radius_mm
    places = ticks_mm(chart, radius)
    if places is None:
        raise Refused(
            "radius_mm", "Say how far from its middle the strip is stuck: the radius in mm."
        )
    page = strip_html(title, plate, own, places, radius if chart.unit == "deg" else None)
    return as_file(pdf(page), "application/pdf", "strip.pdf")
