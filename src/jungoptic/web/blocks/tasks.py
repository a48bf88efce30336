"""Housekeeping of blocks that the background worker does."""

from __future__ import annotations

import datetime
import logging

from django.core.files.storage import default_storage
from django.utils import timezone
from procrastinate.contrib.django import app

from .. import storage
from .models import FOLDER, Block, Exposure

log = logging.getLogger(__name__)
#: So long a picture that was dropped can be taken in again, after the block's last change.
BIN = datetime.timedelta(days=30)


def empty() -> int:
    """Delete pictures that were dropped long ago, and files that nothing refers to; how many
    pictures."""
    count = 0
    for block in Block.objects.filter(updated_at__lt=timezone.now() - BIN):
        gone = Exposure.objects.filter(block=block).exclude(number__in=block.order)
        count += gone.count()
        gone.delete()
    files = Exposure.objects.values_list("stored", "proxy")
    used = {name for pair in files for name in pair}
    try:
        productions = default_storage.listdir(FOLDER)[0]
    except FileNotFoundError:
        productions = []
    for one in productions:
        storage.sweep(f"{FOLDER}/{one}", used)
    return count


@app.periodic(cron="17 4 * * *")
@app.task(queue="housekeeping", name="jungoptic.blocks.empty")
def empty_the_bin(timestamp: int) -> None:
    """Every night: pictures dropped a month ago go for good."""
    log.info("dropped pictures deleted: %d", empty())
