"""What the records that the journal tells of are called, where they still are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from typing import Any

from django.apps import apps

from ..journal.models import Entry
from ..journal.writing import PSEUDONYM

#: By the journal's kind: the model, what is read with it, and how it is called.
CALLED: dict[str, tuple[str, tuple[str, ...], Callable[[Any], str]]] = {
    # By number only: whoever is erased is not named by what others did.
    "member": ("accounts.User", (), lambda r: str(r.username)),
    "shot": ("plans.Shot", (), lambda r: f"shot {r.number}"),
    "plate": ("plans.Plate", ("shot",), lambda r: f"plate {r.name} of shot {r.shot.number}"),
    "standin": ("plans.StandIn", ("shot",), lambda r: f"{r.name} in shot {r.shot.number}"),
    "recipeuse": (
        "plans.RecipeUse",
        ("shot",),
        lambda r: f"the recipe {r.name} in shot {r.shot.number}",
    ),
    "sheet": ("frames.Sheet", ("shot",), lambda r: f"an exposure sheet of shot {r.shot.number}"),
    "setcard": ("takes.SetCard", (), lambda r: f"card {r.slate}"),
    "take": ("takes.Take", ("card",), lambda r: f"take {r.number} of card {r.card.slate}"),
    "picture": ("pictures.Picture", (), lambda r: f"the picture {r.name}"),
    "sketch": ("sketches.Sketch", ("shot",), lambda r: f"a sketch of shot {r.shot.number}"),
    "block": ("blocks.Block", ("shot",), lambda r: f"a block of frames of shot {r.shot.number}"),
    "body": ("kit.Body", (), lambda r: f"the camera {r.name}"),
    "mode": ("kit.Mode", ("body",), lambda r: f"the mode {r.name} of {r.body.name}"),
    "lens": ("kit.Lens", (), lambda r: f"the lens {r.name}"),
    "lamp": ("kit.Lamp", (), lambda r: f"the lamp {r.name}"),
    "room": ("kit.Room", (), lambda r: f"the room {r.name}"),
    "moverig": ("kit.MoveRig", (), lambda r: f"the rig {r.name}"),
    "support": ("kit.Support", (), lambda r: f"the support {r.name}"),
    "person": ("kit.Person", (), lambda r: r.name),
    "cord": ("kit.Cord", (), lambda r: f"the line {r.name}"),
    "cloth": ("kit.Cloth", (), lambda r: f"the cloth {r.name}"),
    "thread": ("breakdown.Thread", (), lambda r: f"the thread {r.name}"),
    "ownrecipe": ("breakdown.OwnRecipe", (), lambda r: f"the recipe {r.name}"),
}
#: What a kind is called where the name of its model does not say it.
PLAIN = {
    "standin": "stand-in",
    "recipeuse": "recipe of a shot",
    "ownrecipe": "recipe",
    "moverig": "rig",
    "keptthread": "thread kept in a shot",
    "annotation": "line on a sketch",
    "sheet": "exposure sheet",
}


def called(entries: Iterable[Entry]) -> dict[tuple[str, str], str]:
    """What the records of some entries are called, by kind and id: one query for each kind."""
    wanted: dict[str, set[str]] = defaultdict(set)
    for one in entries:
        if one.kind in CALLED:
            wanted[one.kind].add(one.record_id)
    found = {}
    for kind, ids in wanted.items():
        name, beside, words = CALLED[kind]
        model = apps.get_model(name)
        rows = getattr(model, "everything", model.objects).filter(pk__in=ids)
        for record in rows.select_related(*beside) if beside else rows:
            found[kind, str(record.pk)] = words(record)
    return found


def plainly(entry: Entry) -> str:
    """A record that is gone, by what the journal keeps of it."""
    if entry.kind == "member":
        return PSEUDONYM.format(number=entry.record_id)
    if entry.kind == "production":
        return "the production"
    kind = PLAIN.get(entry.kind) or _by_model(entry.kind)
    for told in (entry.before, entry.after):
        for name in ("name", "title", "slate", "number"):
            if isinstance(told, dict) and told.get(name):
                return f"{kind} {told[name]}"
    return f"{'an' if kind[0] in 'aeiou' else 'a'} {kind}"


def _by_model(kind: str) -> str:
    """A kind in the words of its model's name."""
    models = (model for model in apps.get_models() if model._meta.model_name == kind)
    return next((str(model._meta.verbose_name) for model in models), kind)
