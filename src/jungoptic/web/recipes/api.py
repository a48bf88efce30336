"""The recipe book, applying a recipe to a shot, and advice which to take."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from jungoptic.core.breakdown import advisor
from jungoptic.core.breakdown.economy import Advice, economy
from jungoptic.core.breakdown.recipes import BOOK, BY_KEY, find
from jungoptic.core.breakdown.recipes.apply import FieldChange, in_order
from jungoptic.core.breakdown.recipes.diagram import PassDrawing, draw_recipe, drawings
from jungoptic.core.breakdown.recipes.model import FAMILIES, REFERENCES, Recipe
from jungoptic.core.cards.hazards import BY_KEY as HAZARDS
from jungoptic.core.cost.effort import shot_effort

from .. import crud, saving
from ..breakdown.loading import load_breakdown
from ..breakdown.models import OwnRecipe
from ..breakdown.steps_api import StepOut, step_out
from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load
from ..plans.fields import FactsFields
from ..plans.models import Shot
from ..plans.stored import plan_json
from ..plans.views import refuse_unknown
from ..productions.models import Production
from ..records import Refused
from ..schemas import Fields, HoursRange, LongText, Name, Out, ShortText, Stored
from . import book

router = Router(tags=["recipes"])
book_router = Router(tags=["recipes"])


class PassOut(Out):
    """A pass of a recipe."""

    key: str
    name: str
    why: str
    kind: str
    required: bool
    lock: str | None
    after: list[str]
    settings: dict[str, bool | float | int | str]
    marks: list[str]
    cut: str
    hazards: list[str]


class CautionOut(Out):
    """A hazard with its cautions."""

    key: str
    name: str
    cautions: list[str]


class RecipeOut(Out):
    """A recipe, whole; `passes` in filming order."""

    key: str
    name: str
    family: str
    family_name: str
    effect: str
    said: str
    suits: list[str]
    avoid: list[str]
    passes: list[PassOut]
    right: list[str]
    betrays: list[str]
    post: list[str]
    shows: list[str]
    camera: list[str]
    needs: list[str]
    cautions: list[CautionOut]
    people: int
    money: int
    realism: int
    risk: int
    risk_why: str
    reusable: bool
    longest_s: float | None
    #: Hours of the required plates for four seconds on the screen, by the table.
    set_hours: HoursRange
    post_hours: HoursRange
    #: Id and revision where it is a production's own, so that it can be renamed or removed.
    own: Stored | None = None


class Reference(Out):
    """A reference picture that every recipe carries."""

    name: str
    why: str


class BookOut(Out):
    """The book: its recipes, and what all of them carry."""

    recipes: list[RecipeOut]
    references: list[Reference]
    subjects: dict[str, str]
    owned: dict[str, str]


def recipe_out(recipe: Recipe, own: OwnRecipe | None = None) -> dict[str, Any]:
    """A recipe, ready for JSON."""
    effort = shot_effort(advisor.jobs_of(recipe, advisor.Facts()))
    plain = (
        "key",
        "name",
        "family",
        "effect",
        "said",
        "people",
        "money",
        "realism",
        "risk",
        "risk_why",
    )
    return {
        **{n: getattr(recipe, n) for n in (*plain, "reusable", "longest_s")},
        **{n: list(getattr(recipe, n)) for n in ("suits", "avoid", "right", "betrays", "post")},
        **{n: sorted(getattr(recipe, n)) for n in ("shows", "camera", "needs")},
        "family_name": "Your own" if own else FAMILIES[recipe.family],
        "passes": [
            {
                **{n: getattr(p, n) for n in ("key", "name", "why", "kind", "required", "lock")},
                "after": list(p.after),
                "settings": dict(p.settings),
                "marks": list(p.marks),
                "cut": p.work.cut,
                "hazards": list(p.hazards),
            }
            for p in in_order(recipe)
        ],
        "cautions": [
            {"key": h, "name": HAZARDS[h].name, "cautions": list(HAZARDS[h].cautions)}
            for h in recipe.all_hazards
            if h in HAZARDS
        ],
        "set_hours": effort.set,
        "post_hours": effort.post,
        "own": None if own is None else {"id": own.pk, "revision": own.revision},
    }


@book_router.get("", response=BookOut)
def read_book(
    request: HttpRequest, words: Annotated[str, Field(max_length=200)] = ""
) -> dict[str, Any]:
    """The recipes of the book that have all of `words` in them; every one without words."""
    return {
        "recipes": [recipe_out(r) for r in find(words)],
        "references": [{"name": n, "why": w} for n, w in REFERENCES],
        "subjects": dict(advisor.SUBJECTS),
        "owned": dict(advisor.OWNED),
    }


@book_router.get("/{key}/drawings", response=list[PassDrawing])
def book_drawings(request: HttpRequest, key: str) -> Any:
    """The stages of a recipe of the book, drawn to scale for an example camera."""
    if key not in BY_KEY:
        raise Refused("key", f"There is no recipe called “{key[:60]}” in the book.")
    return list(drawings(key))


@router.get("/{uuid:production_id}/recipes", response=list[RecipeOut])
def own_recipes(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The production's own recipes."""
    production = enter(request, production_id, Verb.VIEW)
    return [recipe_out(book.own_recipe(r), r) for r in own_of(production)]


def own_of(production: Production) -> Any:
    """The stored recipes of a production."""
    return OwnRecipe.objects.filter(production=production)


class OwnIn(Fields):
    """A name and a sentence for a recipe saved from a shot."""

    name: Name
    effect: LongText = ""


