"""Blocks of pictures at the table: taking them, looking at them, and looking through the simulated
camera before that."""

from __future__ import annotations

import math
import uuid
from typing import Annotated, Any

from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from ninja import Query, Router, Status

from jungoptic.core.frames.asked import Asked
from jungoptic.devices.faults import Faults

from .. import crud, saving
from ..middleware import PART
from ..permissions import Verb, enter
from ..pictures import disk
from ..plans.api import plates_of
from ..plans.models import Plate
from ..productions.models import Production
from ..records import Refused
from ..schemas import Conflict, Fields, Within
from ..storage import served
from .answers import Table, blocks_of, clock_at, sat
from .eyes import EYE, Unseen
from .fields import (
    BlockEdit,
    BlockIn,
    BlockOut,
    BlocksOut,
    ExposureOut,
    Number,
    RebuiltOut,
    SatOut,
    Source,
    TakenOut,
)
from .keeping import Where, measure_again, measure_strangers, take_in
from .models import Block, Exposure

router = Router(tags=["frame bench"])
PLATE = "/{uuid:production_id}/plates/{uuid:pk}"
BLOCK = "/{uuid:production_id}/blocks/{uuid:pk}"
#: What the description of the API says of the body, which no schema reads.
BYTES = {
    "requestBody": {
        "required": True,
        "content": {PART: {"schema": {"type": "string", "format": "binary"}}},
    }
}


def _table(production: Production, plate_id: uuid.UUID) -> Table:
    return Table(production, plates_of(production).get(pk=plate_id))


