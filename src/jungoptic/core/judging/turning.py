"""Does the picture shift because the camera turns about another place than its entrance pupil?"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..stage.turning import TURNS, turning_m, wander_m
from ..words.quantities import length, pixels
from .limits import MISMATCH_STRAINS_TO
from .numbers import asked
from .rule import Chosen, Measured, Numbers, Rule, ranked, verdict_of
from .way import Way

#: A pupil this near to the turning point is over it, millimetres: no rail is set finer (judgement).
OVER_IT_MM = 0.5


class Shift(NamedTuple):
    """The largest shift of the picture, delivered pixels, of what, and at which frame (from 1)."""

    px: float
    name: str
    frame: int


def shift(case: Case, ahead_m: float, above_m: float) -> Shift | None:
    """How far the picture goes from where it would be if the camera turned about its entrance
    pupil, which lies so far before and above what it does turn about; None where nothing is seen.

    The move on this stage with and without the pupil's wandering, at every frame.
    """
    points = case.compared
    off = wander_m(case.shot, points.seen.parts, ahead_m, above_m)
    there = points.through(case.shot, case.plate, case.stage.camera, off)
    apart = np.hypot(*(there - case.stage_pixels).T)
    if np.isnan(apart).all():
        return None
    worst = int(np.nanargmax(apart))
    return Shift(float(apart[worst]), points.name(worst), points.frame(worst))


def arm_m(case: Case) -> tuple[float, float] | None:
    """How far the entrance pupil lies before and above what the camera turns about; None where it
    turns about the pupil, or does not turn."""
    move = case.shot.move
    turns = turning_m(case.choice.body, case.plate)
    if turns is None or not (move.pan_deg or move.tilt_deg):
        return None
    return case.stage.sensor_to_pupil_m - turns[0], turns[1] if move.tilt_deg else 0.0


def judge_turning(case: Case) -> Finding | None:
    """What turning about another place than the entrance pupil does to the picture; None for a
    camera that does not pan or tilt, or films the shot alone."""
    measured, arm = asked(measure, case), arm_m(case)
    if measured is None or arm is None:
        return None
    found = shift(case, *arm)
    if found is None:
        return None
    plate, body = case.plate, case.choice.body
    verdict = verdict_of(measured)
    place = f"The camera turns about its {TURNS[plate.turns_about]}, "
    apart = []
    if abs(arm[0]) * 1000.0 > OVER_IT_MM:
        apart.append(f"{length(abs(arm[0]))} {'behind' if arm[0] > 0.0 else 'ahead of'}")
    if arm[1]:
        apart.append(f"{length(arm[1])} below")
    place += " and ".join(apart) + " the entrance pupil" if apart else "where its entrance pupil is"
    if plate.turns_about == "socket" and body.socket_mm is None:
        place += " (the socket taken to be under the sensor mark)"
    if verdict is Verdict.HOLDS:
        said = f"nothing shifts by more than {pixels(found.px)}."
        if found.px < 0.05:
            said = "nothing shifts."
    else:
        said = (
            f"{found.name} shifts by {pixels(found.px)} against the other plates at frame "
            f"{found.frame}. Tolerance {pixels(case.tolerance.px)}."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=f"{place}: {said}",
        workings=(
            Working(
                formula="pupil off its place = arm(turn) − arm(start),  arm = a · forward + h · up;"
                "  shift ≈ a sin(turn) · f / distance",
                inputs=(
                    Quantity("a", "pupil before the turning point", arm[0] * 1000.0, "mm"),
                    Quantity("h", "pupil above it, for a tilt", arm[1] * 1000.0, "mm"),
                    Quantity("p", "pan", case.shot.move.pan_deg, "°"),
                    Quantity("t", "tilt", case.shot.move.tilt_deg, "°"),
                    Quantity("s", "slid back", plate.slide_mm, "mm"),
                ),
                result=Quantity("d", "largest shift", found.px, "px"),
                source="Rotation of a rigid body and pinhole projection; that a camera must turn "
                "about its entrance pupil is common practice.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    arm, plate = arm_m(case), case.plate
    if arm is None:
        return []
    ways = []
    slide = round(plate.slide_mm + arm[0] * 1000.0, 1)
    if abs(arm[0]) * 1000.0 > OVER_IT_MM:
        way = "back" if arm[0] > 0.0 else "forward"
        ways.append(
            Way(
                f"Slide the camera {length(abs(arm[0]))} {way} on its support, so that it turns "
                "below its entrance pupil.",
                {"slide_mm": slide},
            )
        )
    if arm[1]:
        ways.append(
            Way(
                "Put it on a head that tilts about the lens axis, at its entrance pupil.",
                {"turns_about": "pupil", "slide_mm": 0.0},
            )
        )
    return ways


def measure(n: Numbers) -> Measured | None:
    """The largest shift in pixels; None for a camera that does not turn, or turns about its pupil,
    and for a shot of one plate: nothing else is there that it could shift against."""
    move = n.shot.move
    if n.plate.turns_about == "pupil" or not (move.pan_deg or move.tilt_deg):
        return None
    if len(n.shot.plates) < 2:
        return None

    def ahead(setup: Chosen) -> float:
        turns = turning_m(setup.body, n.plate)
        return 0.0 if turns is None else turns[0]

    def above(setup: Chosen) -> float:
        turns = turning_m(setup.body, n.plate)
        return 0.0 if turns is None or not move.tilt_deg else turns[1]

    off = n.of_place_with(
        "turning",
        _px,
        n.sensor_to_pupil_m - n.of_setup("turns at", ahead),
        n.of_setup("turns below", above),
    )
    if np.isnan(off).all():
        return None
    most = n.tolerance_px * MISMATCH_STRAINS_TO
    ranks = np.where(np.isnan(off), 0, ranked(off, n.tolerance_px, most))
    return Measured(ranks, off - most)


def _px(case: Case, ahead_m: float, above_m: float) -> float:
    found = shift(case, ahead_m, above_m)
    return np.nan if found is None else found.px


def takes(case: Case, short: float) -> tuple[str, str]:
    """A rail to slide it on."""
    arm = arm_m(case) or (0.0, 0.0)
    return (
        f"A slide of {length(abs(arm[0]))} under the camera.",
        f"{pixels(short + case.tolerance.px * MISMATCH_STRAINS_TO)} of parallax",
    )


RULE = Rule(
    key="turning",
    title="Turning point",
    name="turning point",
    speak=judge_turning,
    ways=_ways,
    axes=frozenset({"setup", "scale"}),
    measure=measure,
    takes=takes,
)
