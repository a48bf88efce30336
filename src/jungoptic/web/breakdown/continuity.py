"""What a plate has to keep: the threads of its shot, as a set card tells them."""

from __future__ import annotations

from django.db.models import Q

from ..plans.models import Plate, Shot
from .models import KeptThread, Thread


def threads_for(shot: Shot, plate: Plate) -> list[dict[str, str]]:
    """The threads that belong to a shot, each with what this plate has to do about it."""
    here = Q(shots=shot)
    if shot.place:
        here |= Q(places__contains=[shot.place])
    threads = Thread.objects.filter(here, production=shot.production_id).distinct()
    kept = list(KeptThread.objects.filter(shot=shot).select_related("plate"))
    return [
        {
            "name": thread.name,
            "note": thread.note,
            "task": _task([k for k in kept if k.thread_id == thread.pk], plate),
        }
        for thread in threads
    ]


def _task(kept: list[KeptThread], plate: Plate) -> str:
    excuse = next((k.excuse for k in kept if k.excuse), "")
    if excuse:
        return f"may be missing: {excuse}"
    if any(k.plate_id == plate.pk for k in kept):
        return "must be in this plate"
    if kept:
        named = [k.plate.name for k in kept if k.plate is not None]
        return f"is kept in {', '.join(named)}" if named else "is kept somewhere in this shot"
    return "is in no plate of this shot yet: put it in, or say why not"
