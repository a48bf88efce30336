"""Hours: the table, the estimate of a shot, totals, what was logged, days and their cautions."""

from __future__ import annotations

import datetime
import uuid
from collections import defaultdict
from typing import Any, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from jungoptic.core import effort
from jungoptic.core.effort import Hours, Line, Rate
from jungoptic.core.findings import Working
from jungoptic.core.hazards import BY_KEY as HAZARDS

from ..permissions import Verb, enter
from ..plans.api import plates_of, shots_of
from ..plans.models import Plate, Shot
from ..records import Refused
from ..schemas import Fields, Name, Out
from ..schemas import number as bounded
from .loading import Loaded, hazards_of, job_of, load_breakdown
from .models import LoggedHours, ReadCaution
from .recipes_api import HoursRange

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
    pace: list[PaceOut]
    shots: list[Total]
    recipes: list[Total]
    days: list[Total]
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
        for entry in logs:
            recipe, day = _homes(plates.get(str(entry.plate_id)))
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
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW))
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
    hours: bounded(0.01, 10_000) | None


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


# --- cautions ---------------------------------------------------------------------------------


class ReadBy(Out):
    """Who has read a caution, and when."""

    name: str
    at: datetime.datetime


class Caution(Out):
    """A hazard of a shot: what to heed, which plates bring it, who has read it."""

    key: str
    name: str
    cautions: list[str]
    plates: list[str]
    read_by: list[ReadBy]


def cautions_of(shot: Shot) -> list[dict[str, Any]]:
    """The cautions of a shot with who has read them. They cannot be hidden."""
    reads = list(shot.read_cautions.all())
    return [
        {
            "key": key,
            "name": HAZARDS[key].name,
            "cautions": list(HAZARDS[key].cautions),
            "plates": names,
            "read_by": [{"name": r.name, "at": r.at} for r in reads if r.hazard == key],
        }
        for key, names in hazards_of(shot.plates.all()).items()
    ]


def _with_plates(shots: Any) -> Any:
    return shots.prefetch_related("plates__use", "read_cautions")


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/cautions", response=list[Caution])
def read_cautions(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """The cautions of a shot."""
    production = enter(request, production_id, Verb.VIEW)
    return cautions_of(_with_plates(shots_of(production)).get(pk=shot_id))


class ReadIn(Fields):
    """Who has read it: a name, since on set not everybody has an account."""

    name: Name


@router.post(
    "/{uuid:production_id}/shots/{uuid:shot_id}/cautions/{key}/read", response=list[Caution]
)
def acknowledge(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, key: str, payload: ReadIn
) -> Any:
    """Acknowledge a caution by name; the time is the server's. It stays where it is."""
    production = enter(request, production_id, Verb.FILM)
    shot = _with_plates(shots_of(production)).get(pk=shot_id)
    if key not in hazards_of(shot.plates.all()):
        raise Refused("key", "This shot has no such caution.")
    ReadCaution.objects.get_or_create(
        shot=shot, hazard=key, name=payload.name, defaults={"by_id": request.user.pk}
    )
    return cautions_of(_with_plates(shots_of(production)).get(pk=shot_id))


class DayPlate(Out):
    """A plate to be filmed on a day."""

    id: uuid.UUID
    shot_id: uuid.UUID
    shot: str
    name: str
    kind: str
    lock_group: str
    set: HoursRange


class DayOut(Out):
    """A day of filming: plates, hours, and the cautions that hold on it."""

    day: datetime.date | None
    past: bool
    plates: list[DayPlate]
    set: HoursRange
    cautions: list[Caution]


@router.get("/{uuid:production_id}/days", response=list[DayOut])
def read_days(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The days that plates are planned for, then what has no day yet."""
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW))
    days: dict[datetime.date | None, list[tuple[Shot, Plate, effort.Estimate]]] = defaultdict(list)
    for shot in loaded.shots:
        parts = {p.id: p for p in loaded.effort_of(shot).parts}
        for plate in shot.plates.all():
            days[plate.film_on].append((shot, plate, parts[str(plate.pk)]))
    today = timezone.now().date()
    return [
        {
            "day": day,
            "past": day is not None and day < today,
            "plates": [
                {
                    "id": plate.pk,
                    "shot_id": shot.pk,
                    "shot": f"{shot.number} {shot.title}",
                    "name": plate.name,
                    "kind": plate.kind,
                    "lock_group": plate.lock_group,
                    "set": part.set,
                }
                for shot, plate, part in pieces
            ],
            "set": Hours.total([part.set for _, _, part in pieces]),
            "cautions": _cautions_of_day(pieces),
        }
        for day, pieces in sorted(days.items(), key=lambda item: item[0] or datetime.date.max)
    ]


def _cautions_of_day(pieces: list[tuple[Shot, Plate, effort.Estimate]]) -> list[dict[str, Any]]:
    """Each hazard of the day once, with everything that brings it and everybody who read it in
    all of those shots."""
    shots: dict[str, set[Any]] = defaultdict(set)
    names: dict[str, list[str]] = defaultdict(list)
    for shot, plate, _ in pieces:
        for key in hazards_of([plate]):
            shots[key].add(shot)
            names[key].append(f"{shot.number} {plate.name}")
    found = []
    for key, plates in names.items():
        readers: dict[str, list[datetime.datetime]] = defaultdict(list)
        for shot in shots[key]:
            for read in shot.read_cautions.all():
                if read.hazard == key:
                    readers[read.name].append(read.at)
        found.append(
            {
                "key": key,
                "name": HAZARDS[key].name,
                "cautions": list(HAZARDS[key].cautions),
                "plates": plates,
                "read_by": [
                    {"name": name, "at": max(times)}
                    for name, times in sorted(readers.items())
                    if len(times) == len(shots[key])
                ],
            }
        )
    return found
