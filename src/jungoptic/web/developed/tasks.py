"""Housekeeping of developed pictures that the background worker does."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .. import storage
from .models import FOLDER, Developed

log = logging.getLogger(__name__)


@app.periodic(cron="53 4 * * *")
@app.task(queue="housekeeping", name="jungoptic.developed.sweep")
def sweep_developed(timestamp: int) -> None:
    """Every night: pictures whose shot or plate is gone are deleted."""
    gone = storage.sweep(FOLDER, set(Developed.objects.values_list("picture", flat=True)))
    log.info("developed pictures swept: %d", len(gone))
