"""From a recipe to the plates of a shot: placed by its world camera, with the best owned kit."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import Any

from ...cost.work import Work
from ...impossible import Impossible
from ...lockoff.group import LOCKED, OWN
from ...plan.plate import Plate
from ...plan.shot import Shot
from ...plan.standins import StandIn
from ...planner.kit_choices import kit_choices
from ...stage.hung import best
from .model import Pass, Recipe
from .placing import into_frame, lift, place
from .tricks import crowd_for

KIT_FIELDS = ("body_id", "mode_id", "lens_id")
OF_A_PLACE = (
    *("lamps", "room_id", "room_turned", "room_behind_m", "room_left_m", "film_on"),
    *("heading_deg", "swatches", "cue"),
    *("fix_left_x_m", "fix_left_y_m", "fix_right_x_m", "fix_right_y_m"),
    # What hangs on the things of one shot, or is told by the pass in another way.
    *("filmed", "recipe_right", "lock_group", "rig", "crowd", "markers", "ramp"),
    *("cut", "shapes", "tracked", "takes_planned"),
)
Values = dict[str, Any]


@dataclass(frozen=True)
class NewPlate:
    """A plate that a pass asks for: its decisions by field name, and its stand-ins.

    The stand-ins carry the pass's key as `plate_id` until they are stored.
    """

    recipe_pass: Pass
    fields: Mapping[str, Any]
    stand_ins: tuple[StandIn, ...]


def pass_fields(recipe: Recipe, one: Pass, locks: Mapping[str, str] | None = None) -> Values:
    """The decisions that a pass makes on its plate, kit left out.

    `locks`: what the recipe's lock-offs are called in the production, by their letters in the
    recipe; without it by those letters.
    """
    return {
        "name": one.name,
        "kind": one.kind,
        "why": one.why,
        "required": one.required,
        "lock_group": (locks or {}).get(one.lock, one.lock.upper()) if one.lock else "",
        **one.settings,
        # One lock-off, one camera: what the first pass of it sets, the others have.
        **_shared_settings(recipe, one),
        **work_fields(one.work),
    }


def _shared_settings(recipe: Recipe, one: Pass) -> Values:
    if one.lock is None:
        return {}
    lead = next(p for p in recipe.passes if p.lock == one.lock)
    return {name: value for name, value in lead.settings.items() if name in LOCKED}


def work_fields(work: Work) -> Values:
    """The post work of a plate by field name."""
    return {
        "cut": work.cut,
        "shapes": work.shapes,
        "paint_share": work.paint_share,
        "tracked": work.tracked,
        "takes_planned": work.takes,
    }


def fill(
    shot: Shot,
    recipe: Recipe,
    passes: Collection[str] | None = None,
    locks: Mapping[str, str] | None = None,
    with_things: bool = True,
    locked: Mapping[str, Mapping[str, Any]] | None = None,
) -> tuple[NewPlate, ...]:
    """The plates that `recipe` brings to `shot`, in filming order.

    `passes` names those wanted (None: all required ones). Passes of one lock-off share the kit
    chosen for the first; `locked` names the kit of lock-offs that stand already (lock group ->
    values). Raises Impossible for a pass that the recipe does not have.
    """
    wanted = {p.key for p in recipe.required} if passes is None else set(passes)
    unknown = wanted - {p.key for p in recipe.passes}
    if unknown:
        raise Impossible(f"{recipe.name} has no pass called {', '.join(sorted(unknown))}.")
    made: list[NewPlate] = []
    kits: dict[str, Values] = {group: dict(kit) for group, kit in (locked or {}).items()}
    for one in in_order(recipe):
        if one.key not in wanted:
            continue
        fields = pass_fields(recipe, one, locks)
        farther = into_frame(shot, one.things)
        things = tuple(
            place(shot, thing, one.key, i, farther)
            for i, thing in enumerate(one.things)
            if with_things
        )
        if one.kind == "screen" and fields.get("screen_width_m"):
            fields |= _screen_for(shot, things, fields)
        kit = kits.get(fields["lock_group"]) if fields["lock_group"] else None
        if kit is None:
            kit = _best_kit(shot, one, fields, things)
            if fields["lock_group"]:
                kits[fields["lock_group"]] = kit
        own = OWN[fields.get("pass_for", "")]
        given = {name: value for name, value in kit.items() if name not in own}
        owned = {name: kit[name] for name in KIT_FIELDS if name in kit}
        crowd = crowd_for(shot, one)
        if crowd is not None:
            fields["crowd"] = crowd
        made.append(NewPlate(one, {**given, **fields, **owned}, things))
    return tuple(made)


def _screen_for(shot: Shot, things: tuple[StandIn, ...], fields: Values) -> Values:
    """A screen high enough for what stands before it, in half metres, but no larger than the cloth
    that is owned."""
    top = max((s.z_m + s.height_m for s in things if s.kind == "figure"), default=0.0)
    high = math.ceil((top + 1.2) * 2.0) / 2.0
    found: Values = {"screen_height_m": max(float(fields["screen_height_m"]), high)}
    known = {k: v for k, v in {**fields, **found}.items() if k in Plate.__dataclass_fields__}
    hung = best(shot, Plate(**{**known, "id": "screen"}))
    if hung is not None:
        hanging, sweep = hung[0], float(known.get("screen_sweep_m", 0.0))
        sweep = 0.0 if hanging.cloth.stiff else min(sweep, hanging.down_m / 2.0)
        height = min(found["screen_height_m"], hanging.down_m - sweep)
        found |= {
            "screen_width_m": min(float(known["screen_width_m"]), hanging.across_m),
            "screen_height_m": round(height, 3),
            "screen_sweep_m": round(sweep, 3),
        }
    return found


def _best_kit(shot: Shot, one: Pass, fields: Values, things: tuple[StandIn, ...]) -> Values:
    """The owned body, mode and lens that suit the pass best; nothing when nothing is owned."""
    known = {k: v for k, v in fields.items() if k in Plate.__dataclass_fields__}
    plate = Plate(id=one.key, **known)
    ways = kit_choices(
        replace(shot, stand_ins=(*shot.stand_ins, *things), plates=(*shot.plates, plate)),
        plate,
        most=1,
    )
    return dict(ways[0].changes) if ways else {}


def in_order(recipe: Recipe) -> tuple[Pass, ...]:
    """The passes so that each comes after those it names, otherwise as written.

    Raises Impossible when they wait for each other in a ring.
    """
    left, done = list(recipe.passes), set[str]()
    ordered: list[Pass] = []
    keys = {p.key for p in recipe.passes}
    while left:
        ready = next((p for p in left if set(p.after) & keys <= done), None)
        if ready is None:
            names = ", ".join(p.name for p in left)
            raise Impossible(f"{recipe.name}: these passes wait for each other: {names}.")
        left.remove(ready)
        done.add(ready.key)
        ordered.append(ready)
    return tuple(ordered)


@dataclass(frozen=True)
class FieldChange:
    """One decision that applying the recipe again would touch, or would leave alone.

    `edited`: a person has changed it since, so it stays as it is.
    """

    pass_key: str
    plate: str
    field: str
    now: Any
    recipe: Any
    edited: bool


def again(
    recipe: Recipe,
    locks: Mapping[str, str] | None,
    written: Mapping[str, Mapping[str, Any]],
    current: Mapping[str, Mapping[str, Any]],
) -> tuple[FieldChange, ...]:
    """What applying `recipe` again would do to the plates that are there.

    `written`: per pass, the values that applying it wrote; `current`: per pass, the values now.
    A field that was edited since is listed with `edited` and must not be written.
    """
    changes = []
    for one in in_order(recipe):
        now = current.get(one.key)
        if now is None:
            continue
        was = written.get(one.key, {})
        for name, value in pass_fields(recipe, one, locks).items():
            if name not in now or now[name] == value:
                continue
            edited = name not in was or now[name] != was[name]
            changes.append(
                FieldChange(one.key, str(now.get("name", one.name)), name, now[name], value, edited)
            )
    return tuple(changes)


def from_shot(
    shot: Shot,
    key: str,
    name: str,
    effect: str,
    plates: Collection[tuple[Plate, Values]],
) -> Recipe:
    """A recipe of one's own from the plates of a shot with their other decisions (`why`,
    `required`, `lock_group`, and the post work)."""
    passes = []
    letters: dict[str, str] = {}
    for number, (plate, other) in enumerate(plates, start=1):
        group = str(other["lock_group"])
        # Names are the production's: a recipe has letters.
        lock = letters.setdefault(group, chr(ord("a") + len(letters))) if group else None
        passes.append(
            Pass(
                key=f"p{number}",
                name=plate.name,
                why=str(other.get("why") or "Part of this way of building the shot."),
                kind=plate.kind,
                required=bool(other.get("required", True)),
                lock=lock,
                after=(f"p{number - 1}",) if number > 1 else (),
                settings=_settings(plate),
                things=tuple(lift(shot, s) for s in shot.stand_ins_of(plate)),
                hazards=tuple(dict.fromkeys((*plate.recipe_hazards, *plate.hazards))),
                work=Work(
                    other["cut"],
                    other["shapes"],
                    other["paint_share"],
                    other["tracked"],
                    other["takes_planned"],
                ),
            )
        )
    return Recipe(
        key=key,
        name=name,
        family="sets",
        effect=effect,
        suits=("Shots like the one it was saved from.",),
        avoid=(),
        passes=tuple(passes),
        right=(),
        betrays=(),
        post=(),
        shows=frozenset(),
        camera=frozenset({"locked", "moving"}),
    )


def _settings(plate: Plate) -> dict[str, float | int | str]:
    """The decisions that differ from what any new plate begins with. Kit, ground, and what belongs
    to one place and day (room, lamps as they stood, ends of the tape) are left out."""
    fresh = Plate(id="", name="", kind=plate.kind)
    skip = {"id", "name", "kind", "hazards", "recipe_hazards", "ground_m", "view_id"}
    skip |= {*KIT_FIELDS, *OF_A_PLACE}
    return {
        name: getattr(plate, name)
        for name in Plate.__dataclass_fields__
        if name not in skip
        and getattr(plate, name) != getattr(fresh, name)
        and getattr(plate, name) is not None
    }
