"""Which way of building a shot? Ranked from a few facts, safety first, with reasons.

The order of what counts is the trade's (common practice): people's safety, then hours on set,
then hours in post, money, and the risk of filming it again. Hours closer than a third count as
equal, because the table is no better than that.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..cost.effort import Hours, Job, ShotEffort, shot_effort
from ..cost.pace import paced
from ..cost.shapes import shapes_for
from ..impossible import Impossible
from .recipes import BOOK
from .recipes.apply import in_order
from .recipes.model import Pass, Recipe

#: What a shot may have to show, in words.
SUBJECTS: Mapping[str, str] = {
    "performer": "A performer",
    "double": "The same performer twice",
    "crowd": "A crowd",
    "object": "An object that moves by itself",
    "creature": "A creature",
    "vehicle": "A vehicle",
    "place": "A place that is not there",
    "opening": "A view through an opening",
    "fire": "Fire",
    "smoke": "Smoke or cloud",
    "water": "Wild water",
    "weather": "Weather, hours passing",
    "animal": "An animal",
    "height": "Height or a fall",
    "flight": "Something in the air",
    "impact": "A hit, a break",
    "transformation": "A change of body or dress",
    "giant": "Two sizes of person",
    "night": "Night outside",
    "picture": "A picture in a frame or dial",
}
#: What may be owned or borrowed.
OWNED: Mapping[str, str] = {
    "screen": "a screen",
    "miniature": "a miniature or the hands to build one",
    "puppet": "a puppet",
    "slider": "a slider",
    "rig": "thread, rods, a turntable",
    "stills": "a stills body",
    "fast rate": "60 fps or more",
    "black": "black cloth",
    "lamps": "dimmable lamps",
}
#: How bad it can go, 0 to 4, when the thing itself is near people (judgement).
DANGER: Mapping[str, int] = {
    "fire": 4,
    "fuel": 4,
    "pyrotechnics": 4,
    "traffic": 4,
    "height": 3,
    "falls": 2,
    "lifting": 2,
    "animals": 2,
    "water": 2,
    "cold": 3,
    "weapons": 3,
    "glass": 1,
    "spin": 1,
    "strobe": 1,
    "smoke": 1,
    "dust": 1,
    "laser": 2,
}
#: Hazards that filming it as it is brings along with what is shown.
REAL: Mapping[str, str] = {
    "fire": "fire",
    "smoke": "smoke",
    "water": "water",
    "animal": "animals",
    "height": "height",
    "vehicle": "traffic",
    "impact": "falls",
}
#: The way without a trick.
AS_IT_IS = "as-it-is"
#: Hours within this ratio count as equal.
BAND = 4.0 / 3.0


@dataclass(frozen=True)
class Facts:
    """A few facts about a shot. `realism` 1 (openly made) to 3 (nobody may notice);
    `seen_again`: in how many shots the same thing is seen, this one included; `closeness` is left
    to the Bench."""

    shows: frozenset[str] = frozenset({"performer"})
    camera: str = "locked"
    seconds: float = 4.0
    fps: float = 24.0
    people: int = 4
    owned: frozenset[str] = frozenset(OWNED)
    realism: int = 3
    screen_fits: bool = True
    night: bool = False
    seen_again: int = 1

    @property
    def wanted(self) -> frozenset[str]:
        """The subjects, night included."""
        return self.shows | ({"night"} if self.night else frozenset())


@dataclass(frozen=True)
class Option:
    """One recipe for the shot: what it covers, what speaks for and against it, what it costs."""

    recipe: str
    name: str
    covers: tuple[str, ...]
    lacks: tuple[str, ...]
    blocked: tuple[str, ...]
    danger: int
    set: Hours
    post: Hours
    money: int
    risk: int
    reasons: tuple[str, ...]
    against: tuple[str, ...]
    decided_by: str = ""

    @property
    def suitable(self) -> bool:
        """Nothing rules it out."""
        return not self.blocked


def jobs_of(recipe: Recipe, facts: Facts) -> list[Job]:
    """The required passes as work, cut by hand where no screen fits."""
    return [_job(one, facts) for one in in_order(recipe) if one.required]


def _job(one: Pass, facts: Facts) -> Job:
    kind, work = one.kind, one.work
    if kind == "screen" and not facts.screen_fits:
        kind = "live"
        work = replace(work, cut="roto")
    if work.shapes is None:
        # Whoever acts moves.
        work = replace(work, shapes=shapes_for((t.kind, t.kind == "figure") for t in one.things))
    return Job(
        one.key,
        one.name,
        kind,
        work,
        facts.seconds,
        facts.fps,
        one.lock or "",
        again=bool(one.settings.get("pass_for")),
    )


def danger_of(recipe: Recipe, facts: Facts) -> tuple[int, str]:
    """The worst that can go wrong, 0 to 4, and the hazard behind it."""
    keys = list(recipe.all_hazards)
    if recipe.key == AS_IT_IS:
        keys += [REAL[s] for s in sorted(facts.shows) if s in REAL]
    worst = max(keys, key=lambda k: DANGER.get(k, 0), default="")
    return DANGER.get(worst, 0), worst


def option(
    recipe: Recipe, facts: Facts, set_pace: float = 1.0, post_pace: float = 1.0
) -> Option | None:
    """How `recipe` does for these facts; None when it shows nothing that is wanted."""
    covers = facts.wanted & recipe.shows
    if not covers or (recipe.key != AS_IT_IS and covers <= {"performer"}):
        # A performer is in nearly everything: a trick that covers only that is no use.
        return None
    lacks = facts.wanted - recipe.shows
    blocked, reasons, against = [], [], []
    if facts.camera not in recipe.camera:
        blocked.append(f"it needs a {' or '.join(sorted(recipe.camera))} camera")
    if facts.people < recipe.people:
        blocked.append(f"it takes {recipe.people} people, you have {facts.people}")
    if facts.realism > recipe.realism:
        against.append("it looks made; this shot must not")
    effort = paced(shot_effort(jobs_of(recipe, facts)), set_pace, post_pace)
    hours_set = effort.set
    money = recipe.money
    missing = sorted(recipe.needs - facts.owned - ({"screen"} if not facts.screen_fits else set()))
    if missing:
        money += len(missing)
        against.append("to be borrowed or built: " + ", ".join(OWNED[m] for m in missing))
    if not facts.screen_fits and any(p.kind == "screen" for p in recipe.required):
        extra = effort.post.likely - _with_screen(recipe, facts, post_pace).post.likely
        against.append(f"no screen fits, so it is cut out by hand: {extra:+.1f} h in post")
    if recipe.reusable and facts.seen_again > 1:
        hours_set = hours_set.times(1.0 / facts.seen_again)
        reasons.append(f"filmed once, it serves {facts.seen_again} shots")
    risk = recipe.risk
    if recipe.longest_s is not None and facts.seconds > recipe.longest_s:
        risk = min(risk + 1, 3)
        against.append(
            f"{facts.seconds:g} s is long for it; keep it under {recipe.longest_s:g} s or cut away"
        )
    danger, behind = danger_of(recipe, facts)
    if danger == 0:
        reasons.append("nobody is near anything dangerous")
    elif danger >= 3:
        against.append(f"{behind}: only with those whom local codes ask for")
    if recipe.risk_why:
        (against if risk >= 2 else reasons).append(f"risk: {recipe.risk_why}")
    return Option(
        recipe=recipe.key,
        name=recipe.name,
        covers=tuple(sorted(covers)),
        lacks=tuple(sorted(lacks)),
        blocked=tuple(blocked),
        danger=danger,
        set=hours_set,
        post=effort.post,
        money=min(money, 3),
        risk=risk,
        reasons=tuple(reasons),
        against=tuple(against),
    )


def _with_screen(recipe: Recipe, facts: Facts, post_pace: float) -> ShotEffort:
    return paced(shot_effort(jobs_of(recipe, replace(facts, screen_fits=True))), 1.0, post_pace)


def _band(hours: float) -> int:
    return math.floor(math.log(max(hours, 0.05)) / math.log(BAND))


#: What is compared, in this order: the words for the deciding one, and how to read it.
_ORDER = (
    ("it can be done as things are", lambda o: len(o.blocked)),
    ("it shows more of what is wanted", lambda o: len(o.lacks)),
    ("safer", lambda o: o.danger),
    ("fewer hours on set", lambda o: _band(o.set.likely)),
    ("fewer hours in post", lambda o: _band(o.post.likely)),
    ("less money", lambda o: o.money),
    ("less risk of filming it again", lambda o: o.risk),
    ("fewer hours in all", lambda o: round(o.set.likely + o.post.likely, 1)),
)


def rank(
    facts: Facts,
    book: tuple[Recipe, ...] = BOOK,
    set_pace: float = 1.0,
    post_pace: float = 1.0,
) -> tuple[Option, ...]:
    """The recipes that show something of what is wanted, best first.

    Each says what decided its place before the next one. Raises Impossible for subjects, things or
    numbers that make no sense.
    """
    check_facts(facts)
    found = [o for r in book if (o := option(r, facts, set_pace, post_pace)) is not None]
    found.sort(key=lambda o: (*(measure(o) for _, measure in _ORDER), o.name))
    return tuple(
        replace(one, decided_by=_decided(one, found[i + 1]) if i + 1 < len(found) else "")
        for i, one in enumerate(found)
    )


def _decided(one: Option, after: Option) -> str:
    for words, measure in _ORDER:
        if measure(one) < measure(after):
            if words.startswith("fewer hours on"):
                return f"{words}: {one.set.likely:.1f} against {after.set.likely:.1f}"
            if words.startswith("fewer hours in post"):
                return f"{words}: {one.post.likely:.1f} against {after.post.likely:.1f}"
            return words
    return "nothing tells them apart but the name"


def check_facts(facts: Facts) -> None:
    """Refuse facts that make no sense (Impossible)."""
    unknown = (facts.shows - set(SUBJECTS)) | (facts.owned - set(OWNED))
    if unknown:
        raise Impossible(f"Not known to the advisor: {', '.join(sorted(unknown))}.")
    if not facts.shows:
        raise Impossible("Say at least one thing that the shot must show.", "shows")
    if facts.camera not in {"locked", "moving"}:
        raise Impossible("The camera is locked or moving.", "camera")
    if not (facts.seconds > 0 and facts.fps > 0 and math.isfinite(facts.seconds * facts.fps)):
        raise Impossible("Screen time and rate must be positive.")


@dataclass(frozen=True)
class Turn:
    """A fact that, were it otherwise, would put another recipe first."""

    change: str
    first: str
    name: str


def turns(facts: Facts, book: tuple[Recipe, ...] = BOOK) -> tuple[Turn, ...]:
    """What would change the ranking: each fact turned round by itself, and who then wins."""
    now = rank(facts, book)
    if not now:
        return ()
    other_camera = "moving" if facts.camera == "locked" else "locked"
    tries = [
        (f"a {other_camera} camera", replace(facts, camera=other_camera)),
        (
            "no screen that fits" if facts.screen_fits else "a screen that fits",
            replace(facts, screen_fits=not facts.screen_fits),
        ),
        ("half the screen time", replace(facts, seconds=facts.seconds / 2.0)),
        ("twice the screen time", replace(facts, seconds=facts.seconds * 2.0)),
        ("four more people", replace(facts, people=facts.people + 4)),
        ("only you there", replace(facts, people=1)),
        ("three more shots that see the same", replace(facts, seen_again=facts.seen_again + 3)),
    ]
    tries += [
        (f"no {OWNED[o].removeprefix('a ')}", replace(facts, owned=facts.owned - {o}))
        for o in sorted(facts.owned)
    ]
    tries += [
        (OWNED[o], replace(facts, owned=facts.owned | {o}))
        for o in sorted(set(OWNED) - facts.owned)
    ]
    tries += [
        (
            f"no need to show {SUBJECTS[s][0].lower()}{SUBJECTS[s][1:]}",
            replace(facts, shows=facts.shows - {s}),
        )
        for s in sorted(facts.shows)
        if len(facts.shows) > 1
    ]
    found = []
    for words, other in tries:
        ranked = rank(other, book)
        if ranked and ranked[0].recipe != now[0].recipe:
            found.append(Turn(words, ranked[0].recipe, ranked[0].name))
    return tuple(found)
