"""Doing one job, in this process: see `tasks` for who starts it, and stops it."""

from __future__ import annotations

import logging
import uuid

from django.utils import timezone

from jungoptic.core.impossible import Impossible
from jungoptic.render.engine import NoEngine

from ..printing.child import TooLarge
from ..reading.child import Busy
from ..records import Refused
from .kinds import KINDS
from .models import Job, State
from .work import Cancelled, Work

log = logging.getLogger(__name__)

#: What a person can act on; anything else is a mistake of ours.
TOLD = (Refused, Impossible, NoEngine, TooLarge, Busy)


def carry_out(pk: uuid.UUID | str, aside: bool = False) -> None:
    """Do a job that waits; one that is taken, ended or gone is left alone. `aside`: see `Work`."""
    now = timezone.now()
    begun = Job.objects.filter(pk=pk, state=State.WAITING, cancel=False).update(
        state=State.RUNNING, begun_at=now, seen_at=now
    )
    if not begun:
        return
    job = Job.objects.select_related("production", "asked_by").get(pk=pk)
    try:
        kind = KINDS[job.kind]
        kind.do(Work(job, kind.params.model_validate(job.params), aside))
    except Cancelled:
        job.end(State.CANCELLED)
    except TOLD as error:
        job.end(State.FAILED, problem=str(error)[:500])
    except MemoryError:
        job.end(State.FAILED, problem="This takes more memory than it may; ask for less of it.")
    except Exception:
        log.exception("job failed: %s", job.kind)
        job.end(
            State.FAILED,
            problem="Something went wrong on our side; nothing that you did is wrong. "
            f"It is written down as {job.pk}.",
        )
    else:
        job.end(State.DONE, part=1.0)
