"""Housekeeping of pictures that the background worker does."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .. import storage
from .models import FOLDER, Sketch

log = logging.getLogger(__name__)


def sweep() -> list[str]:
    """Delete files of pictures that nothing refers to; their names."""
    names = Sketch.objects.values_list("picture", "thumb")
    return storage.sweep(FOLDER, {name for both in names for name in both})


@app.periodic(cron="47 4 * * *")
@app.task(queue="housekeeping")
def sweep_orphans(timestamp: int) -> None:
    """Every night: files that nothing refers to are deleted, and told."""
    gone = sweep()
    log.info("orphans swept: %d %s", len(gone), " ".join(gone[:20]))
