"""Which pictures a rough composite can be made of, and which of them count."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Q

from jungoptic.core.plan.shot import Shot as CoreShot

from ..pictures.models import Picture
from ..takes.files import COUNTS, board, facts
from ..takes.models import Take
from .work import Pick


@dataclass(frozen=True)
class Filmed:
    """A picture of a plate that can be laid in. `name`: what it is called beside others; `frames`:
    how many it has; `begins`: the frame in which the shot begins."""

    picture: Picture
    name: str
    frames: int
    begins: int


def filmed_of(shot_pk: Any, shot: CoreShot) -> dict[str, list[Filmed]]:
    """By plate what was filmed of it, what counts first: the newest picture of the circled take,
    else of the last take that has one, else the newest that hangs on the plate itself."""
    rows = (
        Picture.objects.filter(**COUNTS, elsewhere=False)
        .filter(Q(plate__shot_id=shot_pk) | Q(take__card__plate__shot_id=shot_pk))
        .exclude(looks=[])
        .select_related("take__card__plate")
        .prefetch_related("files")
    )
    by_plate: dict[str, list[Picture]] = {}
    for row in rows:
        take = row.take
        plate = row.plate_id if take is None else take.card.plate_id
        by_plate.setdefault(str(plate), []).append(row)
    return {plate: _ordered(found, shot) for plate, found in by_plate.items()}


def _ordered(rows: Iterable[Picture], shot: CoreShot) -> list[Filmed]:
    def rank(picture: Picture) -> tuple[Any, ...]:
        take: Take | None = picture.take
        if take is None:
            return (0, 0, picture.created_at, picture.created_at)
        return (1, take.circled, take.created_at, picture.created_at)

    ordered = sorted(rows, key=rank, reverse=True)
    found = []
    for picture in ordered:
        read = facts(picture)
        if read is None:
            continue
        count = max(read.frames, 1)
        begins = begins_of(picture, count, shot.frames)
        found.append(Filmed(picture, called(picture), count, begins))
    return found


def called(picture: Picture) -> str:
    """How a picture is called: by its take, where it has one."""
    take = picture.take
    if take is None:
        return str(picture.name)
    return f"{take.card.slate} take {take.number}: {picture.name}"


def begins_of(picture: Picture, frames: int, wanted: int) -> int:
    """The frame (from 1) in which the shot begins: as said; else the first; where a board is held
    up at the start, as late as leaves enough for the shot."""
    if picture.begins is not None:
        return min(picture.begins, frames)
    seen = board(picture)
    if seen is None or seen.frame > frames / 2:
        return 1
    return max(frames - wanted + 1, min(seen.frame + 1, frames), 1)


def picked(filmed: Sequence[Filmed], pick: Pick) -> Filmed | None:
    """What of a plate goes in, of what was filmed of it; None for nothing."""
    if pick.left_out:
        return None
    wanted: uuid.UUID | None = pick.picture_id
    if wanted is None:
        return filmed[0] if filmed else None
    return next((one for one in filmed if one.picture.pk == wanted), None)
