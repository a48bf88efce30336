"""Are those who are filmed, and those who are needed on set, there on the day, and as tall?"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from ..camera import Array
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.loan import shared
from ..plan.people import Person, Role
from ..plan.plate import TIMELESS
from ..plan.standins import StandIn, measured_points
from ..stage.case import Case
from ..words.quantities import length, scale
from .limits import TALL_HOLDS
from .loan import span
from .rule import Rule
from .way import Way

#: How days are written.
WRITTEN = "%-d %B %Y"


class Trouble(NamedTuple):
    """Something that is amiss with the people of a plate."""

    verdict: Verdict
    said: str


def judge_people(case: Case) -> Finding | None:
    """Who is filmed here and works here, held against who is there on the day; None where nobody
    is named and nothing is asked of anybody."""
    found = troubles(case)
    said = [t.said for t in found] or _well(case)
    if not said:
        return None
    worst = max((t.verdict for t in found), key=lambda v: v.rank, default=Verdict.HOLDS)
    return RULE.finding(worst, " ".join(said), tuple(_workings(case)))


def _well(case: Case) -> list[str]:
    """What is said where nothing is amiss; nothing where nobody is asked for."""
    day, said = case.plate.film_on, []
    filmed = list(dict.fromkeys(p.name for p, _ in cast(case)))
    if filmed:
        verb = "is" if len(filmed) == 1 else "are"
        there_on = "" if day is None else f"there on {day:%-d %B} and "
        said.append(f"{' and '.join(filmed)} {verb} {there_on}tall enough.")
    posing = [p.name for p in _posing(case)]
    if posing:
        said.append(f"{' or '.join(posing)} can animate it.")
    return said


def cast(case: Case) -> list[tuple[Person, StandIn]]:
    """The people who are filmed in a plate by name, each with the figure that stands for them."""
    kit = case.shot.kit
    figures = (s for s in case.shot.stand_ins_of(case.plate) if s.kind == "figure")
    pairs = ((kit.person(s.person_id), s) for s in figures)
    return [(person, figure) for person, figure in pairs if person is not None]


def there(case: Case, role: Role) -> list[Person]:
    """Who of the production does something and is there on the plate's day."""
    kit = case.shot.kit
    return [p for p in kit.there(kit.people, case.plate.film_on) if role in p.roles]


def troubles(case: Case) -> list[Trouble]:
    """Everything that is amiss, in the order in which it would be noticed."""
    return [*_absent(case), *_twice(case), *_shorter(case), *_crowd(case), *_hands(case)]


def _absent(case: Case) -> list[Trouble]:
    day, found = case.plate.film_on, []
    for person in dict.fromkeys(p for p, _ in cast(case)):
        loan = person.loan
        if person.id in case.shot.kit.lent:
            found.append(Trouble(Verdict.BREAKS, f"{person.name} is not there."))
            continue
        if not (loan.first or loan.last):
            continue
        days = f"{person.name} is there{span(loan, WRITTEN)}"
        if day is None:
            found.append(Trouble(Verdict.STRAINS, f"{days}: give this plate a day."))
        elif not loan.covers(day):
            said = f"{days} only; this plate is filmed on {day:{WRITTEN}}."
            found.append(Trouble(Verdict.BREAKS, said))
    return found


def _twice(case: Case) -> list[Trouble]:
    people = [p for p, _ in cast(case)]
    return [
        Trouble(
            Verdict.BREAKS,
            f"{person.name} is in this plate {people.count(person)} times: film each in a pass of "
            "its own.",
        )
        for person in dict.fromkeys(people)
        if people.count(person) > 1
    ]


def as_tall_m(case: Case, person: Person) -> float:
    """How tall somebody is in the story who is filmed on this stage: S times as tall (similar
    triangles)."""
    return person.height_m * case.plate.scale


def too_short(case: Case) -> list[tuple[Person, StandIn]]:
    """Who is not as tall as the figure that they stand for; a lower one may sit or kneel. Post lays
    in as large as the figure is what it places."""
    if case.plate.placed_in_post:
        return []
    return [
        (person, figure)
        for person, figure in cast(case)
        if figure.height_m > as_tall_m(case, person) * (1.0 + TALL_HOLDS)
    ]


def _shorter(case: Case) -> list[Trouble]:
    at = "" if case.plate.scale == 1.0 else f" in the story, filmed at {scale(case.plate.scale)}"
    return [
        Trouble(
            Verdict.STRAINS,
            f"{person.name} is {length(as_tall_m(case, person))} tall{at}; the figure is "
            f"{length(figure.height_m)}.",
        )
        for person, figure in too_short(case)
    ]


