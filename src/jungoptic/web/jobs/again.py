"""Work that was asked for and that nobody does any more: its worker was killed, or lost the
database, before it had begun."""

from __future__ import annotations

import datetime

from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from .kinds import KINDS
from .models import Job, State
from .work import CARRY

#: Work that waits for longer is looked after; a worker that was silent for so long is gone.
PATIENCE = datetime.timedelta(seconds=60)


def take_up() -> int:
    """Have all of it begun again; how many. Work that somebody has begun meanwhile is begun once:
    see `carry_out`."""
    before = timezone.now() - PATIENCE
    waiting = Job.objects.filter(state=State.WAITING, cancel=False, asked_at__lt=before)
    count = 0
    for pk, kind in waiting.values_list("pk", "kind"):
        told = str(pk)
        rows = ProcrastinateJob.objects.filter(task_name=CARRY, args__job_id=told)
        queued = rows.filter(status="todo")
        being_done = rows.filter(status="doing", worker__last_heartbeat__gte=before)
        if queued.exists() or being_done.exists():
            continue
        last = rows.order_by("-id").values_list("queue_name", flat=True).first()
        app.configure_task(CARRY, queue=last or KINDS[kind].queue).defer(job_id=told)
        count += 1
    return count
