"""What the background workers do with jobs: each in a process of its own, that can be stopped."""

from __future__ import annotations

import logging
import subprocess
import time

from django.utils import timezone
from procrastinate.contrib.django import app

from .. import storage
from .again import take_up
from .kinds import KINDS
from .models import FOLDER, KEPT_FOR, OPEN, Job, State
from .warm import HAND, command, environment
from .work import CARRY

log = logging.getLogger(__name__)
#: Bytes of memory that a job may take, and seconds until it counts as lost.
MEMORY, LONGEST_S = 4 << 30, 3600.0
#: How often the process is looked at and told to go on, and how long it may take to end when it is
#: asked to, seconds.
LOOK_S, TELL_S, PATIENCE_S = 0.2, 5.0, 5.0


@app.task(queue="long", name=CARRY)
def carry(job_id: str) -> None:
    """Do a job in a process of its own, or in the one that is warm for its kind; end that when
    nobody wants the job any more."""
    key = Job.objects.filter(pk=job_id).values_list("kind", flat=True).first()
    warm = key in KINDS and KINDS[key].warm
    if warm:
        child = HAND.give(job_id, MEMORY)
    else:
        child = subprocess.Popen(
            command(job_id, MEMORY), env=environment(), stdin=subprocess.DEVNULL
        )
    until, told = time.monotonic() + LONGEST_S, 0.0
    done = False
    try:
        while child.poll() is None:
            now = time.monotonic()
            job = Job.objects.filter(pk=job_id, cancel=False).first()
            done = warm and job is not None and job.state not in OPEN
            if job is None or done or now > until:
                break
            if now - told > TELL_S:
                told = now
                Job.objects.filter(pk=job_id, state=State.RUNNING).update(seen_at=timezone.now())
            time.sleep(LOOK_S)
    finally:
        if not done:
            _ended(child)
    job = Job.objects.filter(pk=job_id).first()
    if job is None:
        return
    if job.cancel:
        job.end(State.CANCELLED)
    else:
        # Ended without a word: killed, or out of memory before it could say so.
        job.end(State.FAILED, problem="The work was cut off: it took too much memory or too long.")


def _ended(child: subprocess.Popen[bytes]) -> None:
    """The process, ended: asked first, then told."""
    if child.poll() is None:
        child.terminate()
        try:
            child.wait(timeout=PATIENCE_S)
        except subprocess.TimeoutExpired:
            child.kill()
            child.wait()


def forget() -> int:
    """Delete jobs whose day is over, with their files, and files whose job is gone; how many."""
    before = timezone.now() - KEPT_FOR
    old = Job.objects.filter(asked_at__lt=before)
    # What is still going on has its day from when it ends.
    gone = old.exclude(state__in=OPEN, seen_at__gte=before)
    count = gone.count()
    gone.delete()
    used = set(Job.objects.exclude(file="").values_list("file", flat=True))
    storage.sweep(FOLDER, used)
    return count


@app.periodic(cron="* * * * *")
@app.task(queue="housekeeping")
def look_after(timestamp: int) -> None:
    """Every minute: work that nobody does any more is begun again."""
    count = take_up()
    if count:
        log.warning("jobs that nobody did any more, begun again: %d", count)


@app.periodic(cron="7 * * * *")
@app.task(queue="housekeeping")
def forget_old(timestamp: int) -> None:
    """Every hour: results whose day is over are deleted."""
    log.info("jobs forgotten: %d", forget())