@router.get(PLATE + "/blocks", response=BlocksOut)
def list_blocks(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """All blocks of a plate with their pictures, oldest first."""
    return _table(enter(request, production_id, Verb.VIEW), pk).whole()


@router.get(PLATE + "/sat", response=SatOut)
def list_days(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """The days at the table that the pictures of a plate tell of."""
    production = enter(request, production_id, Verb.VIEW)
    plate = plates_of(production).get(pk=pk)
    blocks = Block.objects.filter(plate_id=plate.pk).prefetch_related("exposures")
    return {"days": sat(list(blocks), clock_at(plate)), "time_zone": production.time_zone}


@router.post(PLATE + "/blocks", response=BlockOut)
def begin_block(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: BlockIn
) -> Any:
    """Begin a block."""
    production = enter(request, production_id, Verb.FILM)
    plate = plates_of(production).select_related("shot").get(pk=pk)

    def values() -> dict[str, Any]:
        return {"shot": plate.shot, "plate_id": plate.pk, "name": payload.name}

    made = saving.create(request.user, production, Block, values, payload.id)
    table = _table(production, made.plate_id)
    return table.told(_own(table, made))


def _own(table: Table, block: Block) -> Block:
    return next(one for one in table.blocks if one.pk == block.pk)


@router.patch(BLOCK, response={200: BlockOut, 409: Conflict})
def edit_block(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: BlockEdit
) -> Any:
    """Change a block: its name, the order of its pictures (those left out are dropped, those named
    again are back), or the one that the others are compared with."""

    def out(block: Block) -> Any:
        table = _table(block.production_of(), block.plate_id)
        measure_strangers(table, block)
        table.reload()
        return BlockOut(**table.told(_own(table, block))).model_dump(mode="json")

    def prepare(production: Production, changes: dict[str, Any]) -> dict[str, Any]:
        # A name or an order that is left open stays as it is.
        named = {n: v for n, v in changes.items() if v is not None or n == "reference"}
        _refuse_unknown(blocks_of(production).get(pk=pk), named)
        return named

    return crud.change(request, production_id, blocks_of, pk, payload, out, prepare, verb=Verb.FILM)


def _refuse_unknown(block: Block, changes: dict[str, Any]) -> None:
    there = set(block.exposures.values_list("number", flat=True))
    unknown = set(changes.get("order") or []) - there
    if unknown:
        raise Refused("order", f"This block has no picture {min(unknown)}.")
    if changes.get("reference") is not None and changes["reference"] not in there:
        raise Refused("reference", f"This block has no picture {changes['reference']}.")


@router.delete(BLOCK, response={204: None})
def remove_block(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a block that holds no picture, none dropped either."""
    production = enter(request, production_id, Verb.FILM)
    found = Block.objects.filter(shot__production=production, pk=pk)
    if Exposure.objects.filter(block__in=found).exists():
        raise Refused("block", "This block holds pictures, or dropped ones: it stays.")
    saving.remove(request.user, production, found, pk)
    return Status(204, None)


class TakenAs(Fields):
    """How a picture comes in: under which id (a second try makes no second one), from where, and
    where it belongs: `instead` of a picture, or `after` one (0: before all; left out: last).
    `revision`: of the block, as it was seen."""

    id: uuid.UUID | None = None
    source: Source = "camera"
    after: Annotated[int, Within(0, 1_000_000)] | None = None
    instead: Number | None = None
    revision: int = 0


@router.post(BLOCK + "/exposures", response=TakenOut, openapi_extra=BYTES)
def take(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, how: Query[TakenAs]) -> Any:
    """Take a picture in: the file itself, as application/offset+octet-stream. It is answered once
    it is safe on the disk and measured."""
    production = enter(request, production_id, Verb.FILM)
    block = blocks_of(production).get(pk=pk)
    data = request.read()
    if not data:
        raise Refused("picture", "There is no picture in this.")
    where = Where(how.after, how.instead, how.revision)
    table = _table(production, block.plate_id)
    made, kept, problem, elsewhere = take_in(
        request.user, table, block, data, how.source, where, how.id
    )
    table.reload()
    own = _own(table, kept)
    return {
        "exposure": table.exposure(own, made, problem),
        "block": table.told(own),
        "elsewhere": elsewhere,
    }


def _exposure(production: Production, pk: uuid.UUID, number: int) -> Exposure:
    found = Exposure.objects.filter(
        block__shot__production=production, block__shot__removed_at=None
    )
    return found.select_related("block__shot").get(block_id=pk, number=number)


@router.get(BLOCK + "/exposures/{int:number}", response=ExposureOut)
def look_at(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, number: int) -> Any:
    """What a picture says; measured again where its neighbours are others by now."""
    production = enter(request, production_id, Verb.VIEW)
    exposure = _exposure(production, pk, number)
    table = _table(production, exposure.block.plate_id)
    problem = measure_again(table, exposure.block, exposure)
    return table.exposure(_own(table, exposure.block), exposure, problem)


@router.post(BLOCK + "/exposures/{int:number}/rebuilt", response=RebuiltOut, openapi_extra=BYTES)
def rebuild(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, number: int) -> Any:
    """How a set that is built again lies against a picture of it: a picture of it now is sent, as
    application/offset+octet-stream, and not kept."""
    production = enter(request, production_id, Verb.FILM)
    exposure = _exposure(production, pk, number)
    table = _table(production, exposure.block.plate_id)
    data = request.read()
    try:
        with disk.handed_in(data) as now, disk.local(exposure.stored) as then:
            head, _ = EYE.ask("rebuilt", str(now), str(then), table.shot, table.plate)
    except FileNotFoundError:
        raise Http404("This picture is gone from the disk.") from None
    except Unseen as error:
        raise Refused("picture", str(error)) from error
    return head


@router.get(BLOCK + "/exposures/{int:number}/look", response=bytes)
def show(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, number: int
) -> FileResponse:
    """A picture at the size at which films are looked at: a JPEG of 960 pixels at most."""
    exposure = _exposure(enter(request, production_id, Verb.VIEW), pk, number)
    return served(exposure.proxy, "image/jpeg", "This picture is gone from the disk.")


@router.get(BLOCK + "/exposures/{int:number}/file", response=bytes)
def fetch(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, number: int
) -> FileResponse:
    """A picture as it was taken."""
    exposure = _exposure(enter(request, production_id, Verb.VIEW), pk, number)
    end = exposure.stored.rpartition(".")[2].lower()
    kind = f"image/{end}" if end in ("jpeg", "png", "webp", "tiff") else "application/octet-stream"
    return served(exposure.stored, kind, "This picture is gone from the disk.")


@router.get(PLATE + "/asked/{int:picture}", response=Asked)
def what_is_asked(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, picture: int
) -> Any:
    """What the stored sheet of a plate asks before its `picture`th picture."""
    return _table(enter(request, production_id, Verb.VIEW), pk).asked(picture)


class Through(Fields):
    """How the simulated camera looks at a plate: at the frame of picture `picture`, `width` pixels
    wide, with its grain by `seed`. What goes wrong, on request: it is knocked aside by `knock_deg`,
    its light is off by `light` (a part), or nobody moved anything (`forgot`)."""

    picture: Annotated[int, Within(1, 1_000_000)] = 1
    width: Annotated[int, Within(64, 1920)] = 640
    seed: Annotated[int, Within(0, 1_000_000)] = 0
    knock_deg: Annotated[float, Within(-5, 5)] = 0.0
    light: Annotated[float, Within(-0.9, 2)] = 0.0
    forgot: bool = False


@router.get(PLATE + "/finder/look", response=bytes)
def look_through(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, how: Query[Through]
) -> HttpResponse:
    """What the simulated camera that comes with the application sees of a plate: a JPEG."""
    production = enter(request, production_id, Verb.VIEW)
    plate: Plate = plates_of(production).get(pk=pk)
    table = Table(production, plate)
    wanted = max(how.picture - how.forgot, 1)
    taken = table.taken
    frame = taken[min(wanted, len(taken)) - 1]
    faults = Faults(bump_deg=(how.knock_deg, 0.0), stops=math.log2(1.0 + how.light))
    try:
        _, (data,) = EYE.ask("see", *table.core, frame, how.width, how.seed, faults)
    except Unseen as error:
        raise Refused(
            "plate",
            f"{error} The simulated camera goes by the plan on the Bench; a "
            "camera of your own and the files of a card do without.",
        ) from error
    answer = HttpResponse(data, content_type="image/jpeg")
    answer["Cache-Control"] = "no-store"
    return answer
