"""What a recipe is: a way of building a shot, and the plates (passes) it needs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from ...cost.work import Work
from ...plan.plate import PlateKind
from ...plan.standins import StandInKind
from ...plan.tricks import RigKind

Family = Literal["plain", "sets", "performers", "objects", "elements", "frames"]


FAMILIES: Mapping[str, str] = {
    "plain": "Without a trick",
    "sets": "Places that are not there",
    "performers": "People doubled, many, changed or in the air",
    "objects": "Things that move, change or break by themselves",
    "elements": "Fire, weather, traffic and animals",
    "frames": "Built frame by frame",
}


@dataclass(frozen=True)
class Thing:
    """A stand-in that a pass begins with, placed by the shot's own world camera.

    `across` runs from -1 to 1 over the picture at its distance; `away` is in units of the distance
    at which a standing person fills half the picture. Sizes in metres; with `fills` the width and
    height are made to fill the picture there.
    """

    name: str
    kind: StandInKind = "figure"
    across: float = 0.0
    away: float = 1.0
    width_m: float = 0.5
    height_m: float = 1.7
    depth_m: float = 0.0
    z_m: float = 0.0
    fills: bool = False


@dataclass(frozen=True)
class Pass:
    """One plate of a recipe and why it exists.

    `lock` names the lock-off it shares with other passes of the recipe (same letter, same camera
    position, lens, focus, stop, light); None stands alone. `after` names passes that must be
    filmed first. `settings` are decisions on the plate (field name -> value).
    """

    key: str
    name: str
    why: str
    kind: PlateKind
    required: bool = True
    lock: str | None = None
    after: tuple[str, ...] = ()
    settings: Mapping[str, float | int | str | bool] = field(default_factory=dict)
    marks: tuple[str, ...] = ()
    things: tuple[Thing, ...] = ()
    hazards: tuple[str, ...] = ()
    work: Work = field(default_factory=Work)
    #: What carries its first thing; whether the picture on that is replaced; whether its people are
    #: filmed as a crowd.
    carried: RigKind | None = None
    replaced: bool = False
    crowd: bool = False


@dataclass(frozen=True)
class Between:
    """A line between two passes, by their keys: the first left of it, or above it when it lies.
    Something may be thrown across it, that flies so many frames."""

    first: str
    second: str
    upright: bool = True
    thrown_frames: int = 0


@dataclass(frozen=True)
class Happens:
    """Something that happens in a pass, `at` a part of the screen time; or `gap` frames after
    another one of the recipe, by its number, give or take `allowed`. `cue`: a sound is played for
    it on set. `thrown`: it is the throw, which flies `gap` frames."""

    name: str
    on: str
    at: float = 0.5
    after: int | None = None
    gap: int = 0
    allowed: int = 1
    cue: bool = False
    thrown: bool = False


@dataclass(frozen=True)
class Recipe:
    """A way of building a shot.

    `shows`: what it can put on the screen (see `advisor.SUBJECTS`). `needs`: what must be owned
    or built. `people`: fewest people on set, performers included. `money`, `risk`: 0 (none) to 3
    (judgement). `reusable`: what is filmed once serves other shots. `longest_s`: the longest it
    bears being looked at, None without limit. `said`: words that people look for it by.
    """

    key: str
    name: str
    family: Family
    effect: str
    suits: tuple[str, ...]
    avoid: tuple[str, ...]
    passes: tuple[Pass, ...]
    right: tuple[str, ...]
    betrays: tuple[str, ...]
    post: tuple[str, ...]
    shows: frozenset[str]
    camera: frozenset[str] = frozenset({"locked"})
    needs: frozenset[str] = frozenset()
    hazards: tuple[str, ...] = ()
    people: int = 2
    money: int = 0
    realism: int = 3
    risk: int = 1
    risk_why: str = ""
    reusable: bool = False
    longest_s: float | None = None
    said: str = ""
    lines: tuple[Between, ...] = ()
    beats: tuple[Happens, ...] = ()
    #: How many times the story's camera closes in by the end, in post.
    zoom: float = 1.0

    @property
    def required(self) -> tuple[Pass, ...]:
        """The passes without which it does not work."""
        return tuple(p for p in self.passes if p.required)

    @property
    def all_hazards(self) -> tuple[str, ...]:
        """Hazards of the recipe and of every pass, each once, in order."""
        keys = [*self.hazards, *(k for p in self.passes for k in p.hazards)]
        return tuple(dict.fromkeys(keys))

    def pass_of(self, key: str) -> Pass | None:
        """The pass with this key."""
        return next((p for p in self.passes if p.key == key), None)


#: Reference pictures that every recipe carries, once per set-up (common practice).
REFERENCES: tuple[tuple[str, str], ...] = (
    ("Grey ball and mirror ball in the hero light", "where the light comes from, and how hard"),
    ("Colour chart in the hero light", "white balance and exposure can be matched later"),
    ("Tape measure photographed on the marks", "the numbers survive when the note is lost"),
    ("Lens grid, one still per lens", "distortion can be taken out and put back"),
    ("Slate with the card's number", "the clip can be found"),
)


def clean(
    lock: str = "a",
    after: tuple[str, ...] = ("take",),
    why: str = "Whatever must disappear is replaced by what is behind it.",
    required: bool = True,
    things: tuple[Thing, ...] = (),
) -> Pass:
    """The clean plate of a lock-off: the same picture with nobody in it."""
    return Pass(
        key="clean",
        name="Clean plate",
        why=why,
        kind="live",
        required=required,
        lock=lock,
        after=after,
        settings={"motion": "still"},
        marks=("Roll 20 to 30 s with everything as for the take, nobody in frame.",),
        things=things,
        work=Work(takes=1),
    )


def performer(name: str = "Performer", across: float = 0.0, away: float = 1.0) -> Thing:
    """A standing person."""
    return Thing(name, "figure", across, away)


def fills(name: str, away: float, height_m: float = 0.0) -> Thing:
    """A flat backing that fills the picture at its distance."""
    return Thing(name, "card", 0.0, away, 1.0, height_m or 1.0, fills=True)


def on_screen(
    key: str = "performer",
    name: str = "Performer on a screen",
    why: str = "The person is filmed where there is room, with light that matches the set.",
    things: tuple[Thing, ...] = (),
    required: bool = True,
    after: tuple[str, ...] = (),
    hazards: tuple[str, ...] = (),
    placed: bool = False,
) -> Pass:
    """A performer filmed against an evenly lit screen; `placed`: near and large, and laid in where
    it belongs."""
    return Pass(
        key=key,
        name=name,
        why=why,
        kind="screen",
        required=required,
        after=after,
        settings={
            "f_number": 5.6,
            "screen_width_m": 3.0,
            "screen_height_m": 3.0,
            "screen_gap_m": 2.0,
            **({"placed_in_post": True} if placed else {}),
        },
        marks=(
            "Feet mark taped on the floor at the distance of the sheet.",
            "Screen 2 m or more behind.",
        ),
        things=things or (performer(),),
        hazards=hazards,
        work=Work(cut="key", takes=5),
    )


def half(
    key: str,
    name: str,
    why: str,
    who: str,
    across: float,
    after: tuple[str, ...] = (),
    flop: bool = False,
) -> Pass:
    """One half of a split on the common lock-off; with `flop` mirrored afterwards, `across` told as
    the story has it."""
    return Pass(
        key,
        name,
        why,
        "live",
        lock="a",
        after=after,
        settings={"f_number": 5.6, **({"flop": True} if flop else {})},
        marks=("Keep-out line taped on the floor; eyeline mark at the other's eyes.",),
        things=(performer(who, across, 1.1),),
        work=Work(cut="split", takes=5),
    )
