"""Housekeeping of pictures that the background worker does."""

from __future__ import annotations

import datetime
import logging

from django.core.files.storage import default_storage
from django.utils import timezone
from procrastinate.contrib.django import app

from .models import FOLDER, Sketch

log = logging.getLogger(__name__)
#: A file that nothing refers to may belong to a save that is still going on.
YOUNGEST = datetime.timedelta(days=1)


def sweep() -> list[str]:
    """Delete files of pictures that nothing refers to; their names. What a crash or a full disk
    left behind ends here."""
    names = Sketch.objects.values_list("picture", "thumb")
    used = {name for both in names for name in both}
    try:
        there = default_storage.listdir(FOLDER)[1]
    except FileNotFoundError:
        return []
    before = timezone.now() - YOUNGEST
    gone = []
    for name in (f"{FOLDER}/{file}" for file in there):
        if name not in used and default_storage.get_modified_time(name) < before:
            default_storage.delete(name)
            gone.append(name)
    return gone


@app.periodic(cron="47 4 * * *")
@app.task(queue="housekeeping")
def sweep_orphans(timestamp: int) -> None:
    """Every night: files that nothing refers to are deleted, and told."""
    gone = sweep()
    log.info("orphans swept: %d %s", len(gone), " ".join(gone[:20]))
