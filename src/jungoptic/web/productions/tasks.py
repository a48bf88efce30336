"""Housekeeping that the background worker does for productions."""

from __future__ import annotations

import logging

from procrastinate.contrib.django import app

from .bin import empty

log = logging.getLogger("jungoptic.productions")


@app.periodic(cron="27 3 * * *")
@app.task(queue="housekeeping", name="jungoptic.productions.empty")
def empty_the_bin(timestamp: int) -> None:
    """Every night, before files are swept: productions that lay in the bin for a month go."""
    log.info("productions erased: %d", empty())
