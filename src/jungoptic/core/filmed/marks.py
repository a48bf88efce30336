"""The marks that were picked in a picture, against the plan of its plate: where the camera stood,
where no board was held up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..picked.seen import AGREE, ByMarks
from ..plan.findings import Finding, Quantity, Verdict, Working, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import measured_points
from ..stage.at_mark import camera_at_mark
from ..stage.case import Case
from ..stage.tape import mark_of
from .stood import TILT_SURE_DEG, judge_roll, marked_by, readings_of_stood, said_of

#: Fewer marks than this fit some camera whatever is wrong with one of them.
CHECKED = 5


@dataclass(frozen=True)
class Offered:
    """A place of the plan whose tapes are known: metres to the right of the mark that tapes are
    laid to, ahead of it and above the stage's ground, and where the plan has it in the picture
    (parts of it; None out of it)."""

    name: str
    right_m: float
    ahead_m: float
    up_m: float
    x: float | None
    y: float | None


def offered(case: Case) -> list[Offered]:
    """The corners, feet and heads of what a plate films, each on its mark: places to pick without a
    tape, as long as everything stands as planned. What lies behind a thing is left out, and
    everything where there is no mark to tell them from."""
    mark, camera = mark_of(case), camera_at_mark(case)
    if mark is None or camera is None:
        return []
    plate, mode = case.plate, case.choice.mode
    origin = np.array([mark.x_m, mark.y_m, plate.ground_m])
    found = []
    for one in case.shot.stand_ins_of(plate):
        if one.kind == "ground":
            continue
        own = measured_points(one)
        places = (own.points - origin) / plate.scale
        pixels = camera.project(places, mode.width_px, mode.height_px)
        parts = pixels / np.array([mode.width_px, mode.height_px])
        inside = ((parts >= 0.0) & (parts <= 1.0)).all(axis=1)
        for name, place, part, seen in zip(own.names, places, parts, inside, strict=True):
            if " back " in name:
                continue
            at = (float(part[0]), float(part[1])) if seen else (None, None)
            found.append(Offered(name, *(float(v) for v in place), *at))
    return found


def readings_by_marks(shot: Shot, plate: Plate, by: ByMarks) -> dict[str, float]:
    """What marks tell of the readings of their take, by their names, as a tape would have read
    them; nothing where they do not agree. Raises Impossible for a plan that cannot be."""
    case = Case.of(shot, plate)
    if case is None or by.stood is None or not by.agree:
        return {}
    found = readings_of_stood(case, by.stood)
    if by.focal_told == "marks" and by.focal_mm is not None:
        found["focal_mm"] = marked_by(case, by.focal_mm)
    return found


def judge_marks(shot: Shot, plate: Plate, names: Sequence[str], by: ByMarks) -> list[Finding]:
    """What picked marks say that no reading of the take does, worst first; `names` in the order of
    their places. Raises Impossible for a plan that cannot be."""
    case = Case.of(shot, plate)
    if case is None:
        return []
    if by.stood is None:
        if not by.problem:
            return []
        told = f"The marks picked say nothing of the camera: {by.problem}"
        return [Finding("marks-stood", "Where the camera stood", Verdict.STRAINS, told)]
    if not by.agree:
        return [_apart(names, by)]
    leaned = judge_roll(case, by.stood, "marks-roll", "if the marks are where they were taped")
    return worst_first([_stood(case, by, len(names)), leaned])


def _apart(names: Sequence[str], by: ByMarks) -> Finding:
    """Marks that fit no camera: one of them is wrong."""
    told = (
        f"The {len(names)} marks picked do not agree: the camera that fits them best has "
        f"them {by.rms_px:.0f} px off."
    )
    if by.suspect:
        told += (
            f" Without “{by.suspect}” the others do; it lies {by.suspect_px:.0f} px from where "
            "they put it. Tape it again, or pick it again."
        )
    else:
        told += (
            " Tape the one you trust least again, or pick one more mark: then the wrong one shows."
        )
    return Finding(
        "marks-stood",
        "Where the camera stood",
        Verdict.STRAINS,
        told + " Until then nothing is read off them.",
        (_working(by, len(names)),),
    )


def _stood(case: Case, by: ByMarks, count: int) -> Finding:
    stood = by.stood
    assert stood is not None
    told = said_of(case, stood, f"By {count} marks in the picture")
    if stood.tilt_off > TILT_SURE_DEG:
        told += (
            " They say little of height and tilt: both are left to the tape. Pick marks that lie "
            "farther apart, at other heights and distances."
        )
    if count < CHECKED:
        told += " One more mark would check the others."
    return Finding(
        "marks-stood",
        "Where the camera stood",
        Verdict.HOLDS,
        told,
        (_working(by, count),),
    )


def _working(by: ByMarks, count: int) -> Working:
    stood = by.stood
    assert stood is not None
    return Working(
        "the camera that puts the marks where the picture has them",
        (
            Quantity("n", "marks picked", float(count), ""),
            Quantity("r", "root mean square of what they are off", by.rms_px, "px"),
            Quantity("most", "most that counts as agreeing", AGREE * by.width_px, "px"),
            Quantity("f", f"pinhole distance, from the {by.focal_told}", by.focal_mm or 0.0, "mm"),
        ),
        Quantity("D", "level from the mark to the entrance pupil", stood.distance_m, "m"),
        "Perspective from points (Terzakis and Lourakis 2020), then least squares; ± holds nine "
        "errors of ten, a mark being picked to half a pixel at best"
        + (
            ", straight lines as the lens was measured."
            if by.straightened
            else ", lens distortion not counted: measure the lens in Kit."
        ),
    )