def _crowd(case: Case) -> list[Trouble]:
    crowd = case.plate.crowd
    if crowd is None or not any("performer" in p.roles for p in case.shot.kit.people):
        return []
    here = len(there(case, "performer"))
    if crowd.people <= here:
        return []
    day = case.plate.film_on
    when = "" if day is None else f" on {day:%-d %B}"
    verb = "is" if here == 1 else "are"
    said = (
        f"The crowd takes {crowd.people} people in a pass; {here} {verb} known to be there{when}."
    )
    return [Trouble(Verdict.STRAINS, said)]


def _posing(case: Case) -> list[Person]:
    """Who can pose what is animated here; nobody where nothing is, or no animator is known."""
    return there(case, "animator") if case.plate.kind == "puppet" else []


def _hands(case: Case) -> list[Trouble]:
    """Hands that a take needs: an animator who reaches the puppets, drivers of rig and camera."""
    people, plate = case.shot.kit.people, case.plate
    found = []
    if plate.kind == "puppet" and any("animator" in p.roles for p in people):
        posing = _posing(case)
        if not posing:
            found.append(Trouble(Verdict.BREAKS, "No animator is there on that day."))
        reach = [p.reach_m for p in posing]
        deep = deepest_m(case)
        if deep is not None and reach and None not in reach:
            most = max(r for r in reach if r is not None)
            if deep.inside_m > most:
                said = (
                    f"{deep.name} stands {length(deep.inside_m)} inside the set; the longest arm "
                    f"reaches {length(most)}: leave a gap or a trap door in the table."
                )
                found.append(Trouble(Verdict.STRAINS, said))
    if any("driver" in p.roles for p in people) and plate.kind not in TIMELESS:
        needs = ["the rig"] if plate.rig is not None else []
        needs += [] if case.shot.move.length_m == 0.0 else ["the camera"]
        filmed = {p.id for p, _ in cast(case)}
        free = [p for p in there(case, "driver") if p.id not in filmed]
        if len(needs) > len(free):
            who = " and ".join(p.name for p in free) or "nobody"
            said = f"{' and '.join(needs).capitalize()} each take a pair of hands; free: {who}."
            if len(needs) == 1:
                said = f"{needs[0].capitalize()} takes a pair of hands, and no driver is free."
            found.append(Trouble(Verdict.STRAINS, said))
    return found


class Deep(NamedTuple):
    """What stands farthest inside a set, and how far from its nearest edge, stage metres."""

    name: str
    inside_m: float


def deepest_m(case: Case) -> Deep | None:
    """The puppet farthest from the edges of its set: of the outline, seen from above, of the
    ground and the boxes that the plate films; None without either."""
    scale = case.plate.scale
    own = case.shot.stand_ins_of(case.plate)
    puppets = [s for s in own if s.kind == "figure"]
    set_of = [measured_points(s).points[:, :2] for s in own if s.kind in ("ground", "box")]
    if not puppets or not set_of:
        return None
    try:
        hull = ConvexHull(np.concatenate(set_of))
    except QhullError:
        return None
    at: Array = np.array([(s.x_m, s.y_m) for s in puppets])
    inside = -(at @ hull.equations[:, :2].T + hull.equations[:, 2]).max(axis=1)
    worst = int(inside.argmax())
    return Deep(puppets[worst].name, float(inside[worst]) / scale)


def _workings(case: Case) -> list[Working]:
    return [
        Working(
            formula="height in the story = height · S",
            inputs=(
                Quantity("h", f"{person.name}, shoes on", person.height_m, "m"),
                Quantity("S", "scale", case.plate.scale, ""),
            ),
            result=Quantity("H", "in the story", as_tall_m(case, person), "m"),
            source="Similar triangles.",
        )
        for person, _ in cast(case)
    ]


def _ways(case: Case) -> list[Way]:
    """Figures as tall as who stands for them; a day on which all of them are there."""
    ways = []
    tall = {
        figure.id: {"height_m": round(as_tall_m(case, person), 3)}
        for person, figure in too_short(case)
    }
    if tall:
        ways.append(Way("Plan with how tall they are.", things=tall))
    all_there = shared(p.loan for p, _ in cast(case))
    day = all_there.first or all_there.last
    if day is not None and all_there.covers(day):
        ways.append(Way(f"Film it on {day:{WRITTEN}}.", {"film_on": day}))
    return ways


RULE = Rule(
    key="people",
    title="People",
    name="people",
    speak=judge_people,
    ways=_ways,
    otherwise="Somebody else, or another day.",
)
