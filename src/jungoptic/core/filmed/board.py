"""The board that a camera saw, against the plan of its plate: where the camera stood, without a
tape."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ..board.seen import WELL_PX_PER_MM, FocalFrom, Seen, Stood, Way
from ..plan.findings import Finding, Quantity, Verdict, Working, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words import quantities as say
from .stood import TILT_SURE_DEG, judge_roll, marked_by, readings_of_stood, said_of

#: A measured focal length departs from the plan's by at least this part before it counts: zooms are
#: set by eye between their marks.
FOCAL_APART = 0.01


@dataclass(frozen=True)
class Held:
    """A board as it counts. `way`: how it was, "" where nobody has said and the likelier counts;
    `ruler_mm`: what its line of 100 mm really measures; `elsewhere`: the slate of the card that it
    is the board of, where that is not the card of the take; `up_m`: how far its lower edge was
    above the stage's ground, None where nobody has said and it counts as its card advises,
    `advised_up_m`, if it stood."""

    seen: Seen
    way: Way | Literal[""] = ""
    ruler_mm: float = 100.0
    elsewhere: str = ""
    up_m: float | None = None
    advised_up_m: float = 0.0


def way_of(case: Case | None, held: Held) -> Way | None:
    """How the board was: as somebody said, else as it fits the planned tilt best."""
    return held.way or held.seen.likelier(None if case is None else case.stage.tilt_deg)


def stood_by(case: Case | None, held: Held) -> Stood | None:
    """Where the camera stood; None where nothing says so."""
    way = way_of(case, held)
    one = None if way is None else held.seen.stood(way)
    if one is None:
        return None
    there = one.printed(held.ruler_mm)
    return replace(there, height_m=there.height_m + up_of(case, held))


def up_of(case: Case | None, held: Held) -> float:
    """How far above the stage's ground the lower edge counts as having been, metres."""
    if held.up_m is not None:
        return held.up_m
    return held.advised_up_m if way_of(case, held) == "standing" else 0.0


def readings_by_board(shot: Shot, plate: Plate, held: Held) -> dict[str, float]:
    """What a board tells of the readings of its take, by their names, as a tape would have read
    them: height and distance of the sensor mark. Raises Impossible for a plan that cannot be."""
    case = Case.of(shot, plate)
    one = None if case is None else stood_by(case, held)
    # The board of another card lay on another mark.
    if case is None or one is None or held.elsewhere:
        return {}
    found = readings_of_stood(case, one)
    if held.seen.focal_told == "board" and held.seen.focal_mm is not None:
        found["focal_mm"] = marked_by(case, held.seen.focal_mm)
    return found


def focal_gone_by(
    planned_mm: float | None, file_mm: float | None, measured: tuple[float, float] | None
) -> tuple[float, FocalFrom] | None:
    """(the pinhole distance that a board is measured with, whether the "file", the "board" or the
    "plan" told it); None where nothing does. The board itself is believed against the plan where
    it is sure that the lens was set otherwise."""
    if file_mm is not None:
        return file_mm, "file"
    if measured is not None:
        found, off = measured
        if planned_mm is None or abs(found - planned_mm) > max(off, FOCAL_APART * planned_mm):
            return found, "board"
    return None if planned_mm is None else (planned_mm, "plan")


def judge_board(shot: Shot, plate: Plate, held: Held) -> list[Finding]:
    """What a board says that no reading of the take does, worst first. Raises Impossible for a plan
    that cannot be."""
    if held.elsewhere:
        return [
            Finding(
                "board-card",
                "Board",
                Verdict.BREAKS,
                f"The board held up is that of {held.elsewhere}: it was the wrong board, or this "
                "was sent to the wrong place. Move it there, or hold up this card's board.",
            )
        ]
    case = Case.of(shot, plate)
    if case is None:
        return []
    one = stood_by(case, held)
    if one is None:
        return []
    leaned = judge_roll(case, one, "board-roll", "if the board was straight")
    return worst_first([_stood(case, held, one), leaned])


def _stood(case: Case, held: Held, one: Stood) -> Finding:
    seen = held.seen
    rough = seen.found.fineness < WELL_PX_PER_MM
    told = said_of(case, one, "By the board")
    if one.tilt_off > TILT_SURE_DEG:
        told += " Seen like this a board says little of height and tilt: both are left to the tape."
    if rough:
        told += " It is small in the picture, so that is rough: hold it nearer, or film it on A3."
    up = up_of(case, held)
    above = f", {say.length(up)} above the floor of the stage" if up > 0.0 else ""
    if way_of(case, held) == "standing":
        told += f" Taken to stand upright on its lower edge{above}."
    else:
        told += f" Taken to lie flat{above}."
    return Finding(
        "board-stood",
        "Where the camera stood",
        Verdict.STRAINS if rough else Verdict.HOLDS,
        told,
        (
            Working(
                "the camera that puts the board's corners where the picture has them",
                (
                    Quantity("n", "corners found", float(len(seen.found.corners)), ""),
                    Quantity("p", "pixels to a millimetre of it", seen.found.px_per_mm, "px"),
                    Quantity("r", "root mean square of what they are off", seen.rms_px, "px"),
                    Quantity("f", f"pinhole distance, from the {seen.focal_told}",
                             seen.focal_mm or 0.0, "mm"),
                    Quantity("L", "the line of 100 mm on the paper", held.ruler_mm, "mm"),
                ),
                Quantity("D", "level from the mark to the entrance pupil", one.distance_m, "m"),
                "Perspective from points (Terzakis and Lourakis 2020), then least squares; ± holds "
                "nine errors of ten"
                + (", straight lines as the lens was measured." if seen.straightened
                   else ", lens distortion not counted: measure the lens in Kit."),
            ),
        ),
    )  # fmt: skip


#: How far a tape and the board may lie apart and agree: a part, and metres or degrees at least.
TAPED: dict[str, tuple[str, Callable[[float], str], float, float]] = {
    "axis_height_m": ("Height", say.length, 0.005, 0.01),
    "distance_m": ("Distance", say.length, 0.005, 0.01),
    "tilt_deg": ("Tilt", say.degrees, 0.0, 0.5),
}


def judge_taped(
    typed: Mapping[str, float | None], told: Mapping[str, float], by_marks: bool = False
) -> list[Finding]:
    """Readings that somebody taped, by their names, against what the board says, or marks that were
    picked: one of them is wrong, or the board was not on its mark."""
    found = []
    for name, (word, said, part, least) in TAPED.items():
        mine, board = typed.get(name), told.get(name)
        if mine is None or board is None or abs(mine - board) <= max(part * abs(board), least):
            continue
        says, doubt = (
            ("the marks in the picture say", "one of them was taped from elsewhere")
            if by_marks
            else ("the board says", "the board was not on its mark")
        )
        sentence = (
            f"{said(mine)} was read off, {says} {said(board)}: measure once more, or {doubt}."
        )
        found.append(Finding(f"board-typed-{name}", word, Verdict.STRAINS, sentence))
    return found
