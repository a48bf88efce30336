"""Hours: the table, the estimate of a shot, totals, and what was logged."""

from __future__ import annotations

import datetime
import uuid
from collections import defaultdict
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Router

from jungoptic.core.cost import effort
from jungoptic.core.cost.effort import Hours, Line, Rate
from jungoptic.core.cost.shapes import SUBJECTS, Subject
from jungoptic.core.plan.findings import Working

from ..permissions import Verb, enter
from ..plans.api import plates_of, shots_of
from ..plans.models import Plate, Shot
from ..records import Refused
from ..schemas import Fields, HoursRange, Out, Within
from .loading import Loaded, job_of, load_breakdown
from .models import LoggedHours

router = Router(tags=["hours"])


class PaceOut(Out):
    """How this production's hours compare with the table."""

    phase: str
    n: int
    mean: float
    factor: float
    working: Working


class Total(Out):
    """Hours of a group: a shot, a recipe, a day."""

    key: str
    name: str
    shots: int
    plates: int
    set: HoursRange
    post: HoursRange
    logged_set: float
    logged_post: float


class HoursOut(Out):
    """The table, the pace, and the totals of a production."""

    table: list[Rate]
    subjects: list[Subject]
    pace: list[PaceOut]
    shots: list[Total]
    recipes: list[Total]
    days: list[Total]
    lockoffs: list[Total]
    whole: Total


def _total(
    key: str, name: str, pieces: list[tuple[Shot, effort.Estimate]], logs: list[LoggedHours]
) -> dict[str, Any]:
    return {
        "key": key,
        "name": name,
        "shots": len({shot.pk for shot, _ in pieces}),
        "plates": sum(bool(part.id) for _, part in pieces),
        "set": Hours.total([part.set for _, part in pieces]),
        "post": Hours.total([part.post for _, part in pieces]),
        "logged_set": sum(x.hours for x in logs if x.phase == "set"),
        "logged_post": sum(x.hours for x in logs if x.phase == "post"),
    }


def totals(loaded: Loaded) -> dict[str, Any]:
    """All totals of a production at its own pace."""
    by_shot, everything = [], []
    by_recipe: dict[str, list[tuple[Shot, effort.Estimate]]] = defaultdict(list)
    by_day: dict[str, list[tuple[Shot, effort.Estimate]]] = defaultdict(list)
    logs_of_recipe: dict[str, list[LoggedHours]] = defaultdict(list)
    logs_of_day: dict[str, list[LoggedHours]] = defaultdict(list)
    by_lock: dict[str, list[tuple[Shot, effort.Estimate]]] = defaultdict(list)
    logs_of_lock: dict[str, list[LoggedHours]] = defaultdict(list)
    logs_all: list[LoggedHours] = []
    names: dict[str, str] = {}
    for shot in loaded.shots:
        plates = {str(p.pk): p for p in shot.plates.all()}
        logs = list(shot.logged_hours.all())
        logs_all += logs
        pieces = [(shot, part) for part in loaded.effort_of(shot).parts]
        everything += pieces
        by_shot.append(_total(str(shot.pk), f"{shot.number} {shot.title}", pieces, logs))
        for piece in pieces:
            plate = plates.get(piece[1].id)
            recipe, day = _homes(plate)
            if plate is not None and plate.use is not None:
                names[recipe] = plate.use.name
            by_recipe[recipe].append(piece)
            if plate is not None:
                by_day[day].append(piece)
            if plate is not None and plate.lock_group:
                by_lock[plate.lock_group].append(piece)
        for entry in logs:
            plate = plates.get(str(entry.plate_id))
            recipe, day = _homes(plate)
            logs_of_lock["" if plate is None else plate.lock_group].append(entry)
            logs_of_recipe[recipe].append(entry)
            logs_of_day[day].append(entry)
    names[""], names["shot"] = "No recipe", "Shots as a whole: comp and grade"
    return {
        "shots": by_shot,
        "recipes": [
            _total(k, names.get(k, k), v, logs_of_recipe[k]) for k, v in sorted(by_recipe.items())
        ],
        "days": [
            _total(k, k or "No day yet", v, logs_of_day[k])
            for k, v in sorted(by_day.items(), key=lambda item: item[0] or "9999")
        ],
        "lockoffs": [_total(k, k, v, logs_of_lock[k]) for k, v in by_lock.items()],
        "whole": _total("", "The production", everything, logs_all),
    }


