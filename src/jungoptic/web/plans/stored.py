"""A stored shot as a plan in plain JSON values: what calculators, cards and pictures are given."""

from __future__ import annotations

import copy
import json
import uuid
from collections.abc import Sequence
from typing import Any

from django.db.models import Count, Prefetch, prefetch_related_objects
from django.db.models.fields.json import KT

from jungoptic.core.lockoff.group import LOCKED
from jungoptic.core.stage.support import CARRYING

from ..crud import fields_out
from ..documents import CARD_PLAN, VERSION
from ..kit.api import kit_out
from ..productions.models import Production
from .bridge import load
from .fields import PlateFields, ShotFields, StandInFields
from .lockoffs import beside as beside_of
from .lockoffs import pieces, shared
from .models import Plate, Shot


def recipe_hazards(plate: Plate) -> list[str]:
    """The hazards that a plate's recipe brings: those of the recipe and those of its own pass."""
    if plate.use is None:
        return []
    content = plate.use.as_applied
    own = [p["hazards"] for p in content["passes"] if p["key"] == plate.pass_key]
    return list(dict.fromkeys([*content["hazards"], *(key for keys in own for key in keys)]))


def recipe_right(plate: Plate) -> list[str]:
    """What a plate's recipe says must be right, and the marks of its own pass."""
    if plate.use is None:
        return []
    content = plate.use.as_applied
    own = [p["marks"] for p in content["passes"] if p["key"] == plate.pass_key]
    return list(dict.fromkeys([*(m for marks in own for m in marks), *content["right"]]))


#: Cards with takes of a plate, newest first, with what was planned on them; one query for many.
FILMED = "filmed_cards"


def with_takes() -> Prefetch[Any, Any, Any]:
    """What `filmed` asks for, read for all plates of all shots at once."""
    return Prefetch("plates__cards", _cards_with_takes(), to_attr=FILMED)


def _cards_with_takes() -> Any:
    cards = Plate._meta.get_field("cards").related_model
    assert cards is not None
    assert not isinstance(cards, str)
    return (
        cards._default_manager.annotate(take_count=Count("takes"))
        .filter(take_count__gt=0)
        .annotate(as_filmed=KT("plan__plates__0"), plan_version=KT("plan__version"))
        .defer("plan", "content")
        .order_by("-created_at", "id")
    )


def filmed(plate: Plate) -> dict[str, Any] | None:
    """How many takes a plate has, and the shared decisions of its newest card with any."""
    cards = getattr(plate, FILMED, None)
    if cards is None:
        cards = list(_cards_with_takes().filter(plate=plate))
    if not cards:
        return None
    was = cards[0].as_filmed
    plate_then = (json.loads(was) if isinstance(was, str) else was) or {}
    version = int(cards[0].plan_version or 1)
    (was,) = CARD_PLAN.read({VERSION: version, "plates": [plate_then]})["plates"]
    return {
        "takes": sum(card.take_count for card in cards),
        "slate": cards[0].slate,
        "values": {name: was[name] for name in LOCKED if name in was},
    }


def plate_json(plate: Plate) -> dict[str, Any]:
    """A stored plate as the plan holds it, revision included."""
    return {
        **fields_out(plate, PlateFields),
        "recipe_hazards": recipe_hazards(plate),
        "recipe_right": recipe_right(plate),
        "filmed": filmed(plate),
    }


def elsewhere(
    shots: Sequence[Shot], kit: dict[str, Any] | None = None
) -> dict[uuid.UUID, list[dict[str, Any]]]:
    """By shot what its lock-offs have in other shots of the production and in other views. One
    query where nothing is shared; `kit` as for `plan_json`."""
    names = shared(shots)
    if not names:
        return {shot.pk: [] for shot in shots}
    wanted = {pk for where in names.values() for pk, _ in where}
    read = {shot.pk: shot for shot in shots if shot.pk in wanted and _read_before(shot)}
    rows = Shot.objects.filter(pk__in=wanted - read.keys()).select_related("production")
    read |= {s.pk: s for s in rows.prefetch_related("plates__use", "stand_ins", with_takes())}
    kit = bare_kit(shots[0].production) if kit is None else kit
    found = {}
    for shot in sorted(read.values(), key=lambda s: (s.position, s.created_at, s.pk)):
        plan = plan_json(shot, kit=kit, beside=[])
        found[shot.pk] = pieces(shot, plan, load(plan), names)
    return {shot.pk: beside_of(shot, names, found) for shot in shots}


