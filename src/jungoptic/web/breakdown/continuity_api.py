"""Continuity: threads that must recur, and the side the light comes from."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from jungoptic.core.plan.findings import Finding

from .. import crud, saving
from ..permissions import Verb, enter
from ..plans.api import plates_of, shots_of
from ..plans.models import Shot
from ..productions.models import Production
from ..records import Refused
from ..schemas import Conflict, Fields, Out, Stored
from .fields import ThreadEdit, ThreadFields, ThreadIn
from .loading import load_breakdown
from .models import KeptThread, Thread

router = Router(tags=["continuity"])


class ThreadOut(Stored, ThreadFields):
    """A stored thread."""


class KeptIn(Fields):
    """A shot, or one plate of it, that takes care of a thread; or why it may be missing."""

    shot_id: uuid.UUID
    plate_id: uuid.UUID | None = None
    excuse: Annotated[str, Field(max_length=300)] = ""


class KeptOut(Out):
    """A stored mark of a thread being kept."""

    id: uuid.UUID
    thread_id: uuid.UUID
    shot_id: uuid.UUID
    plate_id: uuid.UUID | None
    excuse: str


class PlateName(Out):
    """A plate by name."""

    id: uuid.UUID
    name: str


class ShotLight(Out):
    """A shot as continuity sees it. Directions in degrees; `key_bearing_deg` is in the world."""

    id: uuid.UUID
    revision: int
    number: str
    title: str
    place: str
    time_of_day: str
    camera_bearing_deg: float | None
    key_from_deg: float | None
    key_elevation_deg: float | None
    key_bearing_deg: float | None
    light_note: str
    plates: list[PlateName]
    light: Finding | None
    threads: list[Finding]
    belongs: list[uuid.UUID]


class ContinuityOut(Out):
    """All threads, where they are kept, and every shot's light."""

    threads: list[ThreadOut]
    kept: list[KeptOut]
    shots: list[ShotLight]


def thread_out(thread: Thread) -> dict[str, Any]:
    """A thread, ready for JSON."""
    names = ("id", "revision", "name", "kind", "note", "places")
    return {
        **{n: getattr(thread, n) for n in names},
        "shot_ids": [s.pk for s in thread.shots.all()],
    }


def _kept_out(kept: KeptThread) -> dict[str, Any]:
    return {n: getattr(kept, n) for n in KeptOut.model_fields}


#: What is read off a shot as it is stored.
SHOT_FIELDS = (
    "id",
    "revision",
    "number",
    "title",
    "place",
    "time_of_day",
    "camera_bearing_deg",
    "key_from_deg",
    "key_elevation_deg",
    "light_note",
)


@router.get("/{uuid:production_id}/continuity", response=ContinuityOut)
def read_continuity(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The whole of it."""
    loaded = load_breakdown(enter(request, production_id, Verb.VIEW))
    return {
        "threads": [thread_out(t) for t in loaded.threads],
        "kept": [_kept_out(k) for k in loaded.kept],
        "shots": [
            {
                **{n: getattr(shot, n) for n in SHOT_FIELDS},
                "key_bearing_deg": loaded.seen[shot.pk].key_bearing_deg,
                "plates": [{"id": p.pk, "name": p.name} for p in shot.plates.all()],
                "light": loaded.light_of(shot),
                "threads": loaded.threads_of(shot),
                "belongs": loaded.belonging(shot),
            }
            for shot in loaded.shots
        ],
    }


def threads_of(production: Production) -> Any:
    """The threads of a production."""
    return Thread.objects.filter(production=production).prefetch_related("shots")


def _shots(production: Production, ids: list[uuid.UUID]) -> list[Shot]:
    found = list(shots_of(production).filter(pk__in=ids))
    if len(found) != len(set(ids)):
        raise Refused("shot_ids", "One of these shots is no longer there.")
    return found


@router.post("/{uuid:production_id}/threads", response=ThreadOut)
def make_thread(request: HttpRequest, production_id: uuid.UUID, payload: ThreadIn) -> Any:
    """Begin a thread."""
    production = enter(request, production_id, Verb.PLAN)
    values = payload.model_dump(exclude={"id", "shot_ids"})
    shots = _shots(production, payload.shot_ids)
    with saving.writing(production):
        thread = saving.create(
            request.user, production, Thread, {**values, "production": production}, payload.id
        )
        thread.shots.set(shots)
    return thread_out(thread)


@router.patch("/{uuid:production_id}/threads/{uuid:pk}", response={200: ThreadOut, 409: Conflict})
def edit_thread(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: ThreadEdit
) -> Any:
    """Change a thread or where it belongs."""
    production = enter(request, production_id, Verb.PLAN)
    named = payload.model_dump(exclude_unset=True)
    shots = _shots(production, named["shot_ids"]) if "shot_ids" in named else None

    def without_shots(_: Production, values: dict[str, Any]) -> dict[str, Any]:
        return {k: v for k, v in values.items() if k != "shot_ids"}

    with saving.writing(production):
        answer = crud.change(
            request, production_id, threads_of, pk, payload, lambda t: t, without_shots
        )
        if answer.status_code == 200:
            if shots is not None:
                answer.value.shots.set(shots)
            answer.value = thread_out(threads_of(production).get(pk=pk))
        else:
            answer.value["current"] = thread_out(answer.value["current"])
    return answer


@router.delete("/{uuid:production_id}/threads/{uuid:pk}", response={204: None})
def remove_thread(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a thread."""
    return crud.drop(request, production_id, threads_of, pk)


@router.post("/{uuid:production_id}/threads/{uuid:pk}/kept", response=KeptOut)
def keep(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: KeptIn) -> Any:
    """Say that a shot keeps a thread, in which plate, or why it may be missing."""
    production = enter(request, production_id, Verb.PLAN)
    thread = threads_of(production).get(pk=pk)
    shot = shots_of(production).get(pk=payload.shot_id)
    if payload.plate_id is not None and not (
        plates_of(production).filter(shot=shot, pk=payload.plate_id).exists()
    ):
        raise Refused("plate_id", "There is no such plate in this shot.")
    values = {"thread": thread, "shot": shot, "plate_id": payload.plate_id}
    there = KeptThread.objects.filter(**values).first()
    if there is not None and there.excuse == payload.excuse:
        return _kept_out(there)
    with saving.writing(production):
        if there is not None:
            there.delete()
        kept = saving.create(
            request.user, production, KeptThread, {**values, "excuse": payload.excuse}, None
        )
    return _kept_out(kept)


@router.delete("/{uuid:production_id}/kept/{uuid:pk}", response={204: None})
def unkeep(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Take that back."""
    return crud.drop(
        request,
        production_id,
        lambda production: KeptThread.objects.filter(thread__production=production),
        pk,
    )
