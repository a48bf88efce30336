"""What marks and edges that were picked in a picture say of its camera, and balls of the light.
Loaded where files are read, which is never in a web process."""

from __future__ import annotations

import dataclasses
from typing import Any

from jungoptic.core.board.standing import stood_of
from jungoptic.core.filmed.board import focal_gone_by
from jungoptic.core.impossible import Impossible
from jungoptic.core.picked import marks as by_marks
from jungoptic.core.picked.balls import by_balls
from jungoptic.core.picked.edges import by_edges
from jungoptic.core.picked.seen import (
    ByBall,
    ByEdges,
    ByMarks,
    Edge,
    MarksFocal,
    PickedBall,
    PickedMark,
    Upright,
)
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.stage.bent import bend_of
from jungoptic.core.stage.case import Case

from .. import documents
from ..records import Refused
from ..takes.files import picked_marks
from .judging import Plans
from .laying import look_of
from .lenses import as_known_today
from .models import Picture

#: Told of marks in a picture of no plate.
NO_PLAN = (
    "hang the picture on a take or a plate with a lens: without one nobody can say how wide its "
    "camera sees."
)


def picked_by(picture: Picture, read: Facts) -> dict[str, Any] | None:
    """What was picked in a picture says of its camera, as it is stored; None where nothing was."""
    if not picture.holds_picks:
        return None
    told = {
        "marks": dataclasses.asdict(_by_marks(picture, read)) if picture.marks else None,
        "edges": dataclasses.asdict(_by_edges(picture, read))
        if picture.edges or picture.uprights
        else None,
        "balls": [dataclasses.asdict(one) for one in _by_balls(picture, read)],
    }
    return documents.PICKED.stamped(told)


def _by_marks(picture: Picture, read: Facts) -> ByMarks:
    try:
        plan = Plans().of(picture)
        case = None if plan is None else Case.of(*plan)
        if case is None:
            return ByMarks(problem=NO_PLAN)
        return marks_seen(as_known_today(case), picked_marks(picture), read)
    except Impossible as error:
        return ByMarks(problem=str(error))


def marks_seen(case: Case, marks: tuple[PickedMark, ...], read: Facts) -> ByMarks:
    """Where the camera of a plate stood by marks in a picture. Raises Impossible."""
    size = read.width_px, read.height_px, case.choice.mode.sensor_width_mm
    measured = by_marks.focal_by(marks, *size)
    gone_by = focal_gone_by(case.stage.pinhole_mm, _focal_in_file(case, read), measured)
    if gone_by is None:
        return ByMarks(problem=NO_PLAN)
    focal, told = gone_by
    by: MarksFocal = "marks" if told == "board" else told
    bend = bend_of(case)
    wrong = by_marks.wrong_one(marks, *size, focal, bend)
    found = by_marks.resected(marks, *size, focal, bend)
    places = by_marks.places_of(found, marks, read.width_px, read.height_px, bend)
    return ByMarks(
        stood=stood_of(found),
        places=tuple((float(x), float(y)) for x, y in places),
        rms_px=found.rms_px,
        width_px=read.width_px,
        focal_mm=focal,
        focal_told=by,
        focal_measured_mm=None if measured is None else measured[0],
        focal_off_mm=0.0 if measured is None else measured[1],
        suspect="" if wrong is None else marks[wrong[0]].name,
        suspect_px=0.0 if wrong is None else wrong[1],
        straightened=bend is not None,
    )


def _by_edges(picture: Picture, read: Facts) -> ByEdges:
    edges = [Edge(**one) for one in picture.edges]
    uprights = [Upright(**one) for one in picture.uprights]
    try:
        return by_edges(edges, uprights, read.width_px, read.height_px)
    except Impossible as error:
        return ByEdges(problem=str(error))


def _focal_in_file(case: Case, read: Facts) -> float | None:
    """The pinhole distance by what the file says; None where it says nothing."""
    if read.focal_mm is None:
        return None
    return read.focal_mm * case.stage.pinhole_mm / case.stage.marked_mm


def _by_balls(picture: Picture, read: Facts) -> tuple[ByBall, ...]:
    balls = [PickedBall(**one) for one in picture.balls]
    if not balls:
        return ()
    try:
        plan = Plans().of(picture)
        case = None if plan is None else Case.of(*plan)
        if case is None:
            return tuple(ByBall(one.kind, problem=NO_PLAN) for one in balls)
        shown = look_of("picked_in", picture, picture.picked_in)
        focal_mm = _focal_in_file(case, read) or case.stage.pinhole_mm
        return by_balls(shown, balls, focal_mm / case.choice.mode.sensor_width_mm)
    except (Impossible, Refused) as error:
        return tuple(ByBall(one.kind, problem=str(error)) for one in balls)
