"""The demo production, "The Lock-Keeper's Heron". Everything here is invented.

It opens half-way through the job: fourteen shots from an edit list, broken down by recipes; shot 2
has a plate whose lens cannot go low enough and shot 9 one that needs more frames a second than the
body records, shot 3 an issued card and a logged take, shot 13 a tree over its matte
line; threads, logged hours and read cautions here and there.
"""

from __future__ import annotations

import functools
from typing import Any

from django.db import transaction

from jungoptic.core.breakdown.recipes.apply import pass_fields

from ..accounts.api import DEMO_PASSWORD, DEMO_USER
from ..accounts.models import User
from ..breakdown.models import BoardStep, KeptThread, LoggedHours, ReadCaution, Thread
from ..exchange import edits
from ..exchange.arriving import carry_out, settle
from ..kit.models import Lens, Mode
from ..plans.bridge import load as load_plan
from ..plans.models import Plate, RecipeUse, Shot, StandIn
from ..plans.stored import plan_json
from ..productions.models import Membership, Production, Role
from ..reading.picture import Stored
from ..recipes import book
from ..sketches.api import add_picture, world_of
from ..sketches.models import Annotation, Sketch
from ..sketches.render import sketch
from ..takes.cards import issue
from ..takes.models import Take
from . import films, lens_stills, ordinary, picked, pictures, sheets, table_frames, tricks
from . import people as handed_out
from .kit import cast, make_kit, make_rooms_and_lamps
from .shots import DAYS, SHOTS, Told, edit_list
from .stages import set_up

PRODUCTION = "The Lock-Keeper's Heron"
STORY = (
    "In a drowned estuary town a lock-keeper, Ansa, mends a clockwork heron. Her twin, Ilse, wants "
    "to sell it. On the night of the spring tide the old mill breaks, the lamps go out one by one, "
    "and the heron flies."
)
#: Demo accounts: the supervisor owns the production; the others show what a role may do.
PEOPLE = ((DEMO_USER, Role.OWNER), ("friend", Role.CREW), ("visitor", Role.VIEWER))


def load() -> bool:
    """Make the demo if there is none; True when it was made."""
    with transaction.atomic():
        people = [_person(name) for name, _ in PEOPLE]
        if Production.objects.of(people[0]).filter(name=PRODUCTION).exists():
            return False
        production = Production.objects.create(
            name=PRODUCTION,
            story=STORY,
            delivery_width_px=1920,
            delivery_height_px=804,
            playback_fps=24.0,
            latitude_deg=52.6,
            longitude_deg=1.7,
            time_zone="Europe/London",
        )
        for person, (_, role) in zip(people, PEOPLE, strict=True):
            Membership.objects.create(production=production, user=person, role=role)
        modes, lenses = make_kit(production)
        rooms, lamps = make_rooms_and_lamps(production)
        shots = _from_the_edit(people[0], production)
        _tide_mill(shots["2"], modes, lenses)
        _kitchen(shots["3"], modes, lenses)
        for told in SHOTS:
            _break_down(people[0], production, shots[told.number], told)
        set_up(shots, rooms, lamps, modes, lenses)
        tricks.set_up(shots)
        sheets.set_up(shots)
        ordinary.set_up(production, shots, rooms, lamps, modes, lenses)
        ordinary.empty_chairs(shots["3"])
        cast(production)
        _filmed(shots["3"], people[0])
        for shot in production.shots.all():
            _sketch(people[0], shot)
        _marks(shots["13"])
        _threads(production, shots)
        _diary(people, shots)
        pictures.lay(production)
        films.lay(production, people[0])
        picked.lay(production, people[0])
        lens_stills.lay(production, people[0])
        table_frames.lay(production, people[0])
        handed_out.lay(production, people[0])
        # The demo begins with nothing to undo: undoing how it was made would take it apart.
        BoardStep.objects.filter(production=production).delete()
    return True


def _person(name: str) -> User:
    user, made = User.objects.get_or_create(username=name)
    if made:
        user.set_password(DEMO_PASSWORD)
        user.save()
    return user


def _from_the_edit(user: User, production: Production) -> dict[str, Shot]:
    """The shots as an edit list brings them, then with their words."""
    rows, _ = edits.rows_of("heron.edl", edit_list().encode(), production)
    carry_out(user, production, settle(production, rows, "edit_name"), "Import heron.edl")
    found = {}
    for told in SHOTS:
        shot = Shot.objects.get(production=production, edit_name=told.edit_name)
        for name, value in {
            "number": told.number,
            "title": told.title,
            "action": told.action,
            "place": told.place,
            "time_of_day": told.time_of_day,
            **told.world,
            **told.light,
            "facts": {
                "shows": list(told.shows),
                "camera": "moving" if told.number in {"1", "13"} else "locked",
                "people": 8 if told.number == "10" else 4,
            },
        }.items():
            setattr(shot, name, value)
        shot.save()
        found[told.number] = shot
    return found


