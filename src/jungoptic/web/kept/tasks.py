"""Housekeeping that the background worker does."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .answers import forget

log = logging.getLogger(__name__)


@app.periodic(cron="37 * * * *")
@app.task(queue="housekeeping")
def forget_answers(timestamp: int) -> None:
    """Every hour: answers of a week ago are deleted, and those beyond the most."""
    log.info("answers forgotten: %d", forget())
