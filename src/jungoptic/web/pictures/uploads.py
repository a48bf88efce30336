"""Sending files in parts that can be taken up again: the core protocol of tus 1.0.0.

A file is named when its picture is made; here only its bytes come in. How many are safely on the
disk is written down after every part, whatever ends it: a dropped connection or a killed server
costs no more than what was on its way.
"""

from __future__ import annotations

import fcntl
import os
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import transaction
from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.http.request import UnreadablePostError
from ninja import Router
from ninja.errors import HttpError
from ninja.security import django_auth

from ..middleware import PART
from ..productions.models import Production
from ..records import Refused
from ..takes.crew import CameByLink
from . import disk
from .hands import enter_file
from .models import Arrival, Picture, PictureFile
from .work import look_at

router = Router(tags=["uploads"])
VERSION = "1.0.0"
#: Read off the wire in pieces of so many bytes.
PIECE = 1 << 18


def _answer(file: PictureFile, status: int) -> HttpResponse:
    answer = HttpResponse(status=status)
    answer["Tus-Resumable"] = VERSION
    answer["Upload-Offset"] = str(file.received)
    answer["Upload-Length"] = str(file.size)
    answer["Cache-Control"] = "no-store"
    return answer


@router.api_operation(
    ["HEAD"],
    "/{uuid:production_id}/uploads/{uuid:pk}",
    auth=[django_auth, CameByLink()],
    response=None,
)
def how_far(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """How many bytes of a file have arrived (`Upload-Offset`), of how many (`Upload-Length`)."""
    _, file = enter_file(request, production_id, pk)
    _counted(file)
    return _answer(file, 200)


#: What the description of the API says of the body, which no schema reads.
BYTES = {
    "requestBody": {
        "required": True,
        "content": {PART: {"schema": {"type": "string", "format": "binary"}}},
    }
}


@router.api_operation(
    ["PATCH"],
    "/{uuid:production_id}/uploads/{uuid:pk}",
    auth=[django_auth, CameByLink()],
    response={204: None},
    openapi_extra=BYTES,
)
def send_part(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """Send the next bytes of a file: from `Upload-Offset` on, as application/offset+octet-stream.
    409 where the file does not end there; what has arrived is told in the answer."""
    hand, file = enter_file(request, production_id, pk)
    offset = request.headers.get("Upload-Offset", "")
    if not (offset.isascii() and offset.isdigit() and len(offset) < 16):
        raise Refused("Upload-Offset", "Say from which byte on this is, in Upload-Offset.")
    with _alone(file):
        file.refresh_from_db()
        _counted(file)
        if int(offset) != file.received:
            return _answer(file, 409)
        length = int(request.META.get("CONTENT_LENGTH") or 0)
        if file.received + length > file.size:
            raise Refused("Upload-Offset", f"{file.name} has {file.size:,} bytes; these are more.")
        try:
            _written(request, file, length)
        except (UnreadablePostError, ConnectionError):
            # Whoever sent it is gone; what came is kept.
            raise HttpError(400, "The connection broke; go on from what has arrived.") from None
    if file.received == file.size:
        _arrived(hand.production, file.picture_id, hand.account)
    return _answer(file, 204)


def _counted(file: PictureFile) -> None:
    """Count again what is safe, where the disk has lost some of it. What is kept is whole."""
    if file.stored or file.received == 0:
        return
    path = disk.incoming(file)
    there = path.stat().st_size if path.exists() else 0
    if there < file.received and file.picture.state == Arrival.COMING:
        file.received = there
        file.save(update_fields=["received"])


@contextmanager
def _alone(file: PictureFile) -> Iterator[None]:
    """Nobody else writes into the file meanwhile; who tries is told to come back."""
    handle = os.open(disk.incoming(file), os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise HttpError(423, "This file is being sent from another window already.") from None
        yield
    finally:
        os.close(handle)


def _written(request: HttpRequest, file: PictureFile, length: int) -> None:
    """Append what comes, and write down how much of it is safe."""
    path = disk.incoming(file)
    with path.open("r+b") as out:
        # What was written and never counted is sent anew.
        out.truncate(file.received)
        out.seek(file.received)
        try:
            left = length
            while left > 0 and (piece := request.read(min(PIECE, left))):
                out.write(piece)
                left -= len(piece)
        finally:
            out.flush()
            os.fsync(out.fileno())
            file.received = out.tell()
            file.save(update_fields=["received"])


def _arrived(production: Production, picture_id: uuid.UUID, user: Any) -> None:
    """A file is whole: once all of its picture are, the picture is looked at."""
    with transaction.atomic():
        picture = Picture.objects.select_for_update(of=("self",)).get(pk=picture_id)
        if picture.state != Arrival.COMING:
            return
        if picture.files.filter(received__lt=F("size")).exists():
            return
        picture.state = Arrival.HERE
        picture.save(update_fields=["state", "updated_at"])
        look_at(production, picture, user)
