"""For whoever watches the server: is it alive, can it serve, does the work behind it go on?"""

from __future__ import annotations

import datetime
from typing import Any

from django.db import connection
from django.db.models import Min, Q
from django.http import HttpRequest
from ninja import Router, Schema
from procrastinate.contrib.django.models import ProcrastinateJob

router = Router(tags=["health"])

#: A job that could have begun this long ago and has not: no worker is there, or too few.
OVERDUE = datetime.timedelta(minutes=5)


class Live(Schema):
    """The process answers."""

    ok: bool


class Ready(Schema):
    """The database answers too. `waiting`, `running` and `failed` count the jobs behind the scenes;
    `overdue`: one of them should have begun minutes ago."""

    ok: bool
    waiting: int
    running: int
    failed: int
    overdue: bool


@router.get("/live", auth=None, response=Live)
def live(request: HttpRequest) -> dict[str, bool]:
    """Whether this process answers; asks nothing of anybody else. Restart it when it does not."""
    return {"ok": True}


@router.get("/ready", auth=None, response=Ready)
def ready(request: HttpRequest) -> dict[str, Any]:
    """Whether it can serve: the database answers (503 otherwise), and what the jobs do."""
    with connection.cursor() as cursor:
        cursor.execute("select now()")
        now: datetime.datetime = cursor.fetchone()[0]
    jobs = ProcrastinateJob.objects
    due = Q(scheduled_at=None) | Q(scheduled_at__lte=now)
    # A job without a date of its own begins as soon as a worker is free: its first event says when
    # it was asked for.
    asked = jobs.filter(due, status="todo").aggregate(at=Min("procrastinateevent__at"))["at"]
    return {
        "ok": True,
        "waiting": jobs.filter(due, status="todo").count(),
        "running": jobs.filter(status="doing").count(),
        "failed": jobs.filter(status="failed").count(),
        "overdue": asked is not None and now - asked > OVERDUE,
    }


@router.get("", auth=None, response=Live)
def health(request: HttpRequest) -> dict[str, bool]:
    """The short form: alive, and the database answers."""
    with connection.cursor() as cursor:
        cursor.execute("select 1")
    return {"ok": True}
