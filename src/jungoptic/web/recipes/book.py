"""Recipes between the core and the database: read, frozen, applied, shown before applying."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any

from pydantic import TypeAdapter

from jungoptic.core.breakdown.recipes import BY_KEY
from jungoptic.core.breakdown.recipes.apply import (
    KIT_FIELDS,
    FieldChange,
    NewPlate,
    again,
    fill,
    from_shot,
)
from jungoptic.core.breakdown.recipes.model import Recipe
from jungoptic.core.breakdown.recipes.tricks import Placed, Tricks, tricks_for
from jungoptic.core.lockoff.group import LOCKED
from jungoptic.core.plan import Shot as CoreShot
from jungoptic.core.plan import View, in_view
from jungoptic.core.plan.standins import StandIn as CoreStandIn

from .. import documents
from ..breakdown.models import OwnRecipe
from ..plans.bridge import load
from ..plans.fields import MOST_BEATS, MOST_SPLITS
from ..plans.lockoffs import free_name, names_taken
from ..plans.models import Plate, RecipeUse, Shot, StandIn
from ..plans.stored import plan_json
from ..plans.trick_fields import BeatFields, CrowdFields, MarkerFields, RigFields, SplitFields
from ..plans.views import view_of
from ..productions.models import Production
from ..records import Refused
from ..schemas import MOST_POSITION, after
from ..steps import Recorder, recording, values

_RECIPE = TypeAdapter(Recipe)
OWN = "own:"
#: What a stand-in of a recipe is stored with.
STAND_IN_FIELDS = (
    "name",
    "kind",
    "x_m",
    "y_m",
    "z_m",
    "width_m",
    "height_m",
    "depth_m",
    "heading_deg",
)


def frozen(recipe: Recipe) -> dict[str, Any]:
    """A recipe as JSON, so that a shot keeps the text it was built by."""
    found: dict[str, Any] = _RECIPE.dump_python(recipe, mode="json")
    return documents.RECIPE.stamped(found)


def thawed(content: dict[str, Any]) -> Recipe:
    """The inverse of `frozen`."""
    return _RECIPE.validate_python(documents.RECIPE.read(content))


def _id_in(key: str) -> uuid.UUID | None:
    """The id behind `own:`; None for what is no id."""
    try:
        return uuid.UUID(key.removeprefix(OWN))
    except ValueError:
        return None


def recipe_of(production: Production, key: str) -> Recipe:
    """A recipe of the book, or one of the production's own (`own:` and its id).

    Raises `Refused` where there is none.
    """
    if key in BY_KEY:
        return BY_KEY[key]
    if key.startswith(OWN):
        own = _id_in(key)
        mine = OwnRecipe.objects.filter(production=production)
        found = None if own is None else mine.filter(pk=own).first()
        if found is not None:
            return own_recipe(found)
    raise Refused("recipe", f"There is no recipe called “{key}” in the book.")


def own_recipe(stored: OwnRecipe) -> Recipe:
    """A production's own recipe as the core reads it, under its key."""
    content = {**stored.content, "key": f"{OWN}{stored.pk}", "name": stored.name}
    return thawed(content)


@dataclass(frozen=True)
class Outcome:
    """What applying a recipe would do, or did: plates to add, fields to change, edits spared, and
    what is decided beside the plates."""

    added: tuple[str, ...]
    stand_ins: tuple[str, ...]
    changes: tuple[FieldChange, ...]
    tricks: tuple[str, ...] = ()


def _use_of(shot: Shot, key: str, view_id: uuid.UUID | None) -> RecipeUse | None:
    there = (u for u in shot.recipe_uses.all() if u.view_id == view_id)
    return next((u for u in there if u.recipe == key), None)


def _locks(shot: Shot, recipe: Recipe, present: dict[str, Plate]) -> dict[str, str]:
    """What a recipe's lock-offs are called, by their letters: as its plates that are there have
    them, else by names that the production does not have yet."""
    found = {
        one.lock: present[one.key].lock_group
        for one in reversed(recipe.passes)
        if one.lock and one.key in present and present[one.key].lock_group
    }
    missing = sorted({one.lock for one in recipe.passes if one.lock} - found.keys())
    taken = names_taken(shot.production_id) if missing else set()
    for letter in missing:
        found[letter] = free_name(taken, shot.number, letter.upper())
        taken.add(found[letter])
    return found


