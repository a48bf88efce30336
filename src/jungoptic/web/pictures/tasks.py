"""Housekeeping of pictures that the background worker does."""

from __future__ import annotations

import datetime
import logging

from django.core.files.storage import default_storage
from django.utils import timezone
from procrastinate.contrib.django import app

from .. import storage
from ..jobs.models import OPEN, Job
from . import disk
from .models import FOLDER, LOOKS, Arrival, Picture, PictureFile
from .work import LOOK_AT, look_at

log = logging.getLogger(__name__)
#: So long a picture lies in the bin, and so long one may take to arrive.
BIN, SENDING = datetime.timedelta(days=30), datetime.timedelta(days=14)
#: A picture that arrived is looked at within this, or asked for again.
PATIENCE = datetime.timedelta(minutes=2)


def look_again() -> int:
    """Have pictures read whose reading was cut off: the worker was killed, or the machine. A second
    time only: what kills its reader twice is left to a person."""
    before = timezone.now() - PATIENCE
    waiting = Picture.objects.filter(state=Arrival.HERE, updated_at__lt=before)
    count = 0
    for picture in waiting.select_related("production", "sent_by"):
        asked = list(Job.objects.filter(kind=LOOK_AT.key, params__picture_id=str(picture.pk)))
        if any(job.state in OPEN and not job.cut_off for job in asked) or len(asked) > 1:
            continue
        look_at(picture.production, picture, picture.sent_by)
        count += 1
    return count


def empty() -> int:
    """Delete what has lain in the bin or been on its way for too long, and files that nothing
    refers to."""
    now = timezone.now()
    gone = Picture.objects.filter(put_away=True, put_away_at__lt=now - BIN)
    gone = gone | Picture.objects.filter(state=Arrival.COMING, updated_at__lt=now - SENDING)
    count = gone.count()
    gone.delete()
    files = PictureFile.objects.exclude(stored="").values_list("stored", flat=True)
    _sweep(FOLDER, set(files))
    looks = Picture.objects.exclude(looks=[]).only("production_id", "looks", "strip")
    shown = {picture.look(frame) for picture in looks for frame in picture.looks}
    shown |= {
        picture.strip_sheet(number + 1)
        for picture in looks
        for number in range(picture.strip_sheets)
    }
    _sweep(LOOKS, shown | {picture.rows for picture in looks})
    there = {str(pk) for pk in PictureFile.objects.values_list("pk", flat=True)}
    for path in disk.unfinished():
        if path.name not in there and now.timestamp() - path.stat().st_mtime > 24 * 3600:
            disk.forget(path)
    return count


def _sweep(folder: str, used: set[str]) -> None:
    try:
        productions = default_storage.listdir(folder)[0]
    except FileNotFoundError:
        return
    for one in productions:
        storage.sweep(f"{folder}/{one}", used)


@app.periodic(cron="*/2 * * * *")
@app.task(queue="housekeeping", name="jungoptic.pictures.look_again")
def look_at_the_rest(timestamp: int) -> None:
    """Every other minute: pictures whose reading was cut off are read again."""
    log.info("pictures to be read again: %d", look_again())


@app.periodic(cron="41 4 * * *")
@app.task(queue="housekeeping", name="jungoptic.pictures.empty")
def empty_the_bin(timestamp: int) -> None:
    """Every night: what has lain in the bin for a month goes for good."""
    log.info("pictures deleted: %d", empty())