def _break_down(user: User, production: Production, shot: Shot, told: Told) -> None:
    for key, passes in told.recipes:
        book.apply(user, production, _fresh(shot), book.recipe_of(production, key), passes)
    for name, kind, x, y, z, width, height, depth in told.scenery:
        _stand_in(shot, None, name, kind, x, y, z, width, height, depth, 0.0)
    if told.film_on is not None:
        shot.plates.update(film_on=DAYS[told.film_on])


def _fresh(shot: Shot) -> Shot:
    """The shot without anything read earlier."""
    return Shot.objects.select_related("production").get(pk=shot.pk)


def _uses(mode: Mode, lens: Lens) -> dict[str, Any]:
    return {"body": mode.body, "mode": mode, "lens": lens}


def _use(shot: Shot, key: str) -> RecipeUse:
    """A recipe taken by hand: its plates are made, and changed, one by one."""
    recipe = book.recipe_of(shot.production, key)
    return RecipeUse.objects.create(
        shot=shot, recipe=key, name=recipe.name, position=1.0, content=book.frozen(recipe)
    )


def _pass(use: RecipeUse, key: str) -> dict[str, Any]:
    """What a recipe says of one of its passes, for a plate made by hand."""
    recipe = book.thawed(use.content)
    one = recipe.pass_of(key)
    assert one is not None
    names = {p.lock: f"{use.shot.number}-{p.lock.upper()}" for p in recipe.passes if p.lock}
    fields = pass_fields(recipe, one, names)
    use.written[key] = fields
    use.save()
    words = ("why", "required", "lock_group", "cut", "shapes", "paint_share", "tracked")
    return {"use": use, "pass_key": key, **{n: fields[n] for n in (*words, "takes_planned")}}


def _tide_mill(shot: Shot, modes: list[Mode], lenses: dict[int, Lens]) -> None:
    """Shot 2: the 1:12 mill asks for a lens axis lower than the cinema body can go."""
    use = _use(shot, "actor-in-miniature")
    mill = Plate.objects.create(
        shot=shot,
        name="Mill miniature",
        kind="miniature",
        position=1.0,
        scale=12.0,
        f_number=16.0,
        iso=800.0,
        motion="powered",
        note="The mill is borrowed for one day. Wheel driven by the geared crank.",
        hazards=["smoke"],
        **_uses(modes[0], lenses[28]),
        **_pass(use, "beauty"),
    )
    ansa = Plate.objects.create(
        shot=shot,
        name="Ansa on green",
        kind="screen",
        position=2.0,
        scale=1.0,
        ground_m=0.9,
        f_number=5.6,
        iso=800.0,
        motion="powered",
        screen_width_m=3.0,
        screen_height_m=3.0,
        screen_gap_m=2.0,
        note="In the yard: the garage is too short for this distance.",
        **_uses(modes[0], lenses[28]),
        **_pass(use, "performer"),
    )
    for plate, values in (
        (mill, ("Tide mill", "box", -5.0, 25.0, 0.0, 6.5, 7.0, 6.0, 12.0)),
        (mill, ("Mill wheel", "box", -1.1, 25.4, 0.0, 0.9, 4.2, 4.2, 12.0)),
        (mill, ("Sluice bridge", "box", 3.2, 15.0, 0.0, 6.0, 0.9, 1.4, 0.0)),
        (mill, ("Lock gate", "box", 6.4, 18.0, 0.0, 0.5, 2.6, 3.2, 0.0)),
        (mill, ("Painted town", "card", 0.0, 42.0, 0.0, 38.0, 6.0, 0.0, 0.0)),
        (mill, ("Mud flat", "ground", 0.0, 9.0, 0.0, 16.0, 0.0, 24.0, 0.0)),
        (ansa, ("Ansa", "figure", 2.6, 15.4, 0.9, 0.5, 1.68, 0.0, 0.0)),
    ):
        _stand_in(shot, plate, *values)


def _kitchen(shot: Shot, modes: list[Mode], lenses: dict[int, Lens]) -> None:
    """Shot 3: one performer twice, seated."""
    use = _use(shot, "twin-split")
    first = {"kind": "live", "f_number": 5.6, "iso": 800.0, "scale": 1.0}
    half_a, half_b, clean = (
        Plate.objects.create(
            shot=shot,
            name=name,
            position=position,
            **first,
            motion="still" if key == "clean" else "powered",
            **_uses(modes[0], lenses[28]),
            **_pass(use, key),
        )
        for position, (name, key) in enumerate(
            (("Half A: Ansa", "a"), ("Half B: Ilse", "b"), ("Clean plate", "clean")), start=1
        )
    )
    for plate, values in (
        (half_a, ("Ansa", "figure", -0.75, 2.35, 0.0, 0.5, 1.32, 0.0, 0.0)),
        (half_b, ("Ilse", "figure", 0.75, 2.35, 0.0, 0.5, 1.32, 0.0, 0.0)),
        (clean, ("Table", "box", 0.0, 2.0, 0.0, 1.4, 0.75, 0.75, 0.0)),
        (clean, ("Lamp", "box", 0.0, 2.3, 0.75, 0.18, 0.4, 0.18, 0.0)),
        (clean, ("Window wall", "card", 0.0, 3.5, 0.0, 3.4, 2.4, 0.0, 0.0)),
    ):
        _stand_in(shot, plate, *values)


