"""Taking a picture into a block: safe on the disk, measured, and only then told of."""

from __future__ import annotations

import contextlib
import datetime
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.utils import timezone

from jungoptic.core.pictures.just_taken import Box

from .. import documents, saving
from ..accounts.models import User
from ..pictures import disk, room
from ..productions.models import Production
from ..records import Refused
from .answers import Table
from .eyes import EYE, Unseen
from .fields import MOST_PICTURES
from .models import FOLDER, Block, Exposure


@dataclass(frozen=True)
class Where:
    """Where in a block a picture belongs: `instead` of one of its pictures, or behind the picture
    `after` (0: before all, None: at the end). `revision`: of the block, as it was seen."""

    after: int | None = None
    instead: int | None = None
    revision: int = 0


def _at(block: Block, where: Where) -> tuple[int, bool]:
    """The place in its order where a picture comes, and whether another one makes room for it.
    What another window dropped meanwhile no longer says where."""
    order = block.order
    if where.instead in order:
        return order.index(where.instead), True
    if where.after == 0:
        return 0, False
    if where.after in order:
        return order.index(where.after) + 1, False
    return len(order), False


def _refuse_too_much(production: Production, user: User, block: Block, size: int) -> None:
    if len(block.order) >= MOST_PICTURES:
        raise Refused("block", f"A block has at most {MOST_PICTURES:,} pictures; begin another.")
    if reason := room.why_not(production, user, size):
        kept = (
            "The picture was not kept: leave the table as it stands, and put some away in Pictures."
        )
        raise Refused("picture", f"{reason} {kept}")


def measured(
    path: Path, before: Exposure | None, reference: Exposure | None, moving: list[Box]
) -> Any:
    """What the eye tells of a picture against two others of its block, those that are still on the
    disk; `moving`: where things are posed before it. Raises Unseen."""
    with contextlib.ExitStack() as stack:
        others = [
            str(stack.enter_context(disk.local(one.stored)))
            if one is not None and default_storage.exists(one.stored)
            else None
            for one in (before, reference)
        ]
        return EYE.ask("take_in", str(path), *others, moving)


def _of(block: Block, number: int | None) -> Exposure | None:
    if number is None:
        return None
    return Exposure.objects.filter(block=block, number=number).first()


def neighbours(block: Block, at: int) -> tuple[Exposure | None, Exposure | None]:
    """The pictures that one at a place of the order is compared with: the one before, and the one
    that its block is compared with."""
    before = _of(block, block.order[at - 1]) if at else None
    return before, _of(block, block.compared_with)


def take_in(
    user: Any,
    table: Table,
    block: Block,
    data: bytes,
    source: str,
    where: Where,
    pk: uuid.UUID | None,
) -> tuple[Exposure, Block, str, bool]:
    """A picture taken into a block: it, the block, why it could not be measured ("": it was), and
    whether somebody else has changed the block since it was seen.

    Raises Refused for what is no picture or does not fit; nothing is kept of it.
    """
    production = table.production
    known = _made_before(block, pk)
    if known is not None:
        return known, block, "", False
    _refuse_too_much(production, user, block, len(data))
    at, instead = _at(block, where)
    before, reference = neighbours(block, at)
    if instead and reference is not None and reference.number == where.instead:
        reference = None
    moving = table.moving(table.first(block) + at)
    with disk.handed_in(data) as path:
        try:
            head, (proxy,) = measured(path, before, reference, moving)
        except Unseen as error:
            raise Refused("picture", str(error)) from error
        size = head["width_px"], head["height_px"]
        if block.width_px and size != (block.width_px, block.height_px):
            raise Refused(
                "picture",
                f"This picture has {size[0]:,} x {size[1]:,} pixels and the block's have "
                f"{block.width_px:,} x {block.height_px:,}: set the camera back, or begin another "
                "block.",
            )
        names = _stored(production, path, head["codec"], proxy)
    with saving.writing(production):
        known = _made_before(block, pk)
        if known is not None:
            return known, block, "", False
        fresh = (
            Block.objects.select_for_update(of=("self",)).select_related("shot").get(pk=block.pk)
        )
        at, instead = _at(fresh, where)
        elsewhere = fresh.revision != where.revision
        last = fresh.exposures.order_by("-number").values_list("number", flat=True).first()
        made = Exposure.objects.create(
            id=pk or uuid.uuid4(),
            block=fresh,
            number=(last or 0) + 1,
            source=source,
            taken_at=_when(head["shot_at"]) if source == "card" else timezone.now(),
            taken_by=user,
            stored=names[0],
            proxy=names[1],
            size=len(data) + len(proxy),
            told=None if head["told"] is None else documents.TAKEN.stamped(head["told"]),
            before=None if before is None else before.number,
            reference=None if reference is None else reference.number,
        )
        fresh.order = [*fresh.order[:at], made.number, *fresh.order[at + instead :]]
        fresh.width_px, fresh.height_px = size
        fresh.revision += 1
        fresh.save()
        saving.write_down(user, production, fresh, "taken", after={"number": made.number})
    return made, fresh, head["problem"], elsewhere


def _made_before(block: Block, pk: uuid.UUID | None) -> Exposure | None:
    """What an earlier try under this id has kept."""
    if pk is None:
        return None
    found = Exposure.objects.filter(pk=pk).first()
    if found is not None and found.block_id != block.pk:
        raise Refused("id", "This id is taken; make a new one.")
    return found


def _when(told: str) -> datetime.datetime:
    """When the camera's clock says; now, where it says nothing."""
    try:
        found = datetime.datetime.fromisoformat(told)
    except ValueError:
        return timezone.now()
    return found if found.tzinfo else found.replace(tzinfo=timezone.get_current_timezone())


def _stored(production: Production, path: Path, codec: str, proxy: bytes) -> tuple[str, str]:
    """Where a picture and what is shown of it lie from now on, both on the disk."""
    stem = f"{FOLDER}/{production.pk}/{uuid.uuid4().hex}"
    end = "." + "".join(c for c in codec.lower() if c.isalnum())[:8] if codec else ""
    whole = disk.keep_whole(path, stem + end)
    return whole, str(default_storage.save(f"{stem}-small.jpg", ContentFile(proxy)))


def measure_again(table: Table, block: Block, exposure: Exposure) -> str:
    """Measure a picture against the neighbours that it has by now; why not, where it cannot be."""
    at = block.order.index(exposure.number) if exposure.number in block.order else len(block.order)
    before, reference = neighbours(block, at)
    if reference is not None and reference.number == exposure.number:
        reference = None
    numbers = [None if one is None else one.number for one in (before, reference)]
    if [exposure.before, exposure.reference] == numbers:
        return ""
    try:
        with disk.local(exposure.stored) as path:
            head, _ = measured(path, before, reference, table.moving(table.first(block) + at))
    except (Unseen, FileNotFoundError) as error:
        return str(error)
    exposure.told = None if head["told"] is None else documents.TAKEN.stamped(head["told"])
    exposure.before, exposure.reference = numbers
    exposure.save(update_fields=["told", "before", "reference"])
    return str(head["problem"])


#: Pictures that are measured at once where an order has given them another neighbour.
AT_ONCE = 4


def measure_strangers(table: Table, block: Block) -> None:
    """Measure pictures anew that stand behind another one than when they were measured; the first
    few: a drop makes one, and what is shuffled is measured as it is looked at."""
    before = dict(zip(block.order[1:], block.order, strict=False))
    moved = [
        one
        for one in block.exposures.all()
        if one.number in before and one.before != before[one.number]
    ]
    for one in moved[:AT_ONCE]:
        measure_again(table, block, one)
