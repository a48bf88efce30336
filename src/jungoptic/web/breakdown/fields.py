"""The typed fields of continuity threads."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field

from ..schemas import Fields, LongText, Name, ShortText, edit_of, made_from


class ThreadFields(Fields):
    """Something that must recur; `places` and `shot_ids` say where."""

    name: Name
    kind: Literal["thing", "light", "ground", "costume", "other"] = "thing"
    note: LongText = ""
    places: Annotated[list[ShortText], Field(max_length=50)] = []
    shot_ids: Annotated[list[uuid.UUID], Field(max_length=500)] = []


ThreadIn, ThreadEdit = made_from(ThreadFields, "ThreadIn"), edit_of(ThreadFields, "ThreadEdit")
