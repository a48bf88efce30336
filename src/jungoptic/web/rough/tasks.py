"""Housekeeping of rough composites that the background worker does."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .. import storage
from .models import FOLDER, Rough

log = logging.getLogger(__name__)


@app.periodic(cron="57 4 * * *")
@app.task(queue="housekeeping", name="jungoptic.rough.sweep")
def sweep_rough(timestamp: int) -> None:
    """Every night: composites whose shot is gone are deleted."""
    both = Rough.objects.values_list("composite", "planned")
    gone = storage.sweep(FOLDER, {name for names in both for name in names})
    log.info("rough composites swept: %d", len(gone))
