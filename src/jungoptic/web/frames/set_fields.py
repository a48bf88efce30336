"""The typed fields of a set map; see `core.plan.set_map`. It is kept as JSON, so ids are text."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, Field

from jungoptic.core.plan.set_map import SIDES, Opens, SetMap, SetPiece, Side

from ..plans.trick_fields import Id, Label
from ..schemas import Fields, Within

#: The most pieces of one set.
MOST_PIECES = 60

Along = Annotated[float, Within(-100, 100)]
Size = Annotated[float, Within(0, 100)]


class SetPieceFields(Fields):
    """A piece of a set; see `core.plan.set_map.SetPiece`."""

    key: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[0-9a-z-]+$")]
    name: Label
    thing_id: Id | None = None
    x_m: Along = 0.0
    y_m: Along = 1.0
    foot_m: Annotated[float, Within(-5, 20)] = 0.0
    width_m: Size = 0.3
    depth_m: Size = 0.2
    height_m: Annotated[float, Within(0, 20)] = 0.2
    turn_deg: Annotated[float, Within(-360, 360)] = 0.0
    opens: Opens = ""
    photo_id: Id | None = None
    note: Annotated[str, Field(max_length=200)] = ""


def _keys_differ(pieces: list[SetPieceFields]) -> list[SetPieceFields]:
    if len({p.key for p in pieces}) < len(pieces):
        raise ValueError("Two pieces are one and the same: remove one of them")
    return pieces


class SetMapFields(Fields):
    """A set map: edges of the set (null: as what stands on it needs), the sides at which somebody
    can stand, its pieces."""

    left_m: Along | None = None
    right_m: Along | None = None
    near_m: Along | None = None
    far_m: Along | None = None
    sides: Annotated[list[Side], Field(max_length=4)] = list(SIDES)
    pieces: Annotated[
        list[SetPieceFields], Field(max_length=MOST_PIECES), AfterValidator(_keys_differ)
    ] = []

    def core(self) -> SetMap:
        """The map as the core takes it."""
        edges = self.model_dump(include={"left_m", "right_m", "near_m", "far_m"})
        return SetMap(
            **edges,
            sides=tuple(dict.fromkeys(self.sides)),
            pieces=tuple(SetPiece(**p.model_dump()) for p in self.pieces),
        )
