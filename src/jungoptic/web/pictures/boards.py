"""The board in a picture: looked for, and measured. Loaded where files are read, which is never in
a web process."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from jungoptic.core.board.seen import WAYS, Found, Seen
from jungoptic.core.board.standing import focal_of, stood
from jungoptic.core.filmed.board import focal_gone_by
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.stage.bent import bend_of
from jungoptic.core.stage.case import Case
from jungoptic.media.board import searched

from .. import documents
from ..takes.files import board, frozen
from ..takes.models import SetCard
from .filing import card_of
from .judging import Plans
from .lenses import as_known_today
from .models import Picture

#: Told of a board that no card of the production has.
UNKNOWN = "a card of another production, or one that was removed"


def board_in(picture: Picture, paths: Sequence[Path], read: Facts) -> dict[str, Any] | None:
    """The board in a picture, as it is stored; None where none is seen."""
    found = searched(paths, read)
    if found is None:
        return None
    card = card_of(picture, found.found.number)
    return _stored(_measured(picture, card, read, *found), card)


def _stored(seen: Seen, card: SetCard | None) -> dict[str, Any]:
    called = UNKNOWN if card is None else card.slate
    return documents.BOARD.stamped({"seen": dataclasses.asdict(seen), "called": called})


def _case(picture: Picture, card: SetCard | None) -> Case | None:
    """The plan that a board is measured by: that of the card whose board it is, else of where the
    picture hangs."""
    try:
        plan = Plans().of(picture) if card is None else frozen(card)
        case = None if plan is None else Case.of(*plan)
        return None if case is None else as_known_today(case)
    except Impossible:
        return None


def _measured(
    picture: Picture, card: SetCard | None, read: Facts, frame: int, found: Found
) -> Seen:
    """What a board says of the camera, by the sensor and the lens that are planned."""
    case = _case(picture, card)
    return Seen(frame, found) if case is None else measured_by(case, read.focal_mm, frame, found)


def measured_by(case: Case, file_mm: float | None, frame: int, found: Found) -> Seen:
    """What a board says of the camera of a plate; `file_mm`: the focal length in the file."""
    wide = case.choice.mode.sensor_width_mm
    longer = case.stage.pinhole_mm / case.stage.marked_mm
    measured = focal_of(found, wide)
    from_file = None if file_mm is None else file_mm * longer
    gone_by = focal_gone_by(case.stage.pinhole_mm, from_file, measured)
    if gone_by is None:
        return Seen(frame, found)
    focal, told = gone_by
    bend = bend_of(case)
    told_by = {way: stood(found, way, wide, focal, bend) for way in WAYS}
    ways = {way: there for way, there in told_by.items() if there is not None}
    return Seen(
        frame=frame,
        found=found,
        **{way: one for way, (one, _) in ways.items()},
        rms_px=min((rms for _, rms in ways.values()), default=0.0),
        focal_mm=focal,
        focal_told=told if ways else "",
        focal_measured_mm=None if measured is None else measured[0],
        focal_off_mm=0.0 if measured is None else measured[1],
        straightened=bool(ways) and bend is not None,
    )


def board_again(picture: Picture, read: Facts) -> dict[str, Any] | None:
    """What the board in a picture says by the plan of where it hangs now, as it is stored."""
    seen = board(picture)
    if seen is None:
        return None
    card = card_of(picture, seen.found.number)
    return _stored(_measured(picture, card, read, seen.frame, seen.found), card)
