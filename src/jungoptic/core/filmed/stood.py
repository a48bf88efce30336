"""Where a camera stood, found in its picture, against the plan of its plate: whatever told it."""

from __future__ import annotations

import math

from ..board.seen import Stood
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.case import Case
from ..stage.tape import mark_of
from ..words import quantities as say

#: A tilt less sure than this is not told in a tape's stead, and neither is the height that goes
#: with it: seen squarely, a camera a little lower and tilted a little up looks alike.
TILT_SURE_DEG = 0.5
#: A camera turned by less than this from side to side shows nowhere (judgement).
ROLL_HOLDS_DEG = 0.3


def readings_of_stood(case: Case, one: Stood) -> dict[str, float]:
    """Height, tilt and distance as a tape would have read them, of the sensor mark."""
    found = {}
    if one.tilt_off <= TILT_SURE_DEG:
        found = {"tilt_deg": one.tilt_deg, "axis_height_m": mark_height_m(case, one)}
    ahead = ahead_m(case, one)
    if ahead is not None:
        found["distance_m"] = ahead + case.stage.mark_behind_m[1]
    return found


def marked_by(case: Case, pinhole_mm: float) -> float:
    """What the ring of the lens says at a pinhole distance, which grows as a lens focuses close."""
    return case.choice.lens.marked_mm(pinhole_mm * case.stage.focal_mm / case.stage.pinhole_mm)


def mark_height_m(case: Case, one: Stood) -> float:
    """How high the sensor mark was: what was found is the entrance pupil's height."""
    if case.shot.old_rules:
        return one.height_m
    return one.height_m - case.stage.sensor_to_pupil_m * math.sin(math.radians(one.tilt_deg))


def ahead_m(case: Case, one: Stood) -> float | None:
    """From the pupil to the mark straight along the stage; None without a mark, or where the camera
    was nearer than its mark can be from the line."""
    mark = mark_of(case)
    if mark is None:
        return None
    aside = mark.x_m / case.plate.scale - case.stage.camera.position_m[0]
    if abs(aside) >= one.distance_m:
        return None
    return math.sqrt(one.distance_m**2 - aside**2)


def said_of(case: Case, one: Stood, by: str) -> str:
    """Where the camera stood in a sentence, `by` what told it."""
    height = mark_height_m(case, one)
    told = (
        f"{by}, the sensor mark was {_sure(height, one.height_off)} high and the lens "
        f"{_tilted(one.tilt_deg)} (± {say.degrees(max(one.tilt_off, 0.1))})"
    )
    ahead = ahead_m(case, one)
    if ahead is not None:
        tape = ahead + case.stage.mark_behind_m[1]
        told += f", {_sure(tape, one.distance_off)} from the mark"
    return told + "."


def _sure(metres: float, off: float) -> str:
    return f"{say.length(metres)} (± {say.length(max(off, 0.001))})"


def _tilted(tilt: float) -> str:
    if abs(tilt) < 0.05:
        return "level"
    return f"{say.degrees(abs(tilt))} {'up' if tilt > 0 else 'down'}"


def judge_roll(case: Case, one: Stood, key: str, provided: str) -> Finding:
    """Whether the camera leaned to a side; `provided` what that rests on."""
    planned = case.stage.camera.roll_deg
    off = one.roll_deg - planned
    sure = max(one.roll_off, ROLL_HOLDS_DEG)
    if abs(off) <= sure:
        told = "as planned" if abs(planned) >= 0.05 else "level"
        return Finding(key, "From side to side", Verdict.HOLDS, f"The camera was {told}.")
    stage = case.stage
    shape = stage.camera.sensor_width_mm / stage.camera.sensor_height_mm
    turn = math.radians(abs(off))
    left = 1.0 / (math.cos(turn) + shape * math.sin(turn))
    return Finding(
        key,
        "From side to side",
        Verdict.STRAINS,
        f"The camera leaned {say.degrees(abs(off))} to the {'right' if off > 0 else 'left'}"
        f" of {'the plan' if planned else 'level'}, {provided}: turning the picture"
        f" back in post leaves {say.percent(left)} of its width. Level the head.",
        (
            Working(
                "1 / (cos r + shape · sin r)",
                (
                    Quantity("r", "turn", abs(off), "°"),
                    Quantity("shape", "width / height", shape, ""),
                ),
                Quantity("w", "width left in a picture of the same shape", left, ""),
                "Trigonometry: the largest upright rectangle within a turned one of its shape.",
            ),
        ),
    )
