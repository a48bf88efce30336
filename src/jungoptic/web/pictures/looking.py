"""What is done with a picture that has arrived: kept for good, read, and shown. Loaded where files
are read, which is never in a web process."""

from __future__ import annotations

import dataclasses
import io
from itertools import chain
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import transaction
from PIL import Image

from jungoptic.core.pictures.facts import Facts
from jungoptic.media import frames, reading
from jungoptic.media.kinds import Unreadable

from .. import documents, saving
from ..jobs.work import Work
from ..records import Refused
from ..takes.files import settle
from . import boards, disk, filing
from .models import Arrival, Picture, PictureFile
from .picked import picked_by
from .work import AnyFrame, Which, measure, picture_of, running, runs

#: So many frames all over a picture can be looked at, and so wide they are; at most so many with
#: those that somebody asked for.
LOOKS, LOOK_PX, MOST = 12, 1920, 120
QUALITY = 88


def look(work: Work[Which]) -> None:
    """Keep a picture that has arrived, read it, and fill the readings of its take."""
    picture = picture_of(work, work.params.picture_id)
    if picture.state == Arrival.COMING or picture.elsewhere:
        raise Refused("picture_id", "This picture is not here, so there is nothing to read.")
    files = list(picture.files.select_related("picture"))
    _keep(work, files)
    with disk.at_hand(files) as paths:
        try:
            names, total = [file.name for file in files], sum(file.size for file in files)

            def tell(done: int, of: int) -> None:
                half = total * done // max(of, 1)
                work.tell((total + half) // 1_000_000, 2 * total // 1_000_000, "MB")

            found = read_in(picture, paths, names, tell)
        except Unreadable as error:
            found = {"state": Arrival.REFUSED, "problem": str(error)[:500], "facts": None}
    _store(work, picture, found)
    for file in files:
        disk.let_go(file)


def _keep(work: Work[Which], files: list[PictureFile]) -> None:
    """Keep the files for good, under the names of what is in them."""
    total = sum(file.size for file in files)
    before = 0
    for file in files:
        if not file.stored:
            done = before

            def tell(bytes_done: int, done: int = done) -> None:
                work.tell((done + bytes_done) // 1_000_000, 2 * total // 1_000_000, "MB")

            file.sha256 = disk.checksum(disk.incoming(file), tell)
            file.stored = disk.adopt(file, file.sha256)
            file.save(update_fields=["sha256", "stored"])
        before += file.size


def read_in(
    picture: Picture, paths: list[Any], names: list[str], tell: Any = reading.quiet
) -> dict[str, Any]:
    """What the files of a picture say of themselves, as it is stored, with pictures of them kept.
    Raises Unreadable."""
    if len(paths) > 1:
        facts = reading.sequence_of(paths, names, tell)
    else:
        facts = reading.facts_of(paths[0], tell)
    looks, size = [], (0, 0)
    held_up = boards.board_in(picture, paths, facts)
    for frame, shown in chain(
        reading.looks(paths, facts, LOOKS, LOOK_PX),
        reading.looks_at(paths, facts, _more(picture, held_up, facts), LOOK_PX),
    ):
        size = shown.shape[1], shown.shape[0]
        write_look(picture.look(frame), shown)
        looks.append(frame)
    return {
        "board": held_up,
        "picked": picked_by(picture, facts),
        "state": Arrival.READ,
        "problem": "",
        "ran": None,
        "facts": documents.FACTS.stamped(dataclasses.asdict(facts)),
        "looks": sorted(looks),
        "look_width_px": size[0],
        "look_height_px": size[1],
    }


def _more(picture: Picture, held_up: dict[str, Any] | None, facts: Facts) -> list[int]:
    """Frames that are not shown anyway: the one in which a board is held up, and what could be
    looked at until now, since something may be picked there."""
    more = {frame for frame in picture.looks if frame <= facts.frames}
    if held_up is not None:
        more.add(held_up["seen"]["frame"])
    return sorted(more.difference(frames.spread(LOOKS, facts.frames)))


def show(work: Work[AnyFrame]) -> None:
    """Have a frame of a clip or a sequence, whichever, among those that can be looked at."""
    wanted = work.params
    picture, read = running(work, wanted.picture_id)
    work.keep({"frame": wanted.frame})
    if wanted.frame in picture.looks:
        return
    if wanted.frame > read.frames:
        raise Refused("frame", f"{picture.name} has {read.frames:,} frames.")
    if len(picture.looks) >= MOST:
        raise Refused("frame", f"{MOST} frames of {picture.name} can be looked at, and no more.")
    with disk.at_hand(list(picture.files.select_related("picture"))) as paths:
        try:
            found = dict(reading.looks_at(paths, read, [wanted.frame], LOOK_PX))
        except Unreadable as error:
            raise Refused("frame", f"Frame {wanted.frame:,} cannot be decoded.") from error
    write_look(picture.look(wanted.frame), found[wanted.frame])
    with saving.writing(work.production), transaction.atomic():
        fresh = Picture.objects.select_for_update(of=("self",)).filter(pk=picture.pk).first()
        # Another file may have been read meanwhile: its frames are others.
        if fresh is None or fresh.facts != picture.facts:
            raise Refused("picture_id", "This picture has changed meanwhile: ask once more.")
        fresh.looks = sorted({*fresh.looks, wanted.frame})
        fresh.revision += 1
        fresh.save()


def write_look(name: str, shown: Any) -> None:
    """Keep a frame (h, w, 3) that can be looked at."""
    out = io.BytesIO()
    Image.fromarray(shown).save(out, "JPEG", quality=QUALITY, subsampling=0)
    # Read once more: the same frame, perhaps read better.
    default_storage.delete(name)
    default_storage.save(name, ContentFile(out.getvalue()))


def _store(work: Work[Which], picture: Picture, found: dict[str, Any]) -> None:
    with saving.writing(work.production), transaction.atomic():
        fresh = Picture.objects.select_for_update(of=("self",)).filter(pk=picture.pk).first()
        if fresh is None:
            return
        for name, value in found.items():
            setattr(fresh, name, value)
        if fresh.state == Arrival.READ:
            filing.file_it(work.user, fresh)
        fresh.revision += 1
        fresh.save()
        told = {"state": str(fresh.state), "problem": fresh.problem}
        saving.write_down(work.user, work.production, fresh, "read", after=told)
        if fresh.take is not None:
            filing.in_order(work.user, work.production, fresh.take.card)
            settle(work.user, work.production, fresh.take)
        if runs(fresh):
            measure(work.production, fresh, work.user)
