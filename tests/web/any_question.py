"""Plans at random out of everything that the forms accept: read off the schemas themselves, so that
a new field is tried from the day it is added."""

from __future__ import annotations

import datetime
import math
import random
import types
import uuid
from typing import Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from jungoptic.web.schemas import OneOf, Within

#: Fields whose free text would mean nothing.
TEXTS = {
    "time_zone": ("UTC", "Europe/London", "nowhere"),
    "subsampling": ("4:2:0", "4:2:2", "4:4:4"),
    "lock_group": ("", "", "A"),
}
#: How often a field is left as it begins, its bounds are tried, or anything between them.
AS_IT_IS, AT_A_BOUND, USUAL = 0.6, 0.04, 0.25


class Ids:
    """The ids of one plan, so that what refers to something mostly finds it."""

    def __init__(self, rng: random.Random) -> None:
        self.rng = rng
        self.of: dict[str, list[str]] = {}

    def new(self, kind: str) -> str:
        one = str(uuid.UUID(int=self.rng.getrandbits(128), version=4))
        self.of.setdefault(kind, []).append(one)
        return one

    def any(self, kind: str) -> str:
        known = self.of.get(kind, [])
        return self.rng.choice(known) if known and self.rng.random() < 0.95 else self.new("gone")


#: What a field that names another record points to.
POINTS_TO = {
    "body_id": "bodies",
    "lens_id": "lenses",
    "mode_id": "modes",
    "room_id": "rooms",
    "lamp_id": "lamps",
    "support_id": "supports",
    "person_id": "people",
    "cloth_id": "cloths",
    "plate_id": "plates",
    "looks_at_id": "stand_ins",
    "first_id": "plates",
    "second_id": "plates",
    "thing_id": "stand_ins",
    "surface_id": "stand_ins",
}


def bounds(info: FieldInfo) -> tuple[float | None, float | None]:
    found = next((m for m in info.metadata if isinstance(m, Within)), None)
    return (None, None) if found is None else (found.low, found.high)


def any_number(rng: random.Random, low: float, high: float, begins: float | None) -> float:
    roll = rng.random()
    if roll < AT_A_BOUND:
        return rng.choice((low, high))
    if roll < AT_A_BOUND + USUAL and isinstance(begins, int | float) and begins:
        return min(max(begins * math.exp(rng.gauss(0.0, 0.5)), low), high)
    least = max(low, 1e-3) if low >= 0 else 1e-2
    size = math.exp(rng.uniform(math.log(least), math.log(max(abs(high), abs(low), 2 * least))))
    value = -size if low < 0 and rng.random() < 0.5 else size
    return min(max(value, low), high)


def any_value(ids: Ids, name: str, info: FieldInfo) -> Any:
    """A value for one field; `...` leaves it as it begins."""
    rng, begins = ids.rng, info.get_default(call_default_factory=True)
    if not info.is_required() and rng.random() < AS_IT_IS:
        return ...
    return of_type(ids, name, info.annotation, info, begins)


