"""The pictures of a take, a plate, a shot, a lens, or a whole production."""

from __future__ import annotations

import datetime
import json
import uuid
from functools import partial
from typing import Annotated, Any

from django.core.files.storage import default_storage
from django.db import transaction
from django.db.models import Prefetch, Q, QuerySet
from django.http import FileResponse, Http404, HttpRequest
from django.utils import timezone
from ninja import Query, Router
from ninja.security import django_auth
from pydantic import Field

from jungoptic.core.plan.findings import Verdict

from .. import crud, saving
from ..accounts.models import User
from ..kit.models import Lens
from ..permissions import Verb, enter
from ..plans.api import plates_of, shots_of
from ..productions.models import Production
from ..records import Refused
from ..schemas import Conflict, Fields, Out
from ..takes.crew import CameByLink
from ..takes.files import settle
from ..takes.judging import called_take, rows_among, those_that_count, verdicts
from ..takes.models import SetCard, Take
from ..takes.told import takes_of
from . import disk, room
from .answers import PictureList, PictureOut, PictureWhole, open_jobs, quota_of, told, whole
from .fields import LARGEST, PICKED, PLACES, PictureEdit, PictureIn
from .hands import enter_take, refuse_by_link
from .models import Arrival, Picture, PictureFile
from .work import find_camera

router = Router(tags=["pictures"])
#: The most pictures that are listed at once.
MOST_LISTED = 500
#: Pictures never change under their address; a browser may keep them.
KEPT = "private, max-age=31536000, immutable"


class TakeRow(Out):
    """A take of a plate: its judgement, and whether it is the chosen one."""

    id: uuid.UUID
    number: int
    slate: str
    circled: bool
    note: str
    created_at: datetime.datetime
    verdict: Verdict
    advice: str


class PlateRow(Out):
    """A plate of a shot, with its takes, newest first. `card_id`: the newest card that was issued
    for it, on which a take can be logged."""

    id: uuid.UUID
    name: str
    kind: str
    card_id: uuid.UUID | None
    takes: list[TakeRow]


class PicturesPage(PictureList):
    """Everything that was filmed of a shot."""

    number: str
    title: str
    plates: list[PlateRow]


def pictures_of(production: Production) -> QuerySet[Picture]:
    """The pictures of a production."""
    return Picture.objects.filter(production=production)


def listed(pictures: QuerySet[Picture]) -> QuerySet[Picture]:
    """Those pictures with what is told of each."""
    own = pictures.select_related("take__card__plate", "plate", "sent_by")
    return own.defer("take__card__content", "take__card__plan").prefetch_related("files")


def of_shot(shot_id: uuid.UUID) -> Q:
    """Pictures that hang on a shot, its plates, or their takes."""
    return Q(shot_id=shot_id) | Q(plate__shot_id=shot_id) | Q(take__card__plate__shot_id=shot_id)


