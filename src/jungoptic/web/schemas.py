"""Parts that the typed schemas share: bounded numbers, partial edits, error bodies.

The bounds are those of the physical thing, generous by a factor of ten; outside them lies a slip
of the finger or nonsense, and the message names the field.
"""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, get_args, get_origin

from annotated_types import Ge, GroupedMetadata, Le
from pydantic import BaseModel, ConfigDict, Field, create_model
from pydantic_core import CoreSchema, core_schema


@dataclass(frozen=True)
class Within(GroupedMetadata):
    """A number from `low` to `high`, both included: `Annotated[float, Within(0, 10)]`."""

    low: float
    high: float

    def __iter__(self) -> Iterator[object]:
        """The same in the terms that pydantic knows."""
        yield Ge(self.low)
        yield Le(self.high)


@dataclass(frozen=True)
class OneOf:
    """A word out of a table that lives elsewhere: `Annotated[str, OneOf(tuple(TABLE))]`."""

    words: tuple[str, ...]

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> CoreSchema:
        """As a literal of these words, in checks and in the API's description alike."""
        return core_schema.literal_schema(list(self.words))


#: Places in an order lie within this, either way.
MOST_POSITION = 1e6


def after(last: float) -> float:
    """A place in an order behind the last one; at the very end beside it, where age decides."""
    return min(last + 1.0, MOST_POSITION)


Name = Annotated[str, Field(min_length=1, max_length=120)]
ShortText = Annotated[str, Field(max_length=120)]
LongText = Annotated[str, Field(max_length=2000)]


class Fields(BaseModel):
    """Base of what a client may send: unknown names are refused, text loses outer blanks.

    Plain pydantic, not ninja's schema: only JSON is read, and that is several times faster.
    """

    model_config = ConfigDict(extra="forbid", str_strip_whitespace=True, allow_inf_nan=False)


class KeyIn(Fields):
    """What stands behind the # of a link."""

    key: Annotated[str, Field(min_length=1, max_length=2000)]


class Out(BaseModel):
    """Base of what is sent: filled from plain dicts and from the core's own records alike."""

    model_config = ConfigDict(from_attributes=True)


class Stored(BaseModel):
    """What every saved thing carries."""

    id: uuid.UUID
    revision: int


def made_from(fields: type[Fields], name: str) -> Any:
    """The schema to create: the same fields, and an id that the client may choose."""
    return create_model(name, __base__=fields, id=(uuid.UUID | None, None))


def edit_of(fields: type[Fields], name: str) -> Any:
    """The schema to edit: every field optional, and the revision that the client saw."""
    optional: dict[str, Any] = {}
    for field, info in fields.model_fields.items():
        # The bounds live in the metadata; rebuilding the annotation keeps them.
        annotation: Any = info.annotation
        if info.metadata:
            annotation = Annotated[(annotation, *info.metadata)]
        optional[field] = (annotation, None)
    return create_model(
        name, __base__=Fields, revision=(Annotated[int, Field(ge=1)], ...), **optional
    )


def changes_in(edit: Any) -> dict[str, Any]:
    """Only the fields that an edit names. What lies within one is whole, as it is when a record is
    made: the same decision is stored in the same words however it came."""
    named = edit.model_fields_set - {"revision"}
    return dict(edit.model_dump(include=named))


class Problem(BaseModel):
    """Every error answers like this: a sentence, and a sentence per field that is wrong."""

    message: str
    fields: dict[str, str] = {}


class Conflict(BaseModel):
    """A stale edit: what is stored now, whole, for the screen to set beside what was typed."""

    message: str
    current: dict[str, Any]


class HoursRange(Out):
    """Hours: low, likely, high."""

    low: float
    likely: float
    high: float


def bounds_of(fields: type[BaseModel]) -> dict[str, tuple[float, float]]:
    """The lowest and highest value of every number in a schema, by field; those that may also be
    null included."""
    found = {}
    for name, info in fields.model_fields.items():
        low = high = None
        for one in [*info.metadata, *_nested(info.annotation)]:
            low = getattr(one, "ge", getattr(one, "low", low))
            high = getattr(one, "le", getattr(one, "high", high))
        if low is not None and high is not None:
            found[name] = (float(low), float(high))
    return found


def _nested(annotation: Any) -> list[Any]:
    """What is said of the parts of a union."""
    parts = [part for part in get_args(annotation) if get_origin(part) is Annotated]
    return [one for part in parts for one in get_args(part)[1:]]