def plan_json(
    shot: Shot,
    plate_id: uuid.UUID | None = None,
    kit: dict[str, Any] | None = None,
    beside: list[dict[str, Any]] | None = None,
) -> dict[str, Any]:
    """The stored shot as a plan in plain JSON values; with `plate_id` only that plate and the
    kit it uses, which is what a set card freezes. `kit` (from `bare_kit`) and `beside` (from
    `elsewhere`) spare reading them for every shot."""
    if not _read_before(shot):
        prefetch_related_objects([shot], "plates__use", "stand_ins", with_takes())
    kit = bare_kit(shot.production) if kit is None else copy.copy(kit)
    if beside is None:
        beside = elsewhere([shot], kit)[shot.pk]
    plates = [plate_json(p) for p in shot.plates.all()]
    if plate_id is not None:
        used = next((p for p in plates if p["id"] == str(plate_id)), {})
        # What stands in the same lock-off or across the same line, for its strip and checklist.
        lines = [s for one in (shot.splits, *(v["splits"] for v in shot.views)) for s in one]
        near = {pid for s in lines for pid in (s["first_id"], s["second_id"])}
        others = [
            p
            for p in plates
            if p is not used
            and used
            and p["view_id"] == used["view_id"]
            and (
                (p["lock_group"] and p["lock_group"] == used["lock_group"])
                or {p["id"], used["id"]} <= near
            )
        ]
        plates = [used, *others] if used else []
        kit["bodies"] = [
            {**b, "modes": [m for m in b["modes"] if m["id"] == used.get("mode_id")]}
            for b in kit["bodies"]
            if b["id"] == used.get("body_id")
        ]
        kit["lenses"] = [x for x in kit["lenses"] if x["id"] == used.get("lens_id")]
        placed = {lamp["lamp_id"] for lamp in used.get("lamps", [])}
        kit["lamps"] = [x for x in kit["lamps"] if x["id"] in placed]
        kit["rooms"] = [r for r in kit["rooms"] if r["id"] == used.get("room_id")]
        kit = carrying(kit)
        kit["supports"] = _named(kit["supports"], used.get("support_id"))
        kit["cords"] = []
        kit["cloths"] = _named(kit["cloths"], used.get("cloth_id"))
        lock = used.get("lock_group")
        beside = [one for one in beside if one["plate"]["lock_group"] == lock]

    return {
        "shot": {n: getattr(shot, n) for n in ShotFields.model_fields},
        "plates": [_bare(p) for p in plates],
        "stand_ins": [_bare(fields_out(s, StandInFields)) for s in shot.stand_ins.all()],
        "beside": beside,
        **kit,
    }


def carrying(kit: dict[str, Any]) -> dict[str, Any]:
    """A kit with those of its rigs alone that rules of a plate ask for: that a camera rides on."""
    return {**kit, "rigs": [r for r in kit["rigs"] if r["axis"] in CARRYING]}


def _named(rows: list[dict[str, Any]], wanted: object) -> list[dict[str, Any]]:
    """The one that a plate names; all of them where it takes what will do."""
    return rows if wanted is None else [r for r in rows if r["id"] == wanted]


def _read_before(shot: Shot) -> bool:
    """Whether a shot has come with all of this, as one of many has."""
    read = getattr(shot, "_prefetched_objects_cache", {})
    if not {"plates", "stand_ins"} <= read.keys():
        return False
    return all(hasattr(plate, FILMED) for plate in read["plates"])


def bare_kit(production: Production) -> dict[str, Any]:
    """The kit of a production as plans hold it: without revisions."""
    kit = {name: [_bare(row) for row in rows] for name, rows in kit_out(production).items()}
    for body in kit["bodies"]:
        body["modes"] = [_bare(mode) for mode in body["modes"]]
    return kit


def _bare(row: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in row.items() if k != "revision"}
