"""What a piece of long work sees of the job it is for."""

from __future__ import annotations

import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Generic, Literal, TypeVar

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import connection, transaction
from django.utils import timezone
from procrastinate.contrib.django import app
from pydantic import BaseModel
from pydantic_core import to_jsonable_python

from ..permissions import Verb
from ..productions.models import Production
from .models import FOLDER, Job, State

P = TypeVar("P", bound=BaseModel)
Queue = Literal["short", "long"]
#: The task that does a job; see `tasks`.
CARRY = "jungoptic.jobs.carry"
#: How often it is told how far the work is, seconds.
EVERY_S = 0.25


class Nothing(BaseModel, extra="forbid"):
    """Work that needs to know nothing more."""


class Cancelled(Exception):
    """Nobody wants this any more."""


class Work(Generic[P]):
    """A job while it is done: who asked for what, and how it is told. `aside`: by a connection of
    its own to the database, since what is told within a transaction nobody hears before its end."""

    def __init__(self, job: Job, params: P, aside: bool = False) -> None:
        self.job, self.params = job, params
        self._connection = connection.copy() if aside else connection
        self._told = 0.0

    @property
    def production(self) -> Production:
        """The production it is for."""
        return self.job.production

    @property
    def user(self) -> Any:
        """Whoever asked."""
        return self.job.asked_by

    def tell(self, done: int, of: int, what: str) -> None:
        """`done` of so many of `what` are through. Raises Cancelled when nobody wants it any
        more."""
        now = time.monotonic()
        if now - self._told < EVERY_S and done < of:
            return
        self._told = now
        table = Job._meta.db_table
        with self._connection.cursor() as cursor:
            cursor.execute(
                f"update {table} set part = %s, told = %s, seen_at = %s"
                " where id = %s and state = %s and not cancel",
                [
                    done / max(of, 1),
                    f"{done:,} of {of:,} {what}",
                    timezone.now(),
                    self.job.pk,
                    State.RUNNING.value,
                ],
            )
            if cursor.rowcount == 0:
                raise Cancelled

    def keep(self, result: Any) -> None:
        """What came of it, as JSON can hold it: infinity, which that cannot say, becomes null."""
        plain = to_jsonable_python(result, inf_nan_mode="null")
        Job.objects.filter(pk=self.job.pk).update(result=plain)

    def keep_file(self, name: str, content_type: str, data: bytes) -> None:
        """The file that came of it."""
        stored = default_storage.save(f"{FOLDER}/{self.job.pk}", ContentFile(data))
        Job.objects.filter(pk=self.job.pk).update(
            file=stored, file_name=name, content_type=content_type
        )


@dataclass(frozen=True)
class Kind(Generic[P]):
    """A kind of long work: what it is called, who may ask for it, what it needs to know, who does
    it, and whether somebody waits beside it (`short`) or comes back for it (`long`). `warm`: what
    does it takes long to load, and is kept for the next one. `own`: the application asks for it by
    itself, so that it takes nothing of anybody's share."""

    key: str
    name: str
    verb: Verb
    params: type[P]
    do: Callable[[Work[P]], None]
    queue: Queue = "long"
    warm: bool = False
    own: bool = False


def ask_for(
    production: Production,
    user: Any,
    kind: Kind[P],
    params: P,
    queue: Queue | None = None,
    pk: uuid.UUID | None = None,
) -> Job:
    """Have a piece of work done; begun once what is being written now is stored."""
    job = Job.objects.create(
        id=pk or uuid.uuid4(),
        production=production,
        asked_by=user,
        kind=kind.key,
        params=params.model_dump(mode="json"),
    )
    told, into = str(job.pk), queue or kind.queue
    transaction.on_commit(lambda: app.configure_task(CARRY, queue=into).defer(job_id=told))
    return job
