"""Lock-offs of a production: a set-up that stands once and serves several plates, of one shot or of
several. Its name tells it from any other."""

from __future__ import annotations

import math
import uuid
from collections import defaultdict
from collections.abc import Collection, Iterable
from typing import Any

from jungoptic.core import plan as core
from jungoptic.core.lockoff.group import numbers_of
from jungoptic.core.plan import seen_from_own

from .bridge import MOST_BESIDE
from .models import Plate, Shot
from .views import view_of

#: The longest name.
LONGEST = 20
Where = tuple[uuid.UUID, str | None]


def plates_in(production_id: uuid.UUID) -> Any:
    """The plates of a production that are in a lock-off."""
    found = Plate.objects.filter(shot__production_id=production_id, shot__removed_at=None)
    return found.exclude(lock_group="")


def names_taken(production_id: uuid.UUID) -> set[str]:
    """What the lock-offs of a production are called."""
    return set(plates_in(production_id).values_list("lock_group", flat=True).distinct())


def free_name(taken: Collection[str], number: str, letter: str) -> str:
    """A name for a lock-off that a shot begins, "3-A", that is not taken."""
    for more in ("", *range(2, 1000)):
        end = f"-{letter}{more}"
        name = f"{number[: LONGEST - len(end)]}{end}"
        if name not in taken:
            return name
    return uuid.uuid4().hex[:LONGEST]


def names_of_copy(taken: Collection[str], number: str, names: Iterable[str]) -> dict[str, str]:
    """New names for the lock-offs of a copied shot, by those they had."""
    found: dict[str, str] = {}
    for name in dict.fromkeys(n for n in names if n):
        letter = name.rsplit("-", 1)[-1][:8]
        found[name] = free_name({*taken, *found.values()}, number, letter)
    return found


def names_in(shots: Iterable[Shot]) -> set[str]:
    """What the lock-offs of some shots are called."""
    return {p.lock_group for shot in shots for p in shot.plates.all()} - {""}


def first_shots(
    production_id: uuid.UUID, names: Collection[str]
) -> dict[str, tuple[uuid.UUID, str]]:
    """By lock-off the shot that sets it up, the first in story order, and its number."""
    if not names:
        return {}
    rows = plates_in(production_id).filter(lock_group__in=names)
    # Of a name that comes again the last stays.
    backwards = rows.order_by("-shot__position", "-shot__created_at", "-shot_id")
    told = backwards.values_list("lock_group", "shot_id", "shot__number")
    return {name: (pk, number) for name, pk, number in told}


def shared(shots: Collection[Shot]) -> dict[str, set[Where]]:
    """The lock-offs of these shots that stand in two shots, or in two views of one, and where: one
    query, none where these shots have no lock-off."""
    names = names_in(shots)
    if not names:
        return {}
    production = next(iter(shots)).production_id
    found: dict[str, set[Where]] = defaultdict(set)
    rows = plates_in(production).filter(lock_group__in=names)
    for name, shot, view in rows.values_list("lock_group", "shot_id", "view_id"):
        found[name].add((shot, None if view is None else str(view)))
    return {name: where for name, where in found.items() if len(where) > 1}


def pieces(
    shot: Shot, plan: dict[str, Any], whole: core.Shot, names: Collection[str]
) -> list[dict[str, Any]]:
    """The plates of a shot (`plan`, and as the core reads it) that are in one of these lock-offs,
    as `Plan.beside` tells them."""
    told = {one["id"]: one for one in plan["plates"]}
    found = []
    for plate in whole.plates:
        if plate.lock_group not in names:
            continue
        numbers = numbers_of(seen_from_own(whole, plate), plate)
        view = view_of(shot, plate.view_id)
        found.append(
            {
                "plate": told[plate.id],
                "shot": f"shot {shot.number}" + ("" if view is None else f", {view['name']}"),
                "view": "the first camera" if view is None else view["name"],
                "numbers": {k: None if math.isinf(v) else v for k, v in numbers.items()},
            }
        )
    return found


def beside(
    shot: Shot, names: Collection[str], found: dict[uuid.UUID, list[dict[str, Any]]]
) -> list[dict[str, Any]]:
    """Of the `pieces` of all shots what a shot has beside its own; what is filmed first."""
    own = names_in([shot]) & set(names)
    told = []
    for pk, ones in found.items():
        here = pk == shot.pk
        if here and not shot.views:
            continue
        for one in ones:
            if one["plate"]["lock_group"] in own:
                told.append(
                    {
                        "plate": one["plate"],
                        "shot": one["view"] if here else one["shot"],
                        "here": here,
                        "numbers": one["numbers"],
                    }
                )
    told.sort(key=lambda one: one["plate"]["filmed"] is None)
    return told[:MOST_BESIDE]