def _page(production: Production, pictures: QuerySet[Picture]) -> dict[str, Any]:
    jobs = open_jobs(production)
    rows = list(listed(pictures)[: MOST_LISTED + 1])
    return {
        "pictures": told(rows[:MOST_LISTED], jobs),
        "more": len(rows) > MOST_LISTED,
        "quota": quota_of(production),
    }


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/pictures", response=PicturesPage)
def shot_pictures(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """Everything that was filmed of a shot: its plates with their takes and the judgement on each,
    and all pictures, those in the bin too."""
    production = enter(request, production_id, Verb.VIEW)
    shot = shots_of(production).get(pk=shot_id)
    among = rows_among(production, [shot.pk])
    own = [take for take in among if take.card.plate.shot_id == shot.pk]
    found = verdicts(production, own, among)
    takes = [(take, found[take.pk]) for take in reversed(own) if take.pk in found]
    issued = SetCard.objects.only("plate_id", "created_at")
    plates = shot.plates.prefetch_related(Prefetch("cards", issued))
    return {
        **_page(production, pictures_of(production).filter(of_shot(shot_id))),
        "number": shot.number,
        "title": shot.title,
        "plates": [_plate_row(plate, takes) for plate in plates],
    }


def _plate_row(plate: Any, takes: list[tuple[Take, dict[str, Any]]]) -> dict[str, Any]:
    cards = list(plate.cards.all())
    return {
        "id": plate.pk,
        "name": plate.name,
        "kind": plate.kind,
        "card_id": cards[0].pk if cards else None,
        "takes": [_take_row(*one) for one in takes if one[0].card.plate_id == plate.pk],
    }


def _take_row(take: Take, judgement: dict[str, Any]) -> dict[str, Any]:
    names = ("number", "circled", "note", "created_at")
    return {
        **{name: getattr(take, name) for name in names},
        "id": take.pk,
        "slate": take.card.slate,
        **judgement,
    }


class FilmedShot(Out):
    """What was filmed of a shot: of the takes that count the one that is judged worst, in one
    sentence. A plate's take that counts is the last that is circled, else the last."""

    id: uuid.UUID
    verdict: Verdict
    take_id: uuid.UUID
    name: str
    sentence: str


class OfShots(Fields):
    """Shots whose takes are asked about."""

    shots: Annotated[list[uuid.UUID], Field(min_length=1, max_length=50)]


@router.get("/{uuid:production_id}/filmed", response=list[FilmedShot])
def filmed(request: HttpRequest, production_id: uuid.UUID, wanted: Query[OfShots]) -> Any:
    """The worst that was filmed of each named shot; those of which nothing was are left out."""
    production = enter(request, production_id, Verb.VIEW)
    there = list(shots_of(production).filter(pk__in=wanted.shots).values_list("pk", flat=True))
    among = rows_among(production, there)
    own = {pk: [take for take in among if take.card.plate.shot_id == pk] for pk in there}
    counted = {pk: those_that_count(takes) for pk, takes in own.items()}
    said = verdicts(production, [take for takes in counted.values() for take in takes], among)
    found = []
    for shot in dict.fromkeys(pk for pk in wanted.shots if pk in there):
        told_of = [(said[take.pk], take) for take in counted[shot] if take.pk in said]
        if not told_of:
            continue
        judgement, take = max(told_of, key=lambda pair: Verdict(pair[0]["verdict"]).rank)
        found.append(
            {
                "id": shot,
                "verdict": judgement["verdict"],
                "take_id": take.pk,
                "name": called_take(take),
                "sentence": judgement["advice"],
            }
        )
    return found


class Where(Out):
    """Which pictures: those of a take, a plate or a lens; without any of them the library's."""

    take_id: uuid.UUID | None = None
    plate_id: uuid.UUID | None = None
    lens_id: uuid.UUID | None = None


@router.get("/{uuid:production_id}/pictures", response=PictureList)
def list_pictures(request: HttpRequest, production_id: uuid.UUID, where: Query[Where]) -> Any:
    """The pictures of a take, a plate or a lens, or the library: what hangs nowhere."""
    production = enter(request, production_id, Verb.VIEW)
    named = {n: v for n, v in where.model_dump().items() if v is not None}
    loose = {f"{name}__isnull": True for name in PLACES}
    return _page(production, pictures_of(production).filter(**(named or loose)))


@router.get("/{uuid:production_id}/pictures/{uuid:pk}", response=PictureWhole)
def get_picture(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """A picture with its files, and what they say against the plan."""
    production = enter(request, production_id, Verb.VIEW)
    jobs = open_jobs(production)
    return whole(listed(pictures_of(production)).get(pk=pk), jobs)


def _refuse_strangers(production: Production, values: dict[str, Any]) -> None:
    """Where a picture hangs must belong to the production; one place at most."""
    rows: dict[str, Any] = {
        "take_id": takes_of(production),
        "plate_id": plates_of(production),
        "shot_id": shots_of(production),
        "lens_id": Lens.objects.filter(production=production),
    }
    named = [name for name in PLACES if values.get(name) is not None]
    if len(named) > 1:
        raise Refused(named[1], "A picture hangs in one place: name one of them.")
    for name in named:
        if not rows[name].filter(pk=values[name]).exists():
            raise Refused(name, "There is no such thing in this production, or it was removed.")


@router.post(
    "/{uuid:production_id}/pictures", auth=[django_auth, CameByLink()], response=PictureWhole
)
def make_picture(request: HttpRequest, production_id: uuid.UUID, payload: PictureIn) -> Any:
    """Name a picture whose files will be sent (see uploads), or that lies on a disk of ours."""
    hand = enter_take(request, production_id, payload.take_id)
    production, files = hand.production, payload.files
    refuse_by_link(hand, files, payload.elsewhere)

    def values() -> dict[str, Any]:
        wanted = payload.model_dump(exclude={"id", "files"})
        _refuse_strangers(production, wanted)
        if not payload.elsewhere:
            _refuse_too_much(production, hand.account, [file.size for file in files])
        elif any(not file.path for file in files):
            raise Refused("files.0.path", "Say where the file lies: the path on your disk.")
        state = Arrival.READ if payload.elsewhere else Arrival.COMING
        who = {"sent_by": hand.account, "sent_as": hand.typed}
        return {**wanted, "production": production, "state": state, **who}

    with saving.writing(production):
        made = saving.create(hand.user, production, Picture, values, payload.id)
        if hand.account is None and made.take_id != payload.take_id:
            raise Refused("id", "This id is taken; make a new one.")
        if not made.files.exists():
            PictureFile.objects.bulk_create(
                PictureFile(picture=made, position=n, **file.model_dump())
                for n, file in enumerate(files)
            )
    jobs = open_jobs(production)
    return whole(listed(pictures_of(production)).get(pk=made.pk), jobs)


def _refuse_too_much(production: Production, user: User | None, sizes: list[int]) -> None:
    if max(sizes) > LARGEST:
        raise Refused(
            "files",
            f"A file of {max(sizes) / 1e9:,.1f} GB is more than the {LARGEST / 1e9:,.0f} that can "
            "be sent; cut it, or name where it lies on your own disk.",
        )
    if reason := room.why_not(production, user, sum(sizes)):
        cure = "Put some away, or name where the file lies on your own disk."
        raise Refused("files", f"{reason} {cure}")


@router.patch("/{uuid:production_id}/pictures/{uuid:pk}", response={200: PictureOut, 409: Conflict})
def edit_picture(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: PictureEdit
) -> Any:
    """Change a picture: its name, note, what it is for, where it hangs, or put it away and fetch it
    back. The readings of the takes that it leaves and comes to follow."""
    production = enter(request, production_id, Verb.FILM)
    takes: set[uuid.UUID] = set()
    moved: list[uuid.UUID] = []

    def prepare(production: Production, changes: dict[str, Any]) -> dict[str, Any]:
        before = pictures_of(production).get(pk=pk)
        if any(changes.get(name) is not None for name in PLACES):
            changes = {**dict.fromkeys(PLACES), **changes}
        _refuse_strangers(production, changes)
        if "put_away" in changes:
            changes["put_away_at"] = timezone.now() if changes["put_away"] else None
        both = (before.take_id, changes.get("take_id", before.take_id))
        takes.update(one for one in both if one is not None)
        # What a board or marks tell of the camera is told by the plan of where it hangs.
        picked = any(name in changes for name in PICKED)
        if picked or (before.tells_camera and any(name in changes for name in PLACES)):
            moved.append(pk)
        return changes

    with saving.writing(production):
        answer = crud.change(
            request,
            production_id,
            pictures_of,
            pk,
            payload,
            lambda picture: told(
                list(listed(pictures_of(production).filter(pk=picture.pk))), open_jobs(production)
            )[0],
            prepare,
            verb=Verb.FILM,
        )
        for take in takes_of(production).filter(pk__in=takes):
            settle(request.user, production, take)
        if moved:
            find_camera(production, pictures_of(production).get(pk=pk), request.user)
    return answer


@router.delete("/{uuid:production_id}/pictures/{uuid:pk}", response={204: None})
def remove_picture(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a picture for good: one that never arrived, or that lies in the bin."""
    production = enter(request, production_id, Verb.FILM)
    with saving.writing(production):
        for picture in pictures_of(production).filter(pk=pk).prefetch_related("files"):
            if picture.state != Arrival.COMING and not picture.put_away:
                raise Refused("put_away", "Put it away first; what lies in the bin can be removed.")
            for file in picture.files.all():
                transaction.on_commit(partial(disk.let_go, file))
        return crud.drop(request, production_id, pictures_of, pk, verb=Verb.FILM)


@router.get("/{uuid:production_id}/pictures/{uuid:pk}/look", response=bytes)
def look(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    frame: Annotated[int, Field(ge=1, le=100_000_000)],
) -> FileResponse:
    """One of the frames that can be looked at, upright, at most 1920 pixels on a side."""
    picture = pictures_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    if frame not in picture.looks:
        raise Http404("This frame is not among those that can be looked at.")
    answer = file_of(picture.look(frame), content_type="image/jpeg")
    answer["Cache-Control"] = KEPT
    return answer


#: The lowest and the highest of a step of a drawing; null where nothing was told.
Step = tuple[float | None, float | None]


class RowsOut(Out):
    """What was measured of every frame, to be drawn: in as many steps each, over `frames` frames.
    `light` and its thirds `left`, `middle`, `right`: percent against the first frame; `across` and
    `down`: how far the picture lies off, parts of its width; `moved`: the part of the picture in
    which something is that mostly is not; `loud`: decibels under the most that a recording holds,
    empty where there is no sound."""

    frames: int
    fps: float | None
    light: list[Step]
    left: list[Step]
    middle: list[Step]
    right: list[Step]
    across: list[Step]
    down: list[Step]
    moved: list[Step]
    loud: list[Step] = []


@router.get("/{uuid:production_id}/pictures/{uuid:pk}/rows", response=RowsOut)
def rows(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """What was measured frame by frame, to be drawn."""
    picture = pictures_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    if picture.ran is None:
        raise Http404("This picture was not measured frame by frame yet.")
    with _opened(picture.rows) as file:
        return json.load(file)


@router.get("/{uuid:production_id}/pictures/{uuid:pk}/files/{uuid:file_id}", response=bytes)
def fetch_file(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, file_id: uuid.UUID
) -> FileResponse:
    """A file as it was sent, byte for byte."""
    production = enter(request, production_id, Verb.VIEW)
    file = PictureFile.objects.get(pk=file_id, picture=pk, picture__production=production)
    if not file.stored:
        raise Http404("This file is not here: it has not arrived yet, or lies on your own disk.")
    return file_of(file.stored, as_attachment=True, filename=file.name)


def _opened(name: str) -> Any:
    try:
        return default_storage.open(name, "rb")
    except FileNotFoundError:
        raise Http404("This file is gone from the server's disk.") from None


def file_of(name: str, **more: Any) -> FileResponse:
    """A stored file as an answer. Raises Http404 where it is gone."""
    return FileResponse(_opened(name), **more)
