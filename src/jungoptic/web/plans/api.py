"""Shots, stand-ins and plates of a production."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.db.models import Count
from django.http import HttpRequest
from ninja import Router, Schema, Status

from .. import crud, saving
from ..kit.models import Body, Cloth, Lamp, Lens, Mode, Person, Room, Support
from ..permissions import Verb, enter
from ..productions.models import Production
from ..records import Refused
from ..schemas import Conflict, Stored, Within
from ..steps import recording
from .bridge import FilmedFields, PlanBeside
from .fields import (
    Hazard,
    PlateEdit,
    PlateFields,
    PlateIn,
    ShotEdit,
    ShotFields,
    ShotIn,
    StandInEdit,
    StandInFields,
    StandInIn,
)
from .models import Plate, RecipeUse, Shot, StandIn
from .stored import elsewhere, plate_json, with_takes
from .views import refuse_lost, refuse_unknown

router = Router(tags=["plans"])


class ShotOut(Stored, ShotFields):
    """A stored shot."""


class ShotRow(ShotOut):
    """A shot in the list."""

    plate_count: int
    take_count: int


class ShotPage(Schema):
    """One page of shots in story order, and how many there are in all."""

    items: list[ShotRow]
    count: int


class PlateOut(Stored, PlateFields):
    """A stored plate. `recipe_hazards` come with its recipe and cannot be taken off, `recipe_right`
    too; `filmed` says that it has takes."""

    recipe_hazards: list[Hazard] = []
    recipe_right: list[str] = []
    filmed: FilmedFields | None = None


class StandInOut(Stored, StandInFields):
    """A stored stand-in."""


class UsedRecipe(Schema):
    """A recipe that a shot is built by."""

    key: str
    name: str
    view_id: uuid.UUID | None = None


class WholeShot(Schema):
    """A shot with everything in it."""

    shot: ShotOut
    plates: list[PlateOut]
    stand_ins: list[StandInOut]
    recipes: list[UsedRecipe]
    #: What its lock-offs have in other shots, and in other views of its own.
    beside: list[PlanBeside]


def shot_out(shot: Shot) -> dict[str, Any]:
    """A shot, ready for JSON."""
    return crud.fields_out(shot, ShotFields)


def plate_out(plate: Plate) -> dict[str, Any]:
    """A plate, ready for JSON."""
    return plate_json(plate)


def stand_in_out(stand_in: StandIn) -> dict[str, Any]:
    """A stand-in, ready for JSON."""
    return crud.fields_out(stand_in, StandInFields)


def shots_of(production: Production) -> Any:
    """The shots of a production."""
    return Shot.objects.filter(production=production)


def plates_of(production: Production) -> Any:
    """The plates of a production."""
    return Plate.objects.filter(shot__production=production, shot__removed_at=None).select_related(
        "use"
    )


def _stand_ins_of(production: Production) -> Any:
    return StandIn.objects.filter(shot__production=production, shot__removed_at=None)


@router.get("/{uuid:production_id}/shots", response=ShotPage)
def list_shots(
    request: HttpRequest,
    production_id: uuid.UUID,
    limit: Annotated[int, Within(1, 500)] = 200,
    offset: Annotated[int, Within(0, 2**31 - 1)] = 0,
) -> dict[str, Any]:
    """The shots in story order."""
    rows = shots_of(enter(request, production_id, Verb.VIEW))
    counted = rows.annotate(
        plate_count=Count("plates", distinct=True),
        take_count=Count("plates__cards__takes", distinct=True),
    ).order_by("position", "created_at", "id")
    return {
        "items": [
            {**shot_out(s), "plate_count": s.plate_count, "take_count": s.take_count}
            for s in counted[offset : offset + limit]
        ],
        "count": rows.count(),
    }


@router.post("/{uuid:production_id}/shots", response=ShotOut)
def make_shot(request: HttpRequest, production_id: uuid.UUID, payload: ShotIn) -> Any:
    """Make a shot: delivered as the production is where nothing else is said."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        given = {name: values[name] for name in payload.model_fields_set & values.keys()}
        return {**values, **production.begins_with(given), "production": production}

    return shot_out(crud.make(request, production_id, Shot, payload, prepare))


