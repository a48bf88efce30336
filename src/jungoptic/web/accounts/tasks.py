"""Housekeeping that the background worker does."""

from __future__ import annotations

from django.core.management import call_command
from procrastinate.contrib.django import app

from . import devices


@app.periodic(cron="17 4 * * *")
@app.task(queue="housekeeping")
def forget_expired_sessions(timestamp: int) -> None:
    """Every night: sessions that have run out are deleted."""
    call_command("clearsessions")
    devices.sweep()
