"""A field has one meaning: core, schema and model agree on its name, default, bounds and choices,
and the test says which of them was forgotten when one is added."""

from __future__ import annotations

import dataclasses
import math
import typing
from dataclasses import dataclass, field
from typing import Any, Literal, get_args, get_origin

import pytest
from django.db import models
from pydantic import BaseModel
from pydantic.fields import FieldInfo

from jungoptic.core import plan as core
from jungoptic.core.plan.kit import MoveRig
from jungoptic.core.plan.standins import StandIn as CoreStandIn
from jungoptic.web.kit import fields as kit_api
from jungoptic.web.kit import models as kit
from jungoptic.web.plans import fields as plan_fields
from jungoptic.web.plans import models as plans
from jungoptic.web.schemas import Within

#: What every saved thing carries beside its fields, and what says where it belongs.
OF_THE_RECORD = {"id", "revision", "created_at", "updated_at"}
OWNERS = {"production_id", "shot_id", "body_id"}
LOAN = {"borrowed", "loan_first", "loan_last"}


@dataclass(frozen=True)
class Kind:
    """One kind of record in its three forms, and what only one of them has, with the reason."""

    name: str
    schema: type[BaseModel]
    model: type[models.Model]
    core: type[Any]
    #: Not computed with: notes, order, texts for people.
    web_only: set[str] = field(default_factory=set)
    #: Told by other records, or gathered from several fields.
    core_only: set[str] = field(default_factory=set)
    #: Kept by the server, not sent by a client.
    model_only: set[str] = field(default_factory=set)


KINDS = [
    Kind("body", kit_api.BodyFields, kit.Body, core.Body, LOAN | {"note"}, {"id", "modes", "loan"}),
    Kind("mode", kit_api.ModeFields, kit.Mode, core.Mode, {"codec"}, {"id"}),
    Kind("lens", kit_api.LensFields, kit.Lens, core.Lens, LOAN, {"id", "loan"}),
    Kind("lamp", kit_api.LampFields, kit.Lamp, core.Lamp, LOAN, {"id", "loan"}),
    Kind("room", kit_api.RoomFields, kit.Room, core.Room, LOAN, {"id", "loan"}),
    Kind("rig", kit_api.RigFields, kit.MoveRig, MoveRig, LOAN, {"id", "loan"}),
    Kind("support", kit_api.SupportFields, kit.Support, core.Support, LOAN, {"id", "loan"}),
    Kind("person", kit_api.PersonFields, kit.Person, core.Person, LOAN, {"id", "loan"}),
    Kind("cord", kit_api.CordFields, kit.Cord, core.Cord, LOAN, {"id", "loan"}),
    Kind("cloth", kit_api.ClothFields, kit.Cloth, core.Cloth, LOAN, {"id", "loan"}),
    Kind(
        "plate",
        plan_fields.PlateFields,
        plans.Plate,
        core.Plate,
        {"position", "note", "use_id", "pass_key", "why", "required"}
        # Hours alone ask for these.
        | {"paint_share", "hold"},
        {"id", "recipe_hazards", "recipe_right", "filmed"},
    ),
    Kind("stand-in", plan_fields.StandInFields, plans.StandIn, CoreStandIn, set(), {"id"}),
]
EVERY = pytest.mark.parametrize("kind", KINDS, ids=lambda k: k.name)


def stored(kind: Kind) -> dict[str, models.Field[Any, Any]]:
    """The model's own fields by the name a client uses."""
    return {
        f.attname: f
        for f in kind.model._meta.concrete_fields
        if f.attname not in OF_THE_RECORD
        and not (f.attname in OWNERS and f.attname not in kind.schema.model_fields)
    }


def plain(value: Any) -> Any:
    return list(value) if isinstance(value, tuple | list) else value


def default_of(info: FieldInfo) -> Any:
    return ... if info.is_required() else plain(info.get_default(call_default_factory=True))


@EVERY
def test_what_a_client_sends_is_stored(kind):
    assert set(kind.schema.model_fields) == set(stored(kind)) - kind.model_only


@EVERY
def test_what_is_stored_is_computed_with_or_said_not_to_be(kind):
    computed = {f.name for f in dataclasses.fields(kind.core)} - kind.core_only
    assert set(kind.schema.model_fields) - kind.web_only == computed


@EVERY
def test_defaults_are_the_same(kind):
    own = {
        f.name: plain(f.default if f.default is not dataclasses.MISSING else ...)
        for f in dataclasses.fields(kind.core)
    }
    for name, info in kind.schema.model_fields.items():
        begins = default_of(info)
        if begins is ...:
            continue
        assert plain(stored(kind)[name].get_default()) == begins, name
        if name in own and own[name] is not ...:
            assert own[name] == begins, name


@EVERY
def test_choices_are_the_same_and_fit_their_column(kind):
    hints = typing.get_type_hints(kind.core)
    for name, info in kind.schema.model_fields.items():
        if get_origin(info.annotation) is Literal:
            choices = get_args(info.annotation)
            if get_origin(hints.get(name)) is Literal:
                assert set(choices) == set(get_args(hints[name])), name
            column = stored(kind)[name].max_length
            assert column is not None, name
            assert max(map(len, choices)) <= column, name
        most = next((m.max_length for m in info.metadata if hasattr(m, "max_length")), None)
        column = getattr(stored(kind)[name], "max_length", None)
        if info.annotation is str and column is not None:
            assert most is not None, f"{name} has no longest length"
            assert most <= column, name


@EVERY
def test_every_number_has_bounds_that_fit_its_column(kind):
    for name, info in kind.schema.model_fields.items():
        inner = [a for a in get_args(info.annotation) if a is not type(None)]
        number = info.annotation if info.annotation in (int, float) else None
        held = info
        if number is None and inner and inner[0] in (int, float):
            number = inner[0]
        elif number is None and inner and getattr(inner[0], "__origin__", None) in (int, float):
            number, held = inner[0].__origin__, FieldInfo.from_annotation(inner[0])
        if number is None:
            continue
        within = next((m for m in held.metadata if isinstance(m, Within)), None)
        assert within is not None, name
        low, high = within.low, within.high
        assert math.isfinite(high - low), name
        column = stored(kind)[name]
        if isinstance(column, models.PositiveSmallIntegerField):
            assert 0 <= low <= high <= 32767, name
        elif isinstance(column, models.IntegerField):
            assert high <= 2147483647, name
