"""A clip or a sequence measured frame by frame, as work behind the scenes. Loaded where files are
read, which is never in a web process."""

from __future__ import annotations

import dataclasses
import json
from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import transaction

from jungoptic.core.filmed.run import frames_told
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.pictures.ran import Ran
from jungoptic.core.pictures.telling import drawn, drawn_loud, told
from jungoptic.media import reading
from jungoptic.media import run as frame_by_frame
from jungoptic.media.kinds import Unreadable
from jungoptic.media.sound import heard

from .. import documents, saving
from ..jobs.work import Work
from ..records import Refused
from . import disk
from .judging import Plans
from .looking import LOOK_PX, write_look
from .models import Picture
from .work import Which, running

#: At most so many further frames can be looked at, those that something is said of.
FURTHER = 12


def measured(work: Work[Which]) -> None:
    """Measure a picture frame by frame, and keep what came of it and the frames it names."""
    picture, read = running(work, work.params.picture_id)
    files = list(picture.files.select_related("picture"))
    with disk.at_hand(files) as paths:
        try:
            keep(picture, paths, read, lambda done, of: work.tell(done, of, "frames"))
        except Unreadable as error:
            raise Refused("picture_id", str(error)) from error
    with saving.writing(work.production), transaction.atomic():
        fresh = Picture.objects.select_for_update(of=("self",)).filter(pk=picture.pk).first()
        # Read once more meanwhile, it will be measured once more.
        if fresh is None or fresh.facts != picture.facts:
            return
        fresh.ran = picture.ran
        # Somebody may have asked for another frame meanwhile.
        fresh.looks = sorted({*fresh.looks, *picture.looks})
        fresh.revision += 1
        fresh.save()
        saving.write_down(work.user, work.production, fresh, "measured")


def keep(picture: Picture, paths: Sequence[Path], read: Facts, tell: Any = reading.quiet) -> None:
    """Measure the files of a picture; what came of it stands in it, unsaved, and on the disk.
    Raises Unreadable."""
    run = frame_by_frame.measured(paths, read, tell)
    hearing = None
    if read.kind == "clip" and read.sound_hz is not None:
        hearing = heard(paths[0], lambda: tell(run.frames, run.frames))
    ran = replace(told(run), heard=None if hearing is None else hearing.done())
    picture.ran = documents.RAN.stamped(dataclasses.asdict(ran))
    loud = [] if hearing is None or not read.fps else drawn_loud(hearing, run.frames / read.fps)
    rows = {"frames": run.frames, "fps": read.fps, "loud": loud, **drawn(run)}
    default_storage.delete(picture.rows)
    default_storage.save(picture.rows, ContentFile(json.dumps(rows).encode()))
    further = [frame for frame in _worth(picture, ran) if frame not in picture.looks]
    for frame, shown in reading.looks_at(paths, read, further[:FURTHER], LOOK_PX):
        write_look(picture.look(frame), shown)
        picture.looks = sorted({*picture.looks, frame})


def _worth(picture: Picture, ran: Ran) -> Iterable[int]:
    """Frames that something is said of, by the plan or without one."""
    return sorted({*ran.told_frames, *frames_told(Plans().findings(picture))})
