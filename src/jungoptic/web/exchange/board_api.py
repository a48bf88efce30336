"""The whole breakdown in and out: tables and edit lists; on paper it is long work."""

from __future__ import annotations

import json
import uuid
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router
from ninja.files import UploadedFile

from .. import saving
from ..breakdown.loading import load_breakdown
from ..breakdown.steps_api import StepOut, step_out
from ..permissions import Verb, enter
from ..plans.models import Shot
from ..plans.views import whole_seconds
from ..productions.models import Production
from ..records import Refused
from ..schemas import Out
from ..tables import csv_response
from . import edits, tables
from .arriving import TAKEN, Plan, Row, carry_out, settle

router = Router(tags=["exchange"])


class Reading(Out):
    """A table as it was read: its columns, some lines, and which column seems to be what."""

    columns: list[str]
    sample: list[list[str]]
    count: int
    delimiter: str
    encoding: str
    fields: dict[str, str]
    guess: dict[str, str]


class Change(Out):
    """A field that would change."""

    field: str
    now: str
    then: str


class RowOut(Out):
    """What would become of an arriving line."""

    line: int
    name: str
    title: str
    fate: Literal["new", "changed", "same", "error"]
    problems: list[str]
    changes: list[Change]
    seconds: float | None


class PlanOut(Out):
    """What an import would do."""

    rows: list[RowOut]
    new: int
    changed: int
    same: int
    errors: int
    unmentioned: list[str]
    notes: list[str]


class Imported(Out):
    """What an import did, and the step that undoes it."""

    plan: PlanOut
    step: StepOut | None


def plan_out(plan: Plan) -> dict[str, Any]:
    """A plan, ready for JSON."""
    return {
        "rows": [
            {
                "line": r.line,
                "name": r.name[:120],
                "title": str(r.values.get("title", ""))[:120],
                "fate": r.fate,
                "problems": r.problems,
                "changes": [
                    {"field": TAKEN.get(n, n), "now": _said(now), "then": _said(then)}
                    for n, (now, then) in r.changes.items()
                ],
                "seconds": r.values.get("screen_time_s"),
            }
            for r in plan.rows
        ],
        "new": plan.count("new"),
        "changed": plan.count("changed"),
        "same": plan.count("same"),
        "errors": plan.count("error"),
        "unmentioned": plan.unmentioned,
        "notes": plan.notes,
    }


def _said(value: Any) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)


@router.post("/{uuid:production_id}/import/table/read", response=Reading)
def read_table(
    request: HttpRequest, production_id: uuid.UUID, file: File[UploadedFile]
) -> dict[str, Any]:
    """Read a CSV and guess its columns. Nothing is stored."""
    enter(request, production_id, Verb.VIEW)
    sheet = tables.read(file.read())
    return {
        "columns": list(sheet.columns),
        "sample": [list(cells) for _, cells in sheet.rows[:5]],
        "count": len(sheet.rows),
        "delimiter": sheet.delimiter,
        "encoding": sheet.encoding,
        "fields": TAKEN,
        "guess": tables.guess(sheet.columns),
    }


def _mapping(text: str) -> dict[str, str]:
    try:
        found = json.loads(text)
    except (ValueError, RecursionError):
        found = None
    if not isinstance(found, dict) or not all(isinstance(v, str) for v in found.values()):
        raise Refused("mapping", "The mapping must name a column for each field.")
    return found


@router.post("/{uuid:production_id}/import/table/preview", response=PlanOut)
def preview_table(
    request: HttpRequest,
    production_id: uuid.UUID,
    file: File[UploadedFile],
    mapping: Form[str],
) -> Any:
    """What importing the table would do, line by line. Nothing is stored."""
    production = enter(request, production_id, Verb.VIEW)
    return plan_out(_table_plan(production, file, mapping))


def _table_plan(production: Production, file: UploadedFile, mapping: str) -> Plan:
    sheet = tables.read(file.read())
    return settle(production, tables.rows_of(sheet, _mapping(mapping)), "number")


