"""Steps: several records made, changed or put away at once, written down so that they can be
undone and redone as one.

A step is one transaction: either all of it is stored or nothing. Undo never tramples on what
somebody changed since: it refuses and says what.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

from django.apps import apps
from django.db import transaction
from django.utils import timezone

from . import saving
from .documents import STEP
from .journal import writing as journal
from .records import Record, Refused, plain, values_of

#: What a step may touch, by the name used in its operations.
MODELS = {
    "shot": "plans.Shot",
    "plate": "plans.Plate",
    "standin": "plans.StandIn",
    "recipeuse": "plans.RecipeUse",
    "sheet": "frames.Sheet",
}
#: How many steps a person can go back.
KEPT_STEPS = 100
NOT_VALUES = {"id", "revision", "created_at", "updated_at", "removed_at"}
R = TypeVar("R", bound=Record)


def _manager(name: str) -> Any:
    model = apps.get_model(MODELS[name])
    return getattr(model, "everything", model.objects)


def decisions(record: Record) -> list[str]:
    """The names of every stored decision of a record."""
    return [f.attname for f in record._meta.concrete_fields if f.attname not in NOT_VALUES]


def values(record: Record) -> dict[str, Any]:
    """Every stored decision of a record, as JSON can hold it."""
    return values_of(record, decisions(record))


class Recorder:
    """A step in the making: see `recording`."""

    def __init__(self, user: Any, production: Any, label: str) -> None:
        self.user, self.production, self.label = user, production, label
        self.ops: list[dict[str, Any]] = []
        #: The stored step, once the block has ended; None when nothing was done.
        self.step: Any = None

    def _store(self) -> None:
        """Write the step down; it ends what could be redone, and the oldest steps are let go."""
        if not self.ops:
            return
        mine = apps.get_model("breakdown.BoardStep").objects.filter(
            production=self.production, user=self.user
        )
        mine.filter(undone=True).delete()
        self.step = mine.create(
            production=self.production,
            user=self.user,
            label=self.label,
            ops=STEP.stamped({"ops": self.ops}),
        )
        oldest = mine.order_by("-id").values_list("pk", flat=True)[KEPT_STEPS : KEPT_STEPS + 1]
        for pk in oldest:
            mine.filter(pk__lte=pk).delete()

    def make(self, model: type[R], **fields: Any) -> R:
        """Make a record."""
        record = model(**fields)
        record.rules()
        record.save(force_insert=True)
        self._note("make", record, after=values(record))
        saving.write_down(self.user, self.production, record, "made", after=values(record))
        return record

    def make_many(self, made: list[Any]) -> None:
        """Make many records of one kind in few queries."""
        if not made:
            return
        for record in made:
            record.rules()
        type(made[0])._default_manager.bulk_create(made)
        entries = []
        for record in made:
            after = values(record)
            self._note("make", record, after=after)
            kind = record._meta.model_name or ""
            entries.append(
                journal.entry(self.user, self.production.pk, kind, record.pk, "made", after=after)
            )
        journal.write_many(entries)

    def change(self, record: Record, **fields: Any) -> None:
        """Change fields of a record; those that are the same already are left alone.

        The row is read again under a lock first, so that an edit made a moment ago by somebody
        else is neither lost nor mistaken for this one.
        """
        manager = _manager(record._meta.model_name or "")
        fresh = manager.select_for_update(of=("self",)).get(pk=record.pk)
        before = {n: plain(getattr(fresh, n)) for n in fields}
        after = {n: plain(v) for n, v in fields.items()}
        changed = [n for n in fields if before[n] != after[n]]
        for name in fields:
            setattr(record, name, fields[name])
        if not changed:
            return
        for name in changed:
            setattr(fresh, name, fields[name])
        fresh.rules()
        fresh.revision += 1
        fresh.save()
        record.revision = fresh.revision
        was, now = {n: before[n] for n in changed}, {n: after[n] for n in changed}
        self._note("change", record, before=was, after=now)
        saving.write_down(self.user, self.production, record, "edited", before=was, after=now)

    def put_away(self, shot: Any) -> None:
        """Put a shot away."""
        shot.removed_at = timezone.now()
        shot.revision += 1
        shot.save(update_fields=["removed_at", "revision", "updated_at"])
        self._note("put_away", shot)
        saving.write_down(self.user, self.production, shot, "removed", before=values(shot))

    def _note(self, op: str, record: Record, **what: Any) -> None:
        name = record._meta.model_name or ""
        self.ops.append({"op": op, "model": name, "id": str(record.pk), **what})


@contextmanager
def recording(user: Any, production: Any, label: str) -> Iterator[Recorder]:
    """A step in the making: leaving the block stores it; an error in it undoes all of it."""
    with saving.writing(production):
        recorder = Recorder(user, production, label)
        yield recorder
        recorder._store()


def ops_of(step: Any) -> list[dict[str, Any]]:
    """What a stored step did, in today's form. The first steps were stored as a bare list."""
    stored = step.ops
    found = STEP.read({"ops": stored} if isinstance(stored, list) else stored)
    ops: list[dict[str, Any]] = found["ops"]
    return ops


