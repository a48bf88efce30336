"""The plates of a rough composite, what of each goes in, and their recordings running. Loaded where
files are read, which is never in a web process."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import ExitStack, suppress
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from jungoptic.core.drawings.told import told_tones
from jungoptic.core.drawings.tone import Tone, tones
from jungoptic.core.filmed import rough
from jungoptic.core.filmed.rough import Piece
from jungoptic.core.frames.sheet_report import sheet_report
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.straight import straight
from jungoptic.core.pictures.tone import Picture
from jungoptic.core.plan.mirrored import as_told
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.bent import bend_of
from jungoptic.core.stage.case import Case
from jungoptic.media.following import following
from jungoptic.media.kinds import Unreadable

from ..frames.sheets import fields_of
from ..pictures import disk
from ..pictures.judging import Plans
from ..pictures.lenses import as_known_today
from ..records import Refused
from ..takes.files import facts
from .choosing import Filmed, picked
from .work import Pick

#: Recordings are read no larger than this on a side.
LARGEST_PX = 4096


@dataclass
class Source:
    """A plate of the composite. `filmed`: what of it goes in, None for nothing; `case`: its camera
    as it was filmed; `numbers`: the frame (from 1) of the recording at each frame of the shot,
    which may lie beyond its end."""

    piece: Piece
    filmed: Filmed | None
    pick: Pick
    case: Case | None
    numbers: list[int]
    _drawn: tuple[float, tuple[Tone, ...]] = field(default=(-1.0, ()), init=False, repr=False)

    def tones(self, part: float) -> tuple[Tone, ...]:
        """The plate as the story's picture is planned to have it after a part of the screen time,
        in tone, farthest first; kept until another part is asked for. Nothing without a camera."""
        case = self.piece.case
        if case is not None and self._drawn[0] != part:
            self._drawn = part, told_tones(case, tones(case, part), part)
        return self._drawn[1]

    @property
    def across_px(self) -> int:
        """How wide the story's picture is, delivered pixels."""
        case = self.piece.case
        assert case is not None
        return as_told(case.shot).delivery.width_px

    @property
    def moves(self) -> bool:
        """Whether anything of it moves or acts, so that holding a frame is seen."""
        case = self.piece.case
        if case is None:
            return True
        return not case.motion.still or any(s.kind == "figure" for s in case.own)


def sources_of(
    shot: Shot, filmed: dict[str, list[Filmed]], picks: Sequence[Pick], part: float
) -> list[Source]:
    """The plates of a view's picture, farthest first, each with what of it goes in."""
    by_plate, plans = {str(pick.plate_id): pick for pick in picks}, Plans()
    pick_of = {p.id: by_plate.get(p.id) or Pick(plate_id=p.id) for p in shot.plates}
    chosen_of = {p.id: picked(filmed.get(p.id, []), pick_of[p.id]) for p in shot.plates}
    there = {plate_id for plate_id, chosen in chosen_of.items() if chosen is not None}
    found = []
    for piece in rough.laid_in(shot, part, there):
        plate = piece.plate
        pick, chosen = pick_of[plate.id], chosen_of[plate.id]
        case, numbers = piece.case, [1] * shot.frames
        if chosen is not None:
            case = _as_filmed(plans, chosen, piece.case)
            shown = rough.shown_when(shot, plate, _taken(shot, plate))
            numbers = [chosen.begins + number for number in shown]
        found.append(Source(piece, chosen, pick, case, numbers))
    return found


def _as_filmed(plans: Plans, chosen: Filmed, today: Case | None) -> Case | None:
    """The camera that filmed it: that of the card of its take."""
    plan = plans.of(chosen.picture)
    if plan is None:
        return today
    with suppress(Impossible):
        case = Case.of(*plan)
        return None if case is None else as_known_today(case)
    return today


def _taken(shot: Shot, plate: Any) -> Sequence[int]:
    """The frames for which a plate's exposure sheet asks for a picture; none without a sheet."""
    sheet = fields_of(plate.id).core()
    if not sheet.columns and sheet.lapse is None:
        return ()
    with suppress(Impossible):
        return sheet_report(shot, plate, sheet).taken
    return ()


class Reels:
    """The recordings of all sources, running: each `next` gives their frames of the next frame of
    the shot that was asked for, (h, w, 3), 0..1 as recorded, made straight where the lens was
    measured."""

    def __init__(self, sources: Sequence[Source], frames: Sequence[int], width: int) -> None:
        self._stack = ExitStack()
        self._running: dict[str, Iterator[Any]] = {}
        for one in sources:
            if one.filmed is not None:
                self._running[one.piece.plate.id] = self._open(one, frames, width)

    def _open(self, one: Source, frames: Sequence[int], width: int) -> Iterator[Any]:
        chosen = one.filmed
        assert chosen is not None
        read = facts(chosen.picture)
        assert read is not None
        paths = self._stack.enter_context(
            disk.at_hand(list(chosen.picture.files.select_related("picture")))
        )
        across, case = 1.0, one.case
        if case is not None:
            across = max(case.stage.crop_across / case.shot.move.closes, 0.05)
        wide, high = max(read.width_px, 1), max(read.height_px, 1)
        longest = min(round(width / across * max(1.0, high / wide)) + 1, LARGEST_PX)
        return following(paths, read, [one.numbers[frame - 1] for frame in frames], longest)

    def __enter__(self) -> Reels:
        return self

    def __exit__(self, *gone: Any) -> None:
        self._running.clear()
        self._stack.close()

    def next(self, one: Source) -> Picture | None:
        """The next frame of a source; None where nothing of it goes in. Raises Refused where it
        cannot be read."""
        running = self._running.get(one.piece.plate.id)
        if running is None:
            return None
        assert one.filmed is not None
        name = one.filmed.name
        try:
            shown = next(running)
        except Unreadable as error:
            raise Refused("picks", f"{name}: {error}") from error
        except FileNotFoundError:
            raise Refused("picks", f"{name} is gone from the server's disk.") from None
        found = np.asarray(shown, np.float32) / np.float32(255.0)
        bend = None if one.case is None else bend_of(one.case)
        return found if bend is None else straight(found, bend)