@router.post("/{uuid:production_id}/import/table/apply", response=Imported)
def apply_table(
    request: HttpRequest,
    production_id: uuid.UUID,
    file: File[UploadedFile],
    mapping: Form[str],
    leave_out: Form[bool] = False,
) -> Any:
    """Import the table, whole or not at all; with `leave_out`, without the lines that have a
    problem."""
    production = enter(request, production_id, Verb.PLAN)
    with saving.writing(production):
        plan = _table_plan(production, file, mapping)
        return _carried(request, production, plan, f"Import {file.name or 'a table'}", leave_out)


def _carried(
    request: HttpRequest, production: Production, plan: Plan, label: str, leave_out: bool
) -> dict[str, Any]:
    if leave_out:
        plan.rows = [r for r in plan.rows if r.fate != "error"]
        if not plan.rows:
            raise Refused("file", "Every line has a problem; nothing is left to import.")
    step = carry_out(request.user, production, plan, label[:120])
    return {
        "plan": plan_out(plan),
        "step": None if step.step is None else step_out(step.step),
    }


def _edit_plan(production: Production, read: tuple[list[Row], list[str]]) -> Plan:
    rows, notes = read
    plan = settle(production, rows, "edit_name")
    plan.notes = notes
    return plan


def _read(file: UploadedFile, production: Production) -> tuple[list[Row], list[str]]:
    return edits.rows_of(file.name or "", file.read(), production)


@router.post("/{uuid:production_id}/import/edit/preview", response=PlanOut)
def preview_edit(request: HttpRequest, production_id: uuid.UUID, file: File[UploadedFile]) -> Any:
    """What importing an edit list (.otio, .edl) would do. Nothing is stored."""
    production = enter(request, production_id, Verb.VIEW)
    return plan_out(_edit_plan(production, _read(file, production)))


@router.post("/{uuid:production_id}/import/edit/apply", response=Imported)
def apply_edit(
    request: HttpRequest,
    production_id: uuid.UUID,
    file: File[UploadedFile],
    leave_out: Form[bool] = False,
) -> Any:
    """Import an edit list: clips are matched by name, durations become screen time."""
    production = enter(request, production_id, Verb.PLAN)
    # Read before anybody else has to wait for it.
    read = _read(file, production)
    with saving.writing(production):
        plan = _edit_plan(production, read)
        name = f"Import {file.name or 'an edit list'}"
        return _carried(request, production, plan, name, leave_out)


# --- out ---------------------------------------------------------------------------------------

BOARD_COLUMNS = (
    "number",
    "title",
    "line of action",
    "place",
    "time of day",
    "screen time (s)",
    "recipes",
    "plates",
    "hours on set (likely)",
    "hours in post (likely)",
    "name in the edit",
)


def _names(shot: Shot) -> tuple[str, str]:
    recipes = "; ".join(u.name for u in shot.recipe_uses.all())
    return recipes, "; ".join(p.name for p in shot.plates.all())


@router.get("/{uuid:production_id}/export/board.csv", response=bytes)
def board_csv(request: HttpRequest, production_id: uuid.UUID) -> HttpResponse:
    """The Board as a table that can be imported again."""
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW))
    rows = []
    for shot in loaded.shots:
        on_set, in_post = loaded.hours_of(shot)
        recipes, plates = _names(shot)
        rows.append(
            [
                shot.number,
                shot.title,
                shot.action,
                shot.place,
                shot.time_of_day,
                whole_seconds(shot),
                recipes,
                plates,
                round(on_set.likely, 2),
                round(in_post.likely, 2),
                shot.edit_name,
            ]
        )
    return csv_response("breakdown.csv", BOARD_COLUMNS, rows)


@router.get("/{uuid:production_id}/export/board.otio", response=bytes)
def board_otio(request: HttpRequest, production_id: uuid.UUID) -> HttpResponse:
    """The shots in story order as a timeline."""
    production = enter(request, production_id, Verb.VIEW)
    shots = list(Shot.objects.filter(production=production))
    response = HttpResponse(edits.timeline_of(production, shots), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="breakdown.otio"'
    return response