@router.get("/{uuid:production_id}/shots/{uuid:pk}", response=WholeShot)
def get_shot(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> dict[str, Any]:
    """A shot with its plates and stand-ins."""
    production = enter(request, production_id, Verb.VIEW)
    shot = (
        shots_of(production)
        .prefetch_related("plates__use", "stand_ins", "recipe_uses", with_takes())
        .get(pk=pk)
    )
    return {
        "shot": shot_out(shot),
        "plates": [plate_out(p) for p in shot.plates.all()],
        "stand_ins": [stand_in_out(s) for s in shot.stand_ins.all()],
        "beside": elsewhere([shot])[shot.pk],
        "recipes": [
            {"key": u.recipe, "name": u.name, "view_id": u.view_id} for u in shot.recipe_uses.all()
        ],
    }


@router.patch("/{uuid:production_id}/shots/{uuid:pk}", response={200: ShotOut, 409: Conflict})
def edit_shot(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: ShotEdit
) -> Any:
    """Change a shot, its world camera or its further views."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        if "views" in values:
            refuse_lost(shots_of(production).get(pk=pk), values["views"])
        return values

    return crud.change(request, production_id, shots_of, pk, payload, shot_out, prepare)


@router.delete("/{uuid:production_id}/shots/{uuid:pk}", response={204: None})
def remove_shot(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Put a shot away, with its plates, cards and takes; the Board's undo fetches it back."""
    production = enter(request, production_id, Verb.PLAN)
    with recording(request.user, production, "Remove a shot") as step:
        for shot in shots_of(production).filter(pk=pk):
            step.put_away(shot)
    return Status(204, None)


def _with_kit(production: Production, values: dict[str, Any]) -> dict[str, Any]:
    """Refuse kit or a recipe of another production, saying which field."""
    for field, rows in (
        ("use_id", RecipeUse.objects.filter(shot__production=production)),
        ("body_id", Body.objects.filter(production=production)),
        ("mode_id", Mode.objects.filter(body__production=production)),
        ("lens_id", Lens.objects.filter(production=production)),
        ("room_id", Room.objects.filter(production=production)),
        ("support_id", Support.objects.filter(production=production)),
        ("cloth_id", Cloth.objects.filter(production=production)),
    ):
        wanted = values.get(field)
        if wanted is not None and not rows.filter(pk=wanted).exists():
            what = {"use_id": "recipe in this production"}.get(
                field, f"{field.removesuffix('_id')} in this production's kit"
            )
            raise Refused(field, f"There is no such {what}.")
    placed = {lamp["lamp_id"] for lamp in values.get("lamps") or ()}
    if placed and Lamp.objects.filter(production=production, pk__in=placed).count() < len(placed):
        raise Refused("lamps", "There is no such lamp in this production's kit.")
    return values


def _edited(production: Production, values: dict[str, Any]) -> dict[str, Any]:
    """As `_with_kit`; and a plate stays with the recipe it came from, whose cautions it carries."""
    if {"use_id", "pass_key"} & set(values):
        raise Refused("use_id", "A plate keeps the recipe it came from, and its cautions.")
    return _with_kit(production, values)


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/plates", response=PlateOut)
def make_plate(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: PlateIn
) -> Any:
    """Add a plate to a shot."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        shot = shots_of(production).get(pk=shot_id)
        refuse_unknown(shot, values.get("view_id"))
        return {**_with_kit(production, values), "shot": shot}

    return plate_out(crud.make(request, production_id, Plate, payload, prepare))


@router.patch("/{uuid:production_id}/plates/{uuid:pk}", response={200: PlateOut, 409: Conflict})
def edit_plate(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: PlateEdit
) -> Any:
    """Change a plate."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        if values.get("view_id") is not None:
            shot = plates_of(production).select_related("shot").get(pk=pk).shot
            refuse_unknown(shot, values["view_id"])
        return _edited(production, values)

    return crud.change(request, production_id, plates_of, pk, payload, plate_out, prepare)


@router.delete("/{uuid:production_id}/plates/{uuid:pk}", response={204: None})
def remove_plate(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a plate and what it films. Refused once a card was issued for it."""
    production = enter(request, production_id, Verb.PLAN)
    issued = plates_of(production).filter(pk=pk, cards__isnull=False).first()
    if issued is not None:
        raise Refused(
            "plate",
            f"{issued.name} has issued set cards; removing it would lose them and their takes.",
        )
    with saving.writing(production):
        for thing in _stand_ins_of(production).filter(plate_id=pk):
            saving.remove(request.user, production, _stand_ins_of(production), thing.pk)
        return crud.drop(request, production_id, plates_of, pk)


def _with_plate(production: Production, values: dict[str, Any]) -> dict[str, Any]:
    wanted = values.get("plate_id")
    if wanted is not None and not plates_of(production).filter(pk=wanted).exists():
        raise Refused("plate_id", "There is no such plate in this production.")
    seen = values.get("looks_at_id")
    if seen is not None and not _stand_ins_of(production).filter(pk=seen).exists():
        raise Refused("looks_at_id", "There is no such stand-in to look at in this production.")
    person = values.get("person_id")
    if person is not None and not Person.objects.filter(production=production, pk=person).exists():
        raise Refused("person_id", "There is nobody like that in this production's kit.")
    return values


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/stand-ins", response=StandInOut)
def make_stand_in(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: StandInIn
) -> Any:
    """Add a stand-in to a shot's world."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        return {**_with_plate(production, values), "shot": shots_of(production).get(pk=shot_id)}

    return stand_in_out(crud.make(request, production_id, StandIn, payload, prepare))


@router.patch(
    "/{uuid:production_id}/stand-ins/{uuid:pk}", response={200: StandInOut, 409: Conflict}
)
def edit_stand_in(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: StandInEdit
) -> Any:
    """Change or move a stand-in."""
    return crud.change(
        request, production_id, _stand_ins_of, pk, payload, stand_in_out, _with_plate
    )


@router.delete("/{uuid:production_id}/stand-ins/{uuid:pk}", response={204: None})
def remove_stand_in(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a stand-in."""
    return crud.drop(request, production_id, _stand_ins_of, pk)
