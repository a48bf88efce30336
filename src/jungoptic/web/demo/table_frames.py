"""Pictures of the demo's animation, taken by the simulated camera at its simulated table: two
blocks, a knock and a flicker in the first. Shipped with it in one archive, with what was measured
of each. `make demo-pictures` takes them again."""

from __future__ import annotations

import datetime
import io
import json
import zipfile
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from jungoptic.devices.faults import Faults

from .. import documents
from ..blocks.answers import Table
from ..blocks.eyes import EYE
from ..blocks.models import FOLDER, Block, Exposure
from ..pictures import disk
from ..plans.models import Plate
from ..productions.models import Production

ARCHIVE = Path(__file__).parent / "table-frames.zip"
WIDTH = 640
SHOT, PLATE = "6", "Animation"


@dataclass(frozen=True)
class Evening:
    """A block: its pictures of the film, when its first was taken, seconds from one to the next,
    and how the rebuilt set differs from the block before."""

    name: str
    first: int
    last: int
    begun: datetime.datetime
    every_s: float
    set_up: Faults


EVENINGS = (
    Evening(
        "First evening",
        1,
        40,
        datetime.datetime(2026, 10, 17, 17, 30, tzinfo=datetime.UTC),
        430.0,
        Faults(),
    ),
    Evening(
        "A week later",
        41,
        60,
        datetime.datetime(2026, 10, 24, 18, 10, tzinfo=datetime.UTC),
        385.0,
        Faults(bump_deg=(0.06, -0.03), stops=0.05),
    ),
)
#: What happened to one picture each: somebody leaned on the table, and a shirt stood in the light.
KNOCKED, DIMMED = 23, 34
HAPPENED = {KNOCKED: Faults(bump_deg=(0.02, 0.01)), DIMMED: Faults(stops=-0.07)}


def _plate(production: Production) -> Plate:
    found: Plate = Plate.objects.select_related("shot").get(
        shot__production=production, shot__number=SHOT, name=PLATE
    )
    return found


def make(production: Production) -> None:
    """Take them, and measure them as they are taken."""
    table = Table(production, _plate(production))
    with zipfile.ZipFile(ARCHIVE, "w", zipfile.ZIP_STORED) as archive:
        told = {}
        for evening in EVENINGS:
            before: bytes | None = None
            first: bytes | None = None
            for picture in range(evening.first, evening.last + 1):
                faults = HAPPENED.get(picture, evening.set_up)
                frame = table.report.taken[picture - 1]
                _, (data,) = EYE.ask("see", *table.core, frame, WIDTH, picture, faults)
                told[picture] = _told(data, before, first, table.moving(picture))
                archive.writestr(zipfile.ZipInfo(f"{picture:03}.jpg"), data)
                before, first = data, first or data
        archive.writestr(zipfile.ZipInfo("told.json"), json.dumps(told))


def _told(data: bytes, before: bytes | None, first: bytes | None, moving: Any) -> Any:
    """What the eye tells of a picture against two others."""
    with ExitStack() as stack:
        paths = [
            None if one is None else str(stack.enter_context(disk.handed_in(one)))
            for one in (data, before, first)
        ]
        head, _ = EYE.ask("take_in", *paths, moving)
        return head


def lay(production: Production, user: Any) -> None:
    """Lay them on the demo's table."""
    if not ARCHIVE.exists():
        # They are being taken for the first time.
        return
    plate = _plate(production)
    with zipfile.ZipFile(io.BytesIO(ARCHIVE.read_bytes())) as archive:
        told = json.loads(archive.read("told.json"))
        for evening in EVENINGS:
            numbers = list(range(1, evening.last - evening.first + 2))
            block = Block.objects.create(
                shot=plate.shot, plate_id=plate.pk, name=evening.name, order=numbers
            )
            rows = []
            for number in numbers:
                picture = evening.first + number - 1
                head = told[str(picture)]
                data = archive.read(f"{picture:03}.jpg")
                name = f"{FOLDER}/{production.pk}/{block.pk}-{number}.jpeg"
                stored = default_storage.save(name, ContentFile(data))
                measured = documents.TAKEN.stamped(head["told"])
                rows.append(
                    Exposure(
                        block=block,
                        number=number,
                        source="simulated",
                        taken_at=evening.begun
                        + datetime.timedelta(seconds=evening.every_s * (number - 1)),
                        taken_by=user,
                        stored=stored,
                        proxy=stored,
                        size=len(data),
                        told=measured,
                        before=number - 1 or None,
                        reference=1 if number > 1 else None,
                    )
                )
                block.width_px, block.height_px = head["width_px"], head["height_px"]
            Exposure.objects.bulk_create(rows)
            block.created_at = evening.begun
            block.save()