def of_type(ids: Ids, name: str, kind: Any, info: FieldInfo, begins: Any) -> Any:
    rng = ids.rng
    if get_origin(kind) in (Union, types.UnionType):
        inner = [a for a in get_args(kind) if a is not type(None)]
        if rng.random() < 0.4 and not info.is_required():
            return None
        kind = inner[0]
    if hasattr(kind, "__metadata__"):
        held = FieldInfo.from_annotation(kind)
        return of_type(ids, name, held.annotation, held, begins)
    words = next((m.words for m in info.metadata if isinstance(m, OneOf)), None)
    if words is not None:
        return rng.choice(words)
    if get_origin(kind) is Literal:
        return rng.choice(get_args(kind))
    if get_origin(kind) is list:
        most = next((m.max_length for m in info.metadata if hasattr(m, "max_length")), 4)
        least = next((m.min_length for m in info.metadata if hasattr(m, "min_length")), 0)
        inside = FieldInfo.from_annotation(get_args(kind)[0])
        count = rng.randint(least, max(min(most, 3), least))
        return [of_type(ids, name, inside.annotation, inside, None) for _ in range(count)]
    if get_origin(kind) is tuple:
        held = [FieldInfo.from_annotation(a) for a in get_args(kind) if a is not ...]
        if get_args(kind)[-1] is ...:
            held = held * rng.randint(0, 3)
        return [of_type(ids, name, h.annotation, h, None) for h in held]
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return any_of(ids, kind)
    if kind is bool:
        return rng.random() < 0.5
    if kind in (int, float):
        low, high = bounds(info)
        value = any_number(rng, -1e6 if low is None else low, 1e6 if high is None else high, begins)
        return round(value) if kind is int else value
    if kind is uuid.UUID:
        return ids.any(POINTS_TO.get(name, "others"))
    if kind is datetime.date:
        year = rng.choice((2026, 2026, 2027, 1, 9999, 1900, 2200))
        return datetime.date(
            year, rng.choice((1, 6, 12)), rng.choice((1, 21, 31)) % 31 or 1
        ).isoformat()
    if kind is str and any("0-9a-f" in (getattr(m, "pattern", "") or "") for m in info.metadata):
        return ids.any(POINTS_TO.get(name, "others"))
    if kind is str:
        return rng.choice(TEXTS.get(name, ("Some words", "Ä", "x")))
    raise TypeError(f"{name}: {kind!r} is not known here")


def any_of(ids: Ids, model: type[BaseModel], **given: Any) -> dict[str, Any]:
    """A model's fields, those in `given` as they are; what one field says of another is kept to."""
    found = dict(given)
    for name, info in model.model_fields.items():
        if name not in given and (value := any_value(ids, name, info)) is not ...:
            found[name] = value
    for low, high in (("low", "high"), ("left_m", "right_m"), ("near_m", "far_m")):
        begins = [model.model_fields[n].default for n in (low, high) if n in model.model_fields]
        if len(begins) == 2:
            ends = sorted((found.get(low, begins[0]), found.get(high, begins[1])))
            found[low], found[high] = ends
    return found


def any_question(seed: int) -> dict[str, Any]:
    """A question for the calculator of a shot: the same for the same seed."""
    from jungoptic.web.calc.api import Question

    rng = random.Random(seed)
    ids = Ids(rng)
    fields = Question.model_fields

    def row(name: str) -> type[BaseModel]:
        found = get_args(fields[name].annotation)[0]
        assert issubclass(found, BaseModel)
        return found

    question: dict[str, Any] = {}
    for name in ("lenses", "lamps", "rooms"):
        question[name] = [
            any_of(ids, row(name), id=ids.new(name)) for _ in range(rng.randint(1, 3))
        ]
    modes = row("bodies").model_fields["modes"]
    question["bodies"] = [
        any_of(
            ids,
            row("bodies"),
            id=ids.new("bodies"),
            modes=[any_of(ids, get_args(modes.annotation)[0], id=ids.new("modes"))],
        )
        for _ in range(rng.randint(1, 2))
    ]
    plates = [ids.new("plates") for _ in range(rng.randint(1, 3))]
    things = [ids.new("stand_ins") for _ in range(rng.randint(0, 5))]
    question["stand_ins"] = [
        any_of(ids, row("stand_ins"), id=one, plate_id=ids.any("plates")) for one in things
    ]
    question["plates"] = []
    for one in plates:
        body = rng.choice(question["bodies"])
        chosen = {"body_id": body["id"], "mode_id": body["modes"][0]["id"]}
        question["plates"].append(
            any_of(ids, row("plates"), id=one, lens_id=ids.any("lenses"), filmed=None, **chosen)
        )
    question["shot"] = any_of(ids, fields["shot"].annotation, number="1", title="A shot")
    question["selected"] = rng.choice(plates)
    question["light_map"] = rng.random() < 0.3
    question["at"] = rng.choice((0.0, 0.4, 1.0))
    return question
