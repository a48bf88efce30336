"""Asking for long work, watching it, stopping it, and fetching what came of it."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any

from django.core.files.storage import default_storage
from django.http import FileResponse, Http404, HttpRequest
from django.utils import timezone
from ninja import Router
from ninja.errors import HttpError
from pydantic import Field, ValidationError

from .. import saving
from ..errors import sentence_of
from ..permissions import Verb, enter, signed_in
from ..productions.models import Membership, Production, Role
from ..records import Refused
from ..schemas import Fields, Out
from . import work
from .kinds import KINDS
from .models import KEPT_FOR, OPEN, Job, State

router = Router(tags=["long work"])

#: So many jobs of one person wait or run at once in a production.
MOST_OPEN = 4
#: The newest of a production that are listed.
MOST_LISTED = 50


class JobIn(Fields):
    """A kind of work and what it needs to know; a second try with the same id asks once."""

    id: uuid.UUID | None = None
    kind: Annotated[str, Field(max_length=40)]
    params: dict[str, Any] = {}


class JobOut(Out):
    """A piece of long work: how far it is, and what came of it."""

    id: uuid.UUID
    kind: str
    name: str
    state: State
    part: float
    told: str
    problem: str
    asked_by: str
    mine: bool
    asked_at: datetime.datetime
    ended_at: datetime.datetime | None
    file_name: str
    result: Any = None


#: Told of a job whose worker has gone.
CUT_OFF = "The work was cut off. Ask for it again."


#: What is told as it is stored; a result only where one job is asked for.
PLAIN = ("id", "kind", "part", "told", "asked_at", "ended_at")


def _out(request: HttpRequest, job: Job, result: bool = True) -> dict[str, Any]:
    return {
        **{name: getattr(job, name) for name in PLAIN},
        "result": job.result if result else None,
        "name": KINDS[job.kind].name if job.kind in KINDS else job.kind,
        "state": State.FAILED if job.cut_off else job.state,
        "problem": CUT_OFF if job.cut_off else job.problem,
        "asked_by": "" if job.asked_by is None else job.asked_by.username,
        "mine": job.asked_by_id == signed_in(request).pk,
        "file_name": job.file_name if job.file else "",
    }


def _jobs(production: Production) -> Any:
    kept = timezone.now() - KEPT_FOR
    return Job.objects.filter(production=production, asked_at__gte=kept).select_related("asked_by")


@router.get("/{uuid:production_id}/jobs", response=list[JobOut])
def list_jobs(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The long work of a production of the last day, newest first; results are asked for one by
    one."""
    jobs = _jobs(enter(request, production_id, Verb.VIEW)).defer("result", "params")[:MOST_LISTED]
    return [_out(request, job, result=False) for job in jobs]


@router.post("/{uuid:production_id}/jobs", response=JobOut)
def ask_for(request: HttpRequest, production_id: uuid.UUID, payload: JobIn) -> Any:
    """Ask for long work."""
    production = enter(request, production_id, Verb.VIEW)
    kind = KINDS.get(payload.kind)
    if kind is None:
        raise Refused("kind", f"{payload.kind} is no kind of work; there are {', '.join(KINDS)}.")
    enter(request, production_id, kind.verb)
    try:
        params = kind.params.model_validate(payload.params)
    except ValidationError as error:
        first = dict(error.errors()[0])
        field = ".".join(map(str, error.errors()[0]["loc"]))
        raise Refused(f"params.{field}", f"{field} {sentence_of(first)}.") from error
    with saving.writing(production):
        if payload.id is not None:
            before = Job.objects.filter(pk=payload.id).select_related("asked_by").first()
            if before is not None and before.production_id == production.pk:
                return _out(request, before)
            if before is not None:
                raise Refused("id", "This id is taken; make a new one.")
        mine = Job.objects.filter(production=production, asked_by=signed_in(request))
        mine = mine.exclude(kind__in=[k.key for k in KINDS.values() if k.own])
        if sum(not job.cut_off for job in mine.filter(state__in=OPEN)) >= MOST_OPEN:
            raise HttpError(
                429, f"{MOST_OPEN} pieces of your work are waiting or running; let one end first."
            )
        job = work.ask_for(production, signed_in(request), kind, params, pk=payload.id)
    return _out(request, job)


@router.get("/{uuid:production_id}/jobs/{uuid:pk}", response=JobOut)
def watch(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """How far a piece of work is, and its result once it has one."""
    return _out(request, _jobs(enter(request, production_id, Verb.VIEW)).get(pk=pk))


@router.post("/{uuid:production_id}/jobs/{uuid:pk}/cancel", response=JobOut)
def cancel(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Stop a piece of work: one's own, or as an owner anybody's. What has ended stays as it is."""
    production = enter(request, production_id, Verb.VIEW)
    job = _jobs(production).get(pk=pk)
    owns = Membership.objects.filter(
        production=production, user=signed_in(request), role=Role.OWNER
    ).exists()
    if job.asked_by_id != signed_in(request).pk and not owns:
        raise HttpError(403, "Whoever asked for this may stop it, and owners of the production.")
    Job.objects.filter(pk=job.pk, state__in=OPEN).update(cancel=True)
    # What nobody has begun, or whose worker is gone, ends at once.
    if job.state == State.WAITING or job.cut_off:
        job.end(State.CANCELLED)
    return _out(request, Job.objects.select_related("asked_by").get(pk=job.pk))


@router.get("/{uuid:production_id}/jobs/{uuid:pk}/file", response=bytes)
def fetch(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> FileResponse:
    """The file that came of a piece of work."""
    job = _jobs(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    if job.state != State.DONE or not job.file:
        raise Http404("There is no file of this work, or not yet.")
    try:
        file = default_storage.open(job.file, "rb")
    except FileNotFoundError:
        raise Http404("This file is gone; ask for it again.") from None
    return FileResponse(file, content_type=job.content_type, filename=job.file_name)