@transaction.atomic
def undo(step: Any, user: Any = None) -> None:
    """Take a step back. Raises `Refused` when something in it was changed or used since."""
    ops = ops_of(step)
    for op in reversed(ops):
        if op["op"] == "make":
            _unmake(op)
        elif op["op"] == "change":
            _swap(op, "after", "before")
        else:
            _show(op["id"], True)
    step.undone, step.ops = True, STEP.stamped({"ops": ops})
    step.save()
    _told(step, user, "undone")


@transaction.atomic
def redo(step: Any, user: Any = None) -> None:
    """Do an undone step again. Raises `Refused` when something in it was changed since."""
    for op in ops_of(step):
        if op["op"] == "make":
            _remake(op)
        elif op["op"] == "change":
            _swap(op, "before", "after")
        else:
            _show(op["id"], False)
    step.undone = False
    step.save()
    _told(step, user, "redone")


def _told(step: Any, user: Any, action: str) -> None:
    touched = [{"op": op["op"], "model": op["model"], "id": op["id"]} for op in ops_of(step)]
    told = {"label": step.label, "touched": touched}
    journal.write(user or step.user, step.production_id, "step", step.pk, action, after=told)


def _show(pk: str, shown: bool) -> None:
    """Fetch a shot back or put it away."""
    shot = _manager("shot").select_for_update(of=("self",)).filter(pk=pk).first()
    if shot is not None:
        shot.removed_at = None if shown else timezone.now()
        shot.revision += 1
        shot.save()


def _unmake(op: dict[str, Any]) -> None:
    if op["model"] == "shot":
        _show(op["id"], False)
        return
    record = _manager(op["model"]).filter(pk=op["id"]).first()
    if record is None:
        return
    if op["model"] == "plate" and record.cards.exists():
        raise Refused(
            "step", f"{record.name} has issued set cards by now; undo would lose them and takes."
        )
    # What was edited since comes back with redo.
    op["after"] = values(record)
    record.delete()


def _remake(op: dict[str, Any]) -> None:
    if op["model"] == "shot":
        _show(op["id"], True)
        return
    manager = _manager(op["model"])
    if not manager.filter(pk=op["id"]).exists():
        manager.create(id=op["id"], **op["after"])


def _swap(op: dict[str, Any], now: str, then: str) -> None:
    record = _manager(op["model"]).select_for_update(of=("self",)).filter(pk=op["id"]).first()
    if record is None:
        raise Refused("step", "Something that this step changed has been removed since.")
    for name, value in op[now].items():
        if plain(getattr(record, name)) != value:
            raise Refused(
                "step",
                f"{record}: {name.replace('_', ' ')} was changed since; undoing would lose that.",
            )
    for name, value in op[then].items():
        setattr(record, name, value)
    record.revision += 1
    record.save()