def _filmed(shot: Shot, user: User) -> None:
    """Half A is filmed: its card was issued, and one take logged that the tripod spoilt."""
    card = issue(user, shot.plates.get(name="Half A: Ansa"))
    planned = card.shown["planned"]
    Take.objects.create(
        card=card,
        number=1,
        logged_by=user,
        axis_height_m=round(planned["axis_height_m"] + 0.018, 3),
        distance_m=round(planned["distance_m"] + 0.01, 3),
        tilt_deg=-2.6,
        f_number=4.0,
        note="Column slipped; noticed after the take. Best performance so far.",
        circled=True,
    )


def _stand_in(shot: Shot, plate: Plate | None, *values: Any) -> None:
    """A stand-in from its values in the order of `book.STAND_IN_FIELDS`."""
    named = dict(zip(book.STAND_IN_FIELDS, values, strict=True))
    StandIn.objects.create(shot=shot, plate=plate, **named)


@functools.cache
def _drawn(number: str, plan: Any) -> Stored:
    """The demo's sketches, drawn once in a process: the same world gives the same lines."""
    return sketch(plan.shot, seed=int(number.rstrip("AB")))


class _Plan:
    """A shot that is the same as another when it is the same shot of the demo."""

    def __init__(self, number: str, shot: Any) -> None:
        self.number, self.shot = number, shot

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Plan) and other.number == self.number

    def __hash__(self) -> int:
        return hash(self.number)


def _sketch(user: User, shot: Shot) -> None:
    shot = _fresh(shot)
    picture = _drawn(shot.number, _Plan(shot.number, load_plan(plan_json(shot))))
    add_picture(
        user,
        shot,
        picture,
        title="From the Frame",
        kind="sketch",
        planned=True,
        drawn_from=world_of(shot, None),
    )


def _marks(shot: Shot) -> None:
    """Shot 13: the night sky begins at a matte line that the poplar rises over."""
    picture = Sketch.objects.get(shot=shot)
    picture.note = "Everything above the line is painted night; only the heron flies there."
    picture.save()
    for layer, name, note, points in (
        (
            "matte",
            "Sky line",
            "Night sky above; the flats below are real.",
            ((0, 0.19), (0.5, 0.185), (1, 0.18)),
        ),
        (
            "action",
            "Heron's way",
            "From the reeds up across the moon.",
            ((0.06, 0.62), (0.3, 0.45), (0.55, 0.15), (0.92, 0.06)),
        ),
        ("split", "Still water", "Calm water joined from take 2.", ((0.2, 0.19), (0.2, 1))),
        ("remove", "Power line", "Two poles and a cable.", ((0.5, 0.47), (0.98, 0.43))),
        (
            "tracking",
            "",
            "Stakes, 3 m apart.",
            ((0.35, 0.82), (0.5, 0.75), (0.65, 0.82)),
        ),
    ):
        Annotation.objects.create(
            sketch=picture, layer=layer, name=name, note=note, points=[list(p) for p in points]
        )


def _threads(production: Production, shots: dict[str, Shot]) -> None:
    flag, window, coat = (
        Thread.objects.create(production=production, name=name, kind=kind, note=note, places=places)
        for name, kind, note, places in (
            ("Flag on the mill roof", "thing", "Red, torn at the fly.", ["Tide mill, outside"]),
            ("Lamp in the kitchen window", "light", "Lit until shot 11.", ["Kitchen"]),
            ("Ansa's wet oilskin", "costume", "Wet from shot 7 on.", []),
        )
    )
    coat.shots.set([shots["7"], shots["8"], shots["12"]])
    for thread, number, plate, excuse in (
        (flag, "2", "Mill miniature", ""),
        (flag, "14", None, "The photograph is older than the flag."),
        (window, "3", "Clean plate", ""),
        (window, "4", None, "The frame ends below the window."),
        (window, "7", None, ""),
        (window, "11", None, ""),
        (coat, "7", "B: landing from the mark", ""),
        (coat, "8", None, ""),
    ):
        KeptThread.objects.create(
            thread=thread,
            shot=shots[number],
            plate=None if plate is None else shots[number].plates.get(name=plate),
            excuse=excuse,
        )


def _diary(people: list[User], shots: dict[str, Shot]) -> None:
    """Hours that were logged, and cautions that were read."""
    for number, plate, phase, hours in (
        ("3", "Half A: Ansa", "set", 1.9),
        ("3", "Half A: Ansa", "post", 0.8),
        ("5", "Performance reference", "set", 1.2),
    ):
        shot = shots[number]
        LoggedHours.objects.create(
            shot=shot, plate=shot.plates.get(name=plate), phase=phase, hours=hours, by=people[0]
        )
    for number, hazard, name in (("2", "smoke", "Ansa's friend Per"), ("7", "falls", "Ilse")):
        ReadCaution.objects.create(shot=shots[number], hazard=hazard, name=name, by=people[1])
