"""Housekeeping of set cards that the background worker does."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .. import storage
from .models import FOLDER, SetCard

log = logging.getLogger(__name__)


@app.periodic(cron="57 4 * * *")
@app.task(queue="housekeeping", name="jungoptic.takes.sweep")
def sweep_cards(timestamp: int) -> None:
    """Every night: pictures whose card is gone are deleted."""
    gone = storage.sweep(FOLDER, set(SetCard.objects.values_list("picture", flat=True)))
    log.info("pictures of cards swept: %d", len(gone))