def _present(use: RecipeUse | None) -> dict[str, Plate]:
    return {} if use is None else {p.pass_key: p for p in use.plates.all()}


def _locked(shot: Shot, view_id: uuid.UUID | None) -> dict[str, dict[str, Any]]:
    """The camera of each lock-off of a view that stands already: what joins it is filmed with the
    same."""
    found: dict[str, dict[str, Any]] = {}
    for plate in shot.plates.all():
        if (
            plate.view_id == view_id
            and plate.lock_group
            and all(getattr(plate, name) for name in KIT_FIELDS)
        ):
            kit = {name: getattr(plate, name) for name in LOCKED}
            found.setdefault(
                plate.lock_group,
                {k: str(v) if isinstance(v, uuid.UUID) else v for k, v in kit.items()},
            )
    return found


@dataclass(frozen=True)
class _Worked:
    """A recipe worked out for a shot: its use there, the plates it has, those it would bring."""

    use: RecipeUse | None
    present: dict[str, Plate]
    new: tuple[NewPlate, ...]
    outcome: Outcome
    #: The view that it builds, as a shot of its own; and as one of the shot, None for the first.
    seen: CoreShot
    view: View | None


def _work_out(
    shot: Shot,
    recipe: Recipe,
    passes: Collection[str] | None,
    things: bool,
    view_id: uuid.UUID | None,
) -> _Worked:
    """What applying `recipe` would do, once for looking at it and for doing it: choosing the kit
    of every new plate is most of the work."""
    use = _use_of(shot, recipe.key, view_id)
    present = _present(use)
    locks = _locks(shot, recipe, present)
    wanted = _wanted(recipe, passes, present)
    whole = load(plan_json(shot))
    view = next((v for v in whole.views if v.id == str(view_id)), None)
    seen = in_view(whole, None if view is None else view.id)
    locked = _locked(shot, view_id)
    new = fill(seen, recipe, wanted - set(present), locks, things, locked)
    changes = again(
        recipe,
        locks,
        use.written if use else {},
        {key: values(plate) for key, plate in present.items()},
    )
    there = {key: _placed(seen, str(plate.pk)) for key, plate in present.items()}
    there |= {n.recipe_pass.key: Placed(n.recipe_pass.key, n.stand_ins) for n in new}
    told = Outcome(
        tuple(n.recipe_pass.name for n in new),
        tuple(s.name for n in new for s in n.stand_ins),
        changes,
        tricks_for(seen, recipe, there, [n.recipe_pass.key for n in new], _new_id).words,
    )
    return _Worked(use, present, new, told, seen, view)


def _in_world(view: View | None, thing: CoreStandIn) -> CoreStandIn:
    """A thing that was placed before a view's camera, in the shot's world, to the millimetre."""
    if view is None:
        return thing
    there = view.in_world(thing)
    return replace(there, x_m=round(there.x_m, 3), y_m=round(there.y_m, 3))


def _new_id() -> str:
    return str(uuid.uuid4())


def _placed(seen: CoreShot, plate_id: str) -> Placed:
    return Placed(plate_id, tuple(s for s in seen.stand_ins if s.plate_id == plate_id))


def outcome(
    shot: Shot,
    recipe: Recipe,
    passes: Collection[str] | None,
    view_id: uuid.UUID | None = None,
) -> Outcome:
    """What applying `recipe` with these passes would do to a view of `shot`. Nothing is stored."""
    return _work_out(shot, recipe, passes, True, view_id).outcome


def _wanted(recipe: Recipe, passes: Collection[str] | None, present: dict[str, Plate]) -> set[str]:
    asked = {p.key for p in recipe.required} if passes is None else set(passes)
    unknown = asked - {p.key for p in recipe.passes}
    if unknown:
        raise Refused("passes", f"{recipe.name} has no pass called {sorted(unknown)[0]}.")
    return asked | set(present)


