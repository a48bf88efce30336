"""Reading and keeping the sheet of a plate."""

from __future__ import annotations

import uuid
from typing import Any

from jungoptic.core.frames import cutting

from .. import saving
from ..plans.models import Plate
from ..productions.models import Production
from ..records import Stale
from .fields import ColumnFields, SheetEdit, SheetFields, column_fields, to_column
from .models import Sheet

#: What a sheet may be without.
MAY_LACK = ("lapse", "set_map", "reference")
#: The revision of a sheet that nobody has made yet.
UNMADE = 0


def sheet_out(plate_id: uuid.UUID, sheet: Sheet | None) -> dict[str, Any]:
    """The sheet of a plate, ready for JSON; an empty one where none was made."""
    if sheet is None:
        return {"id": plate_id, "revision": UNMADE, **_told(Sheet())}
    return {"id": plate_id, "revision": sheet.revision, **_told(sheet)}


def _told(sheet: Sheet) -> dict[str, Any]:
    return {name: getattr(sheet, name) for name in SheetFields.model_fields}


def stored(plate_id: uuid.UUID | str) -> Sheet | None:
    """The stored sheet of a plate, if there is one."""
    return Sheet.objects.filter(plate_id=plate_id).first()


def fields_of(plate_id: uuid.UUID | str) -> SheetFields:
    """The stored sheet of a plate in typed fields; an empty one where none was made."""
    found = stored(plate_id)
    return SheetFields() if found is None else fields_in(found)


def fields_in(sheet: Sheet) -> SheetFields:
    """A stored sheet in typed fields."""
    return SheetFields(**_told(sheet))


def keep(user: Any, production: Production, plate: Plate, edit: SheetEdit) -> Sheet:
    """Store changes of a plate's sheet, made with the first of them. Raises Stale where it has
    changed since the revision that was seen."""
    named = edit.model_fields_set - {"revision"}
    changes = edit.model_dump(mode="json", include=named)
    # A sheet without columns or days is one with none of them; the others it may lack.
    changes = {n: v for n, v in changes.items() if v is not None or n in MAY_LACK}
    with saving.writing(production):
        found = stored(plate.pk)
        if found is None and edit.revision == UNMADE:
            values = {"shot": plate.shot, "plate_id": plate.pk, **changes}
            return saving.create(user, production, Sheet, values, None)
        if found is None:
            raise Plate.DoesNotExist
        if edit.revision == UNMADE:
            raise Stale(found)
        own = Sheet.objects.filter(plate_id=plate.pk)
        return saving.edit(user, production, own, found.pk, edit.revision, changes)


def part_of(columns: list[dict[str, Any]], first: int, last: int) -> list[dict[str, Any]]:
    """Stored columns of frames `first` to `last` alone, counted from 1 there."""
    parts = (cutting.part_of(to_column(ColumnFields(**c)), first, last) for c in columns)
    return [column_fields(part).model_dump(mode="json") for part in parts]
