"""What is told of blocks and of the pictures in them."""

from __future__ import annotations

import datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.db.models import QuerySet
from pydantic import TypeAdapter

from jungoptic.core.filmed.just_taken import delivered_across, judge_just_taken
from jungoptic.core.frames.asked import Asked, Asking, frames_taken
from jungoptic.core.frames.pace import Sitting, sittings
from jungoptic.core.frames.picture import boxes_of
from jungoptic.core.frames.sheet_report import SheetReport, sheet_report
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.just_taken import Box, JustTaken
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.mirrored import placed_for
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.sheet import Sheet
from jungoptic.core.plan.shot import Shot
from jungoptic.core.sky.day import clock_of

from .. import documents
from ..calc.api import stored_plate
from ..frames import sheets
from ..plans.models import Plate as StoredPlate
from ..productions.models import Production
from .models import Block, Exposure

TOLD = TypeAdapter(JustTaken)


class Table:
    """A plate as it is worked on: its plan, its sheet and its blocks."""

    def __init__(self, production: Production, plate: StoredPlate) -> None:
        self.plate_id = plate.pk
        self.production = production
        _, self.shot, self.plate = stored_plate(production, plate.shot_id, plate.pk)
        #: The clock that its days begin and end by.
        self.clock = clock_at(plate)
        self.sheet: Sheet = sheets.fields_of(plate.pk).core()
        #: Why its sheet cannot be computed; pictures are taken without it then.
        self.trouble = ""
        try:
            self.report: SheetReport = sheet_report(self.shot, self.plate, self.sheet)
        except Impossible as error:
            self.trouble, self.sheet = str(error), Sheet()
            self.report = sheet_report(self.shot, self.plate, self.sheet)
        #: The frames that pictures are taken for; what a sheet with nothing on it leaves open goes
        #: by the usual hold.
        self.taken = frames_taken(self.report, plate.hold)
        filmed = placed_for(self.shot, self.plate)
        self._asking = Asking(filmed, self.sheet, self.report, self.taken)
        try:
            self.wide = delivered_across(self.shot, self.plate)
        except Impossible:
            self.wide = float(self.shot.delivery.width_px)
        self.reload()

    def reload(self) -> None:
        """Look at what is stored once more."""
        found = Block.objects.filter(plate_id=self.plate_id)
        self.blocks = list(found.select_related("shot").prefetch_related("exposures"))

    @property
    def core(self) -> tuple[Shot, Plate, Sheet]:
        """The plan, its plate and its sheet as the core has them."""
        return self.shot, self.plate, self.sheet

    def first(self, block: Block) -> int:
        """Which picture of the film (from 1) the first of a block is."""
        before = 0
        for one in self.blocks:
            if one.pk == block.pk:
                break
            before += len(one.order)
        return before + 1

    def asked(self, number: int) -> Asked:
        """What the sheet asks before a picture of the film."""
        return self._asking.of(number)

    def moving(self, number: int) -> list[Box]:
        """Where things are posed before a picture of the film: parts of the picture."""
        frame = self.asked(number).frame
        moved = [c.moved for c in self.report.columns if c.moved is not None]
        columns = [c.column for c in self.report.columns]
        return boxes_of(self.shot, self.plate, columns, moved, frame or self.report.frames)

    def findings(self, exposure: Exposure, picture: int) -> list[Finding]:
        """What a picture says, as the `picture`th of the film."""
        told = measures(exposure)
        return [] if told is None else judge_just_taken(self.wide, told, self.asked(picture))

    def sat(self) -> list[Sitting]:
        """The days at the table, by when the pictures were taken."""
        return sat(self.blocks, self.clock)

    def told(self, block: Block) -> dict[str, Any]:
        """A block with its pictures."""
        by_number = {e.number: e for e in block.exposures.all()}
        first, reference = self.first(block), block.compared_with
        rows = []
        before: int | None = None
        for place, number in enumerate(block.order):
            one = by_number.get(number)
            if one is None:
                continue
            against = before, None if number == reference else reference
            before = number
            rows.append(
                {
                    "number": number,
                    "source": one.source,
                    "taken_at": one.taken_at,
                    "verdict": self._verdict(one, against, first + place),
                }
            )
        shown = set(block.order)
        return {
            "id": block.pk,
            "revision": block.revision,
            "name": block.name,
            "plate_id": block.plate_id,
            "begun_at": block.created_at,
            "first": first,
            "reference": reference,
            "width_px": block.width_px,
            "height_px": block.height_px,
            "exposures": rows,
            "dropped": sorted(n for n in by_number if n not in shown),
        }

    def _verdict(
        self, exposure: Exposure, against: tuple[int | None, int | None], picture: int
    ) -> Verdict | None:
        """The worst that is told of a picture; None where it was not measured against these."""
        if (exposure.before, exposure.reference) != against:
            return None
        asked = self.asked(picture)
        moving = bool(asked.moving)
        key = exposure.pk, against, self.wide, asked.lights, asked.camera, asked.free, moving
        if key not in _WORST:
            if len(_WORST) >= REMEMBERED:
                _WORST.clear()
            told = measures(exposure)
            found = [] if told is None else judge_just_taken(self.wide, told, asked)
            _WORST[key] = found[0].verdict if found else None
        return _WORST.get(key)

    def exposure(self, block: Block, exposure: Exposure, problem: str = "") -> dict[str, Any]:
        """A picture with all that is told of it."""
        at = block.order.index(exposure.number) if exposure.number in block.order else 0
        picture = self.first(block) + at
        return {
            "number": exposure.number,
            "picture": picture,
            "source": exposure.source,
            "taken_at": exposure.taken_at,
            "asked": self.asked(picture),
            "told": measures(exposure),
            "findings": self.findings(exposure, picture),
            "problem": problem,
        }

    def whole(self) -> dict[str, Any]:
        """All blocks of the plate."""
        return {
            "blocks": [self.told(block) for block in self.blocks],
            "taken": self.taken,
            "begun": self.report.begun,
            "trouble": self.trouble,
            "frames": self.report.frames,
            "fps": self.report.fps,
            "sat": self.sat(),
            "aspect": self.shot.delivery.aspect,
        }


#: Verdicts that a process remembers, by all that they hang on: a film of thousands is told at every
#: picture that is taken.
REMEMBERED = 20_000
_WORST: dict[tuple[Any, ...], Verdict | None] = {}


def measures(exposure: Exposure) -> JustTaken | None:
    """What was measured of a picture; None where nothing was."""
    if exposure.told is None:
        return None
    return TOLD.validate_python(documents.TAKEN.read(exposure.told))


def clock_at(plate: StoredPlate) -> ZoneInfo:
    """The clock of the room that a plate is filmed in, else of its production."""
    here = "" if plate.room is None else plate.room.time_zone
    return clock_of(here, plate.shot.production.time_zone)


def sat(blocks: list[Block], clock: datetime.tzinfo) -> list[Sitting]:
    """The days at the table that the pictures of these blocks tell of, in the film's order; a day
    ends at midnight by that `clock`."""
    times = []
    for block in blocks:
        when = {e.number: e.taken_at.astimezone(clock) for e in block.exposures.all()}
        times += [when[number] for number in block.order if number in when]
    return sittings(times)


def blocks_of(production: Production) -> QuerySet[Block]:
    """The blocks of a production."""
    blocks = Block.objects.filter(shot__production=production, shot__removed_at=None)
    return blocks.select_related("shot")
