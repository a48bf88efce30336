"""In which order the passes of a split are filmed, what fills them, and how long that takes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..cost.effort import BY_KEY
from ..plan.plate import Plate
from ..plan.tricks import Split
from ..stage.case import Case
from .clean import clean_of
from .drift import SunDrift


@dataclass(frozen=True)
class PassOf:
    """One pass: which plate, why it comes there, what its side does while the other is seen, and
    minutes from the beginning of the lock-off until it is done."""

    plate_id: str
    name: str
    why: str
    filler: str
    done_min: float


@dataclass(frozen=True)
class DriftLimit:
    """How far the halves of one split may drift apart: how far the camera may have turned, what the
    light may have changed along the line (wider feathers hide more), and minutes of sun. `px`: the
    shift that is not seen; `minutes`: None indoors."""

    px: float
    turn_deg: float
    light_stops: float
    minutes: float | None
    needed_min: float


#: A step of a fiftieth in brightness is just seen along a hard line (Weber; from memory), and this
#: wide a feather hides twice as much (judgement).
STEP = 0.02
HIDES_PX = 40.0


def pass_minutes(plate: Plate) -> float:
    """Minutes of one pass on a lock-off that stands."""
    return BY_KEY["pass"].likely_min + plate.takes_planned * BY_KEY["take"].likely_min


def passes_of(case: Case, split: Split) -> tuple[PassOf, ...]:
    """The passes of a split in filming order: who throws or leads first, who answers second, then
    the clean plate."""
    shot = case.shot
    by_id = {p.id: p for p in shot.plates}
    ids = [split.first_id, split.second_id]
    if split.throw is not None and split.throw.to_x_m < split.throw.from_x_m and split.upright:
        ids.reverse()
    halves = [by_id[i] for i in ids if i in by_id]
    clean = next((c for p in halves if (c := clean_of(shot, p)) is not None), None)
    if clean is not None and clean.id in ids:
        clean = None
    found, gone = [], 0.0
    for number, plate in enumerate(halves):
        gone += pass_minutes(plate)
        found.append(
            PassOf(
                plate.id, plate.name, _why(split, number), _filler(shot.frames, split, number), gone
            )
        )
    if clean is not None:
        gone += BY_KEY["pass"].likely_min
        found.append(
            PassOf(
                clean.id,
                clean.name,
                "Last, while everything still stands: it mends shadows and what strays over.",
                "",
                gone,
            )
        )
    return tuple(found)


def _why(split: Split, number: int) -> str:
    if split.throw is not None:
        return (
            "Throws, so it sets where and when the thing comes down."
            if number == 0
            else "Answers the flight that was chosen: its landing mark is measured from it."
        )
    return (
        "First: its rhythm is played back to the other half."
        if number == 0
        else "Second: acts against the sound of the first."
    )


def _filler(frames: int, split: Split, number: int) -> str:
    throw = split.throw
    if throw is None:
        return "Listens and breathes while the other speaks; no frozen pose."
    landed = throw.frame + throw.frames
    if number == 0:
        rest = max(frames - landed, 0)
        return f"After the throw keeps acting for {rest} frames, to frame {frames}."
    return (
        f"Stays out of the picture until frame {landed}, then lands; {frames - landed} frames left."
    )


def drift_limit(case: Case, split: Split, drift: SunDrift | None) -> DriftLimit:
    """What the halves of a split may differ by, and what they have: minutes of sun against minutes
    needed from the end of the first pass to the end of the last."""
    shot, camera = case.shot, case.stage.camera
    px = shot.base_tolerance_px / 2.0
    focal_px = camera.focal_px(shot.delivery.width_px)
    passes = passes_of(case, split)
    first = passes[0].done_min if passes else 0.0
    needed = (passes[-1].done_min if passes else 0.0) - first
    step = STEP * (1.0 + split.feather_px / HIDES_PX)
    return DriftLimit(
        px,
        math.degrees(math.atan2(px, focal_px)),
        math.log2(1.0 + step),
        None if drift is None else drift.minutes,
        needed,
    )
