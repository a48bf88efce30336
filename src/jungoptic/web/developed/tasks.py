"""Housekeeping of developed pictures that the background worker does."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .. import storage
from .models import FOLDER, Developed, DryRun

log = logging.getLogger(__name__)


@app.periodic(cron="53 4 * * *")
@app.task(queue="housekeeping", name="jungoptic.developed.sweep")
def sweep_developed(timestamp: int) -> None:
    """Every night: pictures whose shot or plate is gone are deleted."""
    used = set(Developed.objects.values_list("picture", flat=True))
    used |= {name for both in DryRun.objects.values_list("composite", "story") for name in both}
    gone = storage.sweep(FOLDER, used)
    log.info("developed pictures swept: %d", len(gone))