class OwnEdit(Fields):
    """A new name."""

    revision: Annotated[int, Field(ge=1)]
    name: Name


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/recipes/save", response=RecipeOut)
def save_own(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: OwnIn
) -> Any:
    """Save the way this shot is built as a recipe of one's own."""
    production = enter(request, production_id, Verb.PLAN)
    recipe = book.remembered(_shot(production, shot_id), payload.name, payload.effect)
    stored = saving.create(
        request.user,
        production,
        OwnRecipe,
        {"production": production, "name": payload.name, "content": book.frozen(recipe)},
        None,
    )
    return recipe_out(book.own_recipe(stored), stored)


@router.patch("/{uuid:production_id}/recipes/{uuid:pk}", response={200: RecipeOut, 409: Any})
def rename_own(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: OwnEdit
) -> Any:
    """Rename a recipe of one's own."""

    def out(stored: OwnRecipe) -> dict[str, Any]:
        return recipe_out(book.own_recipe(stored), stored)

    return crud.change(request, production_id, own_of, pk, payload, out)


@router.delete("/{uuid:production_id}/recipes/{uuid:pk}", response={204: None})
def remove_own(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a recipe of one's own; shots that were built by it keep its text."""
    return crud.drop(request, production_id, own_of, pk)


@router.get("/{uuid:production_id}/recipes/{uuid:pk}/drawings", response=list[PassDrawing])
def own_drawings(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """The stages of a recipe of one's own, drawn to scale for an example camera."""
    production = enter(request, production_id, Verb.VIEW)
    return list(draw_recipe(book.own_recipe(own_of(production).get(pk=pk))))


class Wanted(Fields):
    """A recipe and the passes wanted of it; none named: every required one. `view_id`: the view of
    the shot that it builds."""

    recipe: ShortText
    passes: Annotated[list[ShortText], Field(max_length=60)] | None = None
    things: bool = True
    view_id: uuid.UUID | None = None


class OutcomeOut(Out):
    """What applying would do, or did."""

    added: list[str]
    stand_ins: list[str]
    changes: list[FieldChange]
    tricks: list[str]


class Applied(Out):
    """What applying did, and the step that undoes it; no step when nothing was to do."""

    outcome: OutcomeOut
    step: StepOut | None


def _shot(production: Production, pk: uuid.UUID, lock: bool = False) -> Shot:
    rows = shots_of(production).select_related("production")
    if lock:
        rows = rows.select_for_update(of=("self",))
    found: Shot = rows.prefetch_related("plates__use", "recipe_uses", "stand_ins").get(pk=pk)
    return found


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/recipes/preview", response=OutcomeOut)
def preview_recipe(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: Wanted
) -> Any:
    """What applying a recipe would add and change, and which edits it would spare."""
    production = enter(request, production_id, Verb.VIEW)
    recipe = book.recipe_of(production, payload.recipe)
    shot = _shot(production, shot_id)
    refuse_unknown(shot, payload.view_id)
    return book.outcome(shot, recipe, payload.passes, payload.view_id)


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/recipes/apply", response=Applied)
def apply_recipe(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: Wanted
) -> Any:
    """Fill the shot with a recipe's plates; edits of what is there already are spared."""
    production = enter(request, production_id, Verb.PLAN)
    recipe = book.recipe_of(production, payload.recipe)
    with saving.writing(production):
        shot = _shot(production, shot_id, lock=True)
        refuse_unknown(shot, payload.view_id)
        step, done = book.apply(
            request.user,
            production,
            shot,
            recipe,
            payload.passes,
            payload.things,
            payload.view_id,
        )
    return {"outcome": done, "step": None if step.step is None else step_out(step.step)}


class OptionOut(Out):
    """One way to build the shot, with what speaks for and against it."""

    recipe: str
    name: str
    covers: list[str]
    lacks: list[str]
    blocked: list[str]
    danger: int
    set: HoursRange
    post: HoursRange
    money: int
    risk: int
    reasons: list[str]
    against: list[str]
    decided_by: str


class TurnOut(Out):
    """A fact that would put another recipe first."""

    change: str
    first: str
    name: str


class AdviceOut(Out):
    """The ranking, what would change it, and what saves work here."""

    options: list[OptionOut]
    turns: list[TurnOut]
    economy: list[Advice]


@router.post("/{uuid:production_id}/shots/{uuid:shot_id}/advice", response=AdviceOut)
def advise(
    request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID, payload: FactsFields
) -> Any:
    """Rank the recipes for this shot at the production's own pace. Nothing is stored."""
    production = enter(request, production_id, Verb.VIEW)
    shot = _shot(production, shot_id)
    loaded = load_breakdown(production, only=shot_id)
    facts = facts_of(shot, payload)
    own = tuple(r for r in map(book.own_recipe, own_of(production)) if r.shows)
    options = advisor.rank(facts, (*BOOK, *own), loaded.set_pace.factor, loaded.post_pace.factor)
    core_shot = load(plan_json(shot))
    by_key = {**BY_KEY, **{r.key: r for r in own}}
    first = by_key[options[0].recipe] if options else None
    return {
        "options": options,
        "turns": advisor.turns(facts, (*BOOK, *own)),
        "economy": economy(core_shot, facts, first),
    }


def facts_of(shot: Shot, told: FactsFields) -> advisor.Facts:
    """The facts with the shot's own screen time and rate."""
    values = told.model_dump()
    return advisor.Facts(
        **{**values, "shows": frozenset(values["shows"]), "owned": frozenset(values["owned"])},
        seconds=shot.screen_time_s,
        fps=shot.playback_fps,
    )