def _homes(plate: Plate | None) -> tuple[str, str]:
    """Recipe key and day that a plate's hours belong to."""
    if plate is None:
        return "shot", ""
    return (
        plate.use.recipe if plate.use is not None else "",
        plate.film_on.isoformat() if plate.film_on else "",
    )


@router.get("/{uuid:production_id}/hours", response=HoursOut)
def read_hours(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The table of defaults, the production's pace, and its totals."""
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW))
    return {
        "table": list(effort.TABLE),
        "subjects": list(SUBJECTS),
        "pace": [loaded.set_pace, loaded.post_pace],
        **totals(loaded),
    }


class Logged(Out):
    """Hours that a piece really took."""

    phase: str
    hours: float
    by: str
    at: datetime.datetime


class WayOut(Out):
    """One way of separating a plate."""

    cut: str
    name: str
    set: HoursRange
    post: HoursRange
    remark: str


class PartOut(Out):
    """The estimate of a plate, or of the shot as a whole (no plate)."""

    plate_id: uuid.UUID | None
    name: str
    cut: str
    #: The number of the shot whose set-up it is filmed from; empty: its own.
    stands_for: str
    lines: list[Line]
    set: HoursRange
    post: HoursRange
    logged: list[Logged]
    ways: list[WayOut]


class ShotHours(Out):
    """The hours of a shot, line by line, at the production's own pace."""

    parts: list[PartOut]
    set: HoursRange
    post: HoursRange
    pace: list[PaceOut]


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/effort", response=ShotHours)
def read_shot_hours(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """What a shot costs in hours, and what it would cost cut another way."""
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW), only=shot_id)
    shot = next((s for s in loaded.shots if s.pk == shot_id), None)
    if shot is None:
        raise Shot.DoesNotExist
    plates = {str(p.pk): p for p in shot.plates.all()}
    found = loaded.effort_of(shot)
    return {
        "parts": [_part_out(part, shot, plates.get(part.id), loaded) for part in found.parts],
        "set": found.set,
        "post": found.post,
        "pace": [loaded.set_pace, loaded.post_pace],
    }


def _part_out(
    part: effort.Estimate, shot: Shot, plate: Plate | None, loaded: Loaded
) -> dict[str, Any]:
    ways = () if plate is None else effort.what_if(job_of(plate, shot))
    logs = [x for x in shot.logged_hours.all() if str(x.plate_id or "") == part.id]
    return {
        "plate_id": None if plate is None else plate.pk,
        "name": part.name,
        "cut": "" if plate is None else plate.cut,
        "stands_for": "" if plate is None else loaded.stands_for(plate),
        "lines": part.lines,
        "set": part.set,
        "post": part.post,
        "logged": [
            {
                "phase": x.phase,
                "hours": x.hours,
                "by": x.by.username if x.by else "",
                "at": x.at,
            }
            for x in logs
        ],
        "ways": [
            {
                "cut": w.cut,
                "name": w.name,
                "set": w.set.times(loaded.set_pace.factor),
                "post": w.post.times(loaded.post_pace.factor),
                "remark": w.remark,
            }
            for w in ways
        ],
    }


class LogIn(Fields):
    """Hours that a finished piece took; none forgets what was logged."""

    plate_id: uuid.UUID | None = None
    phase: Literal["set", "post"]
    hours: Annotated[float, Within(0.01, 10_000)] | None


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/hours", response=ShotHours)
def log_hours(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: LogIn
) -> Any:
    """Write down what a piece of work took, or forget it."""
    production = enter(request, production_id, Verb.FILM)
    shot = shots_of(production).get(pk=shot_id)
    if payload.plate_id is None and payload.phase == "set":
        raise Refused("phase", "Hours on set belong to a plate; the shot as a whole has only post.")
    if payload.plate_id is not None and not (
        plates_of(production).filter(shot=shot, pk=payload.plate_id).exists()
    ):
        raise Refused("plate_id", "There is no such plate in this shot.")
    piece = {"shot": shot, "plate_id": payload.plate_id, "phase": payload.phase}
    if payload.hours is None:
        LoggedHours.objects.filter(**piece).delete()
    else:
        LoggedHours.objects.update_or_create(
            **piece, defaults={"hours": payload.hours, "by_id": request.user.pk}
        )
    return read_shot_hours(request, production_id, shot_id)
