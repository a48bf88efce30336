"""Cautions of a shot and of a day: who has read them, and what is filmed when."""

from __future__ import annotations

import datetime
import uuid
from collections import defaultdict
from typing import Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from jungoptic.core.cards.hazards import BY_KEY as HAZARDS
from jungoptic.core.cost import effort
from jungoptic.core.cost.effort import Hours
from jungoptic.core.lockoff.days import days_apart, sun_room
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import Room as CoreRoom
from jungoptic.core.sky.day import clock_of

from ..kit.api import room_out
from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import room_of
from ..plans.models import Plate, Shot
from ..productions.models import Production
from ..records import Refused
from ..schemas import Fields, HoursRange, Name, Out
from .loading import hazards_of, load_breakdown
from .models import ReadCaution

router = Router(tags=["cautions"])


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
    #: The number of the shot whose set-up it is filmed from; empty: its own.
    stands_for: str
    set: HoursRange


class Parted(Out):
    """A pass that is filmed on another day than the first of its lock-off."""

    plate_id: uuid.UUID
    shot_id: uuid.UUID
    shot: str
    verdict: Verdict
    sentence: str


class DayOut(Out):
    """A day of filming: plates, hours, and the cautions that hold on it."""

    day: datetime.date | None
    past: bool
    plates: list[DayPlate]
    set: HoursRange
    cautions: list[Caution]
    #: What it means that a lock-off is begun on another day.
    parted: list[Parted]


@router.get("/{uuid:production_id}/days", response=list[DayOut])
def read_days(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The days that plates are planned for, then what has no day yet."""
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW))
    days: dict[datetime.date | None, list[tuple[Shot, Plate, effort.Estimate]]] = defaultdict(list)
    for shot in loaded.shots:
        parts = {p.id: p for p in loaded.effort_of(shot).parts}
        for plate in shot.plates.all():
            days[plate.film_on].append((shot, plate, parts[str(plate.pk)]))
    parted = _parted(loaded.production, loaded.shots)
    clock = clock_of(loaded.production.time_zone)
    today = timezone.localdate(timezone=clock)
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
                    "stands_for": loaded.stands_for(plate),
                    "set": part.set,
                }
                for shot, plate, part in pieces
            ],
            "set": Hours.total([part.set for _, _, part in pieces]),
            "cautions": _cautions_of_day(pieces),
            "parted": [parted[plate.pk] for _, plate, _ in pieces if plate.pk in parted],
        }
        for day, pieces in sorted(days.items(), key=lambda item: item[0] or datetime.date.max)
    ]


def _parted(production: Production, shots: list[Shot]) -> dict[uuid.UUID, dict[str, Any]]:
    """By plate what it means that its lock-off is begun on another day."""
    rooms: dict[uuid.UUID, CoreRoom] | None = None
    found = {}
    first: dict[str, tuple[Shot, Plate]] = {}
    for shot in shots:
        for plate in shot.plates.all():
            if not plate.lock_group or plate.film_on is None:
                continue
            whose, lead = first.setdefault(plate.lock_group, (shot, plate))
            if lead.film_on is None or lead.film_on == plate.film_on:
                continue
            if rooms is None:
                rooms = {room.pk: room_of(room_out(room)) for room in production.rooms.all()}
            room = None if plate.room_id is None else rooms.get(plate.room_id)
            apart = days_apart(
                plate.name,
                plate.film_on,
                lead.name if whose is shot else f"{lead.name} of shot {whose.number}",
                lead.film_on,
                sun_room(room, shot.key_kind, bool(plate.lamps)),
            )
            if apart is not None:
                found[plate.pk] = {
                    "plate_id": plate.pk,
                    "shot_id": shot.pk,
                    "shot": f"{shot.number} {shot.title}",
                    "verdict": apart.verdict,
                    "sentence": apart.sentence,
                }
    return found


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
