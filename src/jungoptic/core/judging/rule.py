"""What a rule is: one question, one definition of its answer, for one plate and for all candidates.

`measure` answers in numbers that broadcast: asked of one plate it gives one rank, asked of the
planner's table it gives the ranks of every candidate at once. `speak` says the same of one plate
in words, with its working and the ways out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Literal, NamedTuple, Protocol, TypeVar

from ..camera import Array
from ..plan.findings import Finding, Verdict, Working
from ..plan.kit import Body, Lens, Mode
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.motion import Motion
from .way import Way

#: What the planner may vary.
Axis = Literal["setup", "scale", "slowdown", "shutter", "stop", "iso", "passes"]
#: A number of one plate, or of many candidates at once.
Number = Any
N = TypeVar("N", float, Array)

VERDICTS = (Verdict.HOLDS, Verdict.STRAINS, Verdict.BREAKS)


class Measured(NamedTuple):
    """A rule's answer. `rank`: 0 holds, 1 strains, 2 breaks; `short`: how far from holding, in the
    rule's own measure (0 or less: it holds)."""

    rank: Number
    short: Number


class Chosen(Protocol):
    """A body in one mode with one lens."""

    @property
    def body(self) -> Body: ...
    @property
    def mode(self) -> Mode: ...
    @property
    def lens(self) -> Lens: ...


class Numbers(Protocol):
    """The numbers of one plate, or of every candidate of the planner. Metres and millimetres on the
    stage as the names say; NaN where there is no such thing."""

    @property
    def shot(self) -> Shot: ...
    @property
    def plate(self) -> Plate: ...
    @property
    def relaxed(self) -> float: ...
    @property
    def tolerance_px(self) -> float: ...

    def of_setup(self, name: str, of: Callable[[Chosen], float]) -> Number:
        """A number of the body, mode and lens; `name` tells it from others."""

    # view
    @property
    def crop_across(self) -> Number: ...
    @property
    def crop_down(self) -> Number: ...
    @property
    def pixels(self) -> Number: ...
    # glass
    @property
    def focal_mm(self) -> Number: ...
    @property
    def pupil_ratio(self) -> Number: ...
    @property
    def coc_mm(self) -> Number: ...
    @property
    def f_number(self) -> Number: ...
    @property
    def working_stop(self) -> Number: ...
    @property
    def sensor_to_pupil_m(self) -> Number: ...
    # depth: what must be sharp, the focus, the passes asked for and those that would be enough
    @property
    def near_m(self) -> Number: ...
    @property
    def far_m(self) -> Number: ...
    @property
    def focus_m(self) -> Number: ...
    @property
    def first_focus_m(self) -> Number: ...
    @property
    def last_focus_m(self) -> Number: ...
    @property
    def passes(self) -> Number: ...
    @property
    def passes_needed(self) -> Number: ...
    # time and light
    @property
    def needed_fps(self) -> Number: ...
    @property
    def capture_fps(self) -> Number: ...
    @property
    def rate_decided(self) -> Number: ...
    @property
    def shutter_deg(self) -> Number: ...
    @property
    def exposure_s(self) -> Number: ...
    @property
    def stops_short(self) -> Number: ...
    # what moves in the picture
    @property
    def motion(self) -> Motion: ...

    def of_place(self, name: str, of: Callable[[Case], float]) -> Number:
        """A number of where the camera stands; asked once for each place."""

    def of_place_with(self, name: str, of: Callable[..., float], *values: Number) -> Number:
        """A number of where the camera stands and of `values` that hang on setup and scale; asked
        once for each place and values."""


Judge = Callable[[Case], Finding | None]


@dataclass(frozen=True)
class Rule:
    """One question that a supervisor asks.

    `name` is what a person calls it in a list; `axes` what its answer may hang on beside where the
    camera stands. `measure` gives the rank; None for a rule that hangs on the place alone and is
    asked by `speak`. `takes` says what it would take to mend one candidate ("" for what the
    judgement itself would do) and what is wrong with it, `short` being the measure's; `otherwise`
    is said where nothing better is known. `ways` names changes that might mend it, untried. A rule
    `of_shot` also asks about the shot's other plates. `quiet`: it has nothing to say where all is
    well.
    """

    key: str
    title: str
    name: str
    speak: Judge
    ways: Callable[[Case], Iterable[Way]] | None = None
    axes: frozenset[Axis] = frozenset()
    measure: Callable[[Numbers], Measured | None] | None = None
    takes: Callable[[Case, float], tuple[str, str] | None] | None = None
    otherwise: str = ""
    of_shot: bool = False
    quiet: bool = False

    def finding(
        self,
        verdict: Verdict,
        sentence: str,
        workings: tuple[Working, ...] = (),
    ) -> Finding:
        """What this rule has to say."""
        return Finding(self.key, self.title, verdict, sentence, workings)

    def rank(self, numbers: Numbers) -> int | None:
        """The rank of one plate; None where the rule has nothing to say."""
        assert self.measure is not None
        found = self.measure(numbers)
        return None if found is None else int(found.rank)


def sentence_of(judge: Judge, case: Case) -> str:
    """What a judge says of a case; nothing where it has nothing to say."""
    found = judge(case)
    return "" if found is None else found.sentence


def ranked(value: N, holds_to: float, strains_to: float) -> Any:
    """0 up to `holds_to`, 1 up to `strains_to`, else 2; NaN breaks, as `findings.banded`."""
    return 2 - 1 * (value <= holds_to) - 1 * (value <= strains_to)


def verdict_of(measured: Measured) -> Verdict:
    """The verdict of one plate's measure."""
    return VERDICTS[int(measured.rank)]
