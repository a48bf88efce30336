"""Which picture of the simulated camera stands for a shot where one is shown in a list."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from .keeping import stamps
from .models import Developed, DryRun

#: What it shows: all plates put together, the story were it real, or one plate.
Of = Literal["run", "story", "plate"]
ORDER: tuple[Of, ...] = ("run", "story", "plate")


@dataclass(frozen=True)
class ShotPicture:
    """The picture `id` of a shot, and where its file lies; `current`: of the plan as it is now."""

    of: Of
    id: uuid.UUID
    file: str
    current: bool


def shot_pictures(plans: Mapping[uuid.UUID, dict[str, Any]]) -> dict[uuid.UUID, ShotPicture]:
    """The picture that stands for each of some shots, told with their plans; those of which there
    is none are left out. A picture of the plan as it is now comes before one that is not, a dry run
    before the story, that before a plate; then the newest. All are of the first camera. Two
    queries, however many shots there are."""
    rows = _rows(plans)
    # What tells a plan from any other is worked out only where there is something to tell.
    there = list({row[0]: plans[row[0]] for row in rows}.items())
    now = dict(zip((pk for pk, _ in there), stamps([plan for _, plan in there]), strict=True))
    found: dict[uuid.UUID, tuple[tuple[bool, int], ShotPicture]] = {}
    for shot, pk, stamp, file, of in rows:
        current = stamp == now[shot]
        rank = (not current, ORDER.index(of))
        # Newest first, so that of two alike the first one stays.
        if shot not in found or rank < found[shot][0]:
            found[shot] = rank, ShotPicture(of, pk, file, current)
    return {shot: one for shot, (_, one) in found.items()}


def _rows(shots: Iterable[uuid.UUID]) -> list[tuple[uuid.UUID, uuid.UUID, str, str, Of]]:
    """Shot, picture, its stamp, its file and what it shows, newest first of every kind."""
    names = ("shot_id", "pk", "stamp")
    runs = DryRun.objects.filter(shot__in=list(shots), view_id=None, frame__isnull=False)
    pictures = Developed.objects.filter(shot__in=list(shots), view_id=None, change_key="", at=[])
    return [
        *((*row, "run") for row in runs.values_list(*names, "composite")),
        *(
            (*row, "story" if plate is None else "plate")
            for *row, plate in pictures.values_list(*names, "picture", "plate_id")
        ),
    ]
