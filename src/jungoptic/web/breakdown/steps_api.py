"""Undo and redo of what was done to several records at once."""

from __future__ import annotations

import datetime
import uuid
from typing import Any

from django.http import HttpRequest
from ninja import Router

from .. import saving, steps
from ..permissions import Verb, enter, signed_in
from ..records import Refused
from ..schemas import Out
from .models import BoardStep

router = Router(tags=["steps"])


class StepOut(Out):
    """A step of the Board, by number, with its name for the undo button."""

    id: int
    label: str
    at: datetime.datetime
    undone: bool
    made: list[uuid.UUID]


def step_out(step: BoardStep) -> dict[str, Any]:
    """A step, ready for JSON; `made` lists the shots that it made."""
    made = [op["id"] for op in steps.ops_of(step) if op["op"] == "make" and op["model"] == "shot"]
    return {
        "id": step.pk,
        "label": step.label,
        "at": step.at,
        "undone": step.undone,
        "made": made,
    }


class StepsOut(Out):
    """What the signed-in person can undo and redo next."""

    undo: StepOut | None
    redo: StepOut | None


def steps_out(user: Any, production: Any) -> dict[str, Any]:
    """The next step to undo and to redo, of this person in this production."""
    mine = BoardStep.objects.filter(production=production, user=user)
    done = mine.filter(undone=False).order_by("-id").first()
    undone = mine.filter(undone=True).order_by("id").first()
    return {
        "undo": None if done is None else step_out(done),
        "redo": None if undone is None else step_out(undone),
    }


@router.get("/{uuid:production_id}/steps", response=StepsOut)
def list_steps(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """What can be undone and redone."""
    return steps_out(request.user, enter(request, production_id, Verb.VIEW))


@router.post("/{uuid:production_id}/steps/{int:pk}/undo", response=StepsOut)
def undo_step(request: HttpRequest, production_id: uuid.UUID, pk: int) -> Any:
    """Take back a step, if nothing in it was changed since."""
    return _turn(request, production_id, pk, steps.undo, False)


@router.post("/{uuid:production_id}/steps/{int:pk}/redo", response=StepsOut)
def redo_step(request: HttpRequest, production_id: uuid.UUID, pk: int) -> Any:
    """Do an undone step again."""
    return _turn(request, production_id, pk, steps.redo, True)


def _turn(request: HttpRequest, production_id: uuid.UUID, pk: int, way: Any, undone: bool) -> Any:
    production = enter(request, production_id, Verb.PLAN)
    mine = BoardStep.objects.filter(production=production, user=signed_in(request))
    with saving.writing(production):
        step = mine.select_for_update(of=("self",)).get(pk=pk)
        if step.undone is not undone:
            raise Refused("step", "This step has been taken back or done again already.")
        way(step, request.user)
    return steps_out(request.user, production)
