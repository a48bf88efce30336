"""Small pictures of every frame. Loaded where files are read, which is never in a web process."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from django.db import transaction

from jungoptic.core.pictures.facts import Facts
from jungoptic.core.pictures.heard import SILENT_DB
from jungoptic.core.pictures.telling import drawn_loud
from jungoptic.media.following import following
from jungoptic.media.kinds import Unreadable
from jungoptic.media.sound import heard

from .. import saving
from ..jobs.work import Work
from ..records import Refused
from . import disk
from .looking import write_look
from .models import A_SHEET, ACROSS, DOWN, Picture
from .work import Which, running

#: So large is a small picture, and so many frames of a long clip have one.
CELL_PX, MOST = 160, 4800
#: Whoever waits is told of every so many frames, and may stop.
TOLD = 10


def draw(work: Work[Which]) -> None:
    """Keep small pictures of every frame, and how loud it is there."""
    picture, read = running(work, work.params.picture_id)
    count = min(read.frames, MOST)
    with disk.at_hand(list(picture.files.select_related("picture"))) as paths:
        try:
            wide, high = _sheets(work, picture, paths, read, count)
            loud = _loud(work, paths, read, count)
        except Unreadable as error:
            raise Refused("picture_id", str(error)) from error
    told = {"frames": count, "wide": wide, "high": high, "fps": read.fps, "loud": loud}
    with saving.writing(work.production), transaction.atomic():
        Picture.objects.filter(pk=picture.pk).update(strip=told)
    work.keep({"frames": count})


def _sheets(
    work: Work[Which], picture: Picture, paths: list[Path], read: Facts, count: int
) -> tuple[int, int]:
    """Draw the sheets; how wide and high a small picture is."""
    sheet, size = None, (0, 0)
    shown = following(paths, read, range(1, count + 1), CELL_PX)
    for number, cell in enumerate(shown):
        high, wide = cell.shape[:2]
        if sheet is None:
            size = wide, high
            sheet = np.zeros((DOWN * high, ACROSS * wide, 3), np.uint8)
        row, column = divmod(number % A_SHEET, ACROSS)
        # A still of another size among a sequence lies in its corner.
        top, left = row * size[1], column * size[0]
        part = cell[: size[1], : size[0]]
        sheet[top : top + part.shape[0], left : left + part.shape[1]] = part
        if number % A_SHEET == A_SHEET - 1 or number == count - 1:
            write_look(picture.strip_sheet(number // A_SHEET + 1), sheet)
            sheet[:] = 0
        if number % TOLD == TOLD - 1:
            work.tell(number + 1, count, "frames")
    return size


def _loud(work: Work[Which], paths: list[Path], read: Facts, count: int) -> list[int]:
    if read.kind != "clip" or read.sound_hz is None or not read.fps:
        return []
    hearing = heard(paths[0], lambda: work.tell(count, count, "frames"))
    if hearing is None:
        return []
    steps = drawn_loud(hearing, read.frames / read.fps, read.frames)[:count]
    return [round(SILENT_DB) if high is None else round(high) for _, high in steps]
