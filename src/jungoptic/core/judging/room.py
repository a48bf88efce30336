"""Does the stage fit into the room chosen for it?"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.kit import Room
from ..plan.plate import Plate
from ..stage.case import Case
from ..stage.rooms import OPERATOR_M, RoomFit, room_fit
from ..words.quantities import length
from .limits import ROOM_STRAINS_TO_M
from .numbers import asked
from .placed import placed_nearer
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_room(case: Case) -> Finding | None:
    """Length, width and height of the room against what the stage takes; None without a room."""
    fit = room_fit(case)
    if fit is None:
        return None
    measured = asked(measure, case)
    assert measured is not None
    verdict = verdict_of(measured)
    return RULE.finding(
        verdict=verdict,
        sentence=_sentence(fit, verdict),
        workings=(_working(fit),),
    )


#: What is built or hung where there is room for it. A live plate is filmed where the story is.
HOUSED = frozenset({"miniature", "screen", "puppet", "element"})


def rooms_for(case: Case) -> tuple[Room, ...]:
    """The rooms and yards of the kit that the stage has room in, whichever is chosen."""

    def there_is_room(room: Room) -> bool:
        there = replace(case.plate, room_id=room.id, room_left_m=None)
        measured = asked(measure, Case(case.shot, there, case.stage))
        return measured is not None and verdict_of(measured) is not Verdict.BREAKS

    return tuple(room for room in case.shot.kit.rooms if there_is_room(room))


def meant(plate: Plate, fit: tuple[Room, ...]) -> Room | None:
    """Where a plate is filmed unless somebody chooses otherwise: the only one of the places that
    its stage `fit`s; None where there are several, and for what is filmed where the story is."""
    return fit[0] if len(fit) == 1 and plate.kind in HOUSED else None


def _sentence(fit: RoomFit, verdict: Verdict) -> str:
    name = fit.room.name
    if verdict is Verdict.HOLDS:
        # Where it is tightest: that is where a thing moved or a lamp added runs into it first.
        spare, where = min(
            (-fit.short_m, "at the far end"),
            (-fit.narrow_m, "to the nearer side"),
            (-fit.low_m, "above"),
        )
        return (
            f"{name}: {length(fit.along_m)} along the view, {length(fit.length_needed_m)} needed; "
            f"tightest {where}, {length(spare)} to spare."
        )
    parts = []
    if fit.short_m > 1e-9:
        parts.append(
            f"{length(fit.short_m)} too short ({length(fit.length_needed_m)} needed along the "
            f"view, {length(fit.along_m)} there)"
        )
    if fit.narrow_m > 1e-9:
        parts.append(f"{length(fit.narrow_m)} too narrow where this stage stands")
    if fit.low_m > 1e-9:
        parts.append(
            f"{length(fit.low_m)} too low ({length(fit.height_needed_m)} needed above the floor, "
            f"{length(fit.room.height_m or 0.0)} there)"
        )
    return f"{name} is " + ", and ".join(parts) + "."


def _working(fit: RoomFit) -> Working:
    return Working(
        formula="length needed = wall to sensor mark + sensor mark to the farthest thing",
        inputs=(
            Quantity("L", "room along the view", fit.along_m, "m"),
            Quantity("W", "room across the view", fit.across_m, "m"),
            Quantity("w", "width needed here", fit.width_needed_m, "m"),
            Quantity("H", "room height", fit.room.height_m or float("inf"), "m"),
            Quantity("h", "height needed above the floor", fit.height_needed_m, "m"),
        ),
        result=Quantity("l", "length needed", fit.length_needed_m, "m"),
        source=f"Addition; {OPERATOR_M * 1000:.0f} mm behind the camera unless set and 100 mm "
        "around things are judgements.",
    )


def _ways(case: Case) -> list[Way]:
    plate, fit = case.plate, room_fit(case)
    ways: list[Way] = [
        Way(
            "Turn the stage the other way in this room.",
            {"room_turned": not plate.room_turned, "room_left_m": None},
        )
    ]
    for room in case.shot.kit.rooms:
        if room.id != plate.room_id:
            ways.append(
                Way(f"Film it in the {room.name}.", {"room_id": room.id, "room_left_m": None})
            )
    if plate.kind == "screen":
        gap = plate.screen_gap_m - (max(fit.short_m, 0.0) if fit else 0.0)
        if gap > 0.5:
            ways.append(
                Way(
                    f"Hang the screen {length(round(gap - 0.005, 2))} behind the action.",
                    {"screen_gap_m": round(gap - 0.005, 2)},
                )
            )
    if fit is not None:
        ways += placed_nearer(case, fit.short_m)
    if (plate.room_behind_m or OPERATOR_M) > 0.15:
        ways.append(
            Way("Stand beside the camera, its back 150 mm from the wall.", {"room_behind_m": 0.15})
        )
    return ways


def measure(n: Numbers) -> Measured | None:
    """How much too short, narrow or low the room is, metres; None without a room."""
    if n.shot.kit.room(n.plate.room_id) is None:
        return None
    tilt = n.shot.world.tilt_deg if n.plate.tilt_deg is None else n.plate.tilt_deg
    short = n.of_place("room short", lambda case: _lack(case)[0])
    other = n.of_place("room narrow or low", lambda case: _lack(case)[1])
    back = n.of_place("sensor to pupil", lambda case: case.stage.sensor_to_pupil_m)
    # The place was worked out for one lens; another moves the wall behind by its own length.
    short = short + (n.sensor_to_pupil_m - back) * math.cos(math.radians(tilt))
    worst = np.maximum(short, other)
    return Measured(ranked(worst, 1e-9, ROOM_STRAINS_TO_M), worst)


def _lack(case: Case) -> tuple[float, float]:
    """(too short, the worse of too narrow and too low), metres."""
    fit = room_fit(case)
    return (-math.inf, -math.inf) if fit is None else (fit.short_m, max(fit.narrow_m, fit.low_m))


def takes(case: Case, short: float) -> tuple[str, str]:
    """A larger room."""
    return f"{length(short)} more room.", f"{length(short)} missing"


RULE = Rule(
    key="room",
    title="Room",
    name="room",
    speak=judge_room,
    ways=_ways,
    axes=frozenset({"scale", "setup"}),
    measure=measure,
    takes=takes,
)