def apply(
    user: Any,
    production: Production,
    shot: Shot,
    recipe: Recipe,
    passes: Collection[str] | None = None,
    things: bool = True,
    view_id: uuid.UUID | None = None,
) -> tuple[Recorder, Outcome]:
    """Fill a view of the shot with the recipe's plates in one step that can be undone.

    A recipe that is there already adds what is missing and updates what nobody edited.
    """
    with recording(user, production, f"Apply {recipe.name}") as step:
        worked = _work_out(shot, recipe, passes, things, view_id)
        use, done = worked.use, worked.outcome
        if use is None:
            place = after(max((u.position for u in shot.recipe_uses.all()), default=0.0))
            use = step.make(
                RecipeUse,
                shot=shot,
                recipe=recipe.key,
                name=recipe.name,
                position=place,
                content=frozen(recipe),
                view_id=view_id,
            )
        written = dict(use.written)
        for change in done.changes:
            if not change.edited:
                step.change(worked.present[change.pass_key], **{change.field: change.recipe})
                written.setdefault(change.pass_key, {})[change.field] = change.recipe
        last = max((p.position for p in shot.plates.all()), default=0.0)
        plates: dict[str, Plate] = {}
        there = {k: _placed(worked.seen, str(p.pk)) for k, p in worked.present.items()}
        for place_in, one in enumerate(worked.new, start=1):
            fields = _stored(one.fields)
            plate = step.make(
                Plate,
                shot=shot,
                use=use,
                pass_key=one.recipe_pass.key,
                view_id=view_id,
                position=min(last + place_in, MOST_POSITION),
                **fields,
            )
            written[one.recipe_pass.key] = {k: v for k, v in fields.items() if k not in KIT_FIELDS}
            things_made = []
            for s in one.stand_ins:
                placed = {k: getattr(_in_world(worked.view, s), k) for k in STAND_IN_FIELDS}
                made = step.make(StandIn, shot=shot, plate=plate, **placed)
                things_made.append(replace(s, id=str(made.pk), plate_id=str(plate.pk)))
            plates[one.recipe_pass.key] = plate
            there[one.recipe_pass.key] = Placed(str(plate.pk), tuple(things_made))
        new = [n.recipe_pass.key for n in worked.new]
        decided = tricks_for(worked.seen, recipe, there, new, _new_id)
        for key, rig in decided.rigs.items():
            step.change(plates[key], rig=RigFields(**asdict(rig)).model_dump())
        for key, markers in decided.markers.items():
            step.change(plates[key], markers=MarkerFields(**asdict(markers)).model_dump())
        _decide(step, shot, view_id, decided)
        step.change(use, written=written, content=frozen(recipe))
    return step, done


def _stored(fields: Mapping[str, Any]) -> dict[str, Any]:
    """Decisions of a new plate as they are kept: a crowd as JSON."""
    crowd = fields.get("crowd")
    if crowd is None:
        return dict(fields)
    return {**fields, "crowd": CrowdFields(**asdict(crowd)).model_dump()}


def _decide(step: Recorder, shot: Shot, view_id: uuid.UUID | None, decided: Tricks) -> None:
    """Lines and beats of a recipe, beside those that a view has, and its zoom; no more than it can
    hold."""
    if not decided.splits and not decided.beats and decided.zoom == 1.0:
        return
    view = view_of(shot, view_id)
    now = {"splits": shot.splits, "beats": shot.beats} if view is None else view
    lines = [SplitFields(**asdict(s)).model_dump() for s in decided.splits]
    beats = [BeatFields(**asdict(b)).model_dump() for b in decided.beats]
    changes: dict[str, Any] = {
        "splits": [*now["splits"], *lines][:MOST_SPLITS],
        "beats": [*now["beats"], *beats][:MOST_BEATS],
    }
    if decided.zoom != 1.0:
        changes["move_zoom"] = decided.zoom
    if view is None:
        step.change(shot, **changes)
    else:
        others = [{**v, **changes} if v["id"] == view["id"] else v for v in shot.views]
        step.change(shot, views=others)


def remembered(shot: Shot, name: str, effect: str) -> Recipe:
    """A recipe of one's own from the plates of a shot. Raises `Refused` when it has none."""
    plates = list(shot.plates.all())
    if not plates:
        raise Refused("shot", "This shot has no plates yet; a recipe is saved from its plates.")
    core_shot = load(plan_json(shot))
    paired = [
        (core_plate, values(plate))
        for core_plate, plate in zip(core_shot.plates, plates, strict=True)
    ]
    return from_shot(core_shot, f"{OWN}new", name, effect, paired)


def forgotten(use: RecipeUse, plates: Collection[Plate]) -> list[str]:
    """Names of required passes of a recipe in use that have no plate in the shot."""
    there = {p.pass_key for p in plates if p.use_id == use.pk}
    return [p["name"] for p in use.as_applied["passes"] if p["required"] and p["key"] not in there]
