"""What a change of kit does to many plates: which verdicts change, and what would do instead."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from ..camera import Array
from ..plan.findings import Verdict
from ..plan.kit import Kit
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.support import CARRYING
from .search import Search, Way, search, verdict_in, verdict_now
from .space import Wishes, setups, space_for
from .table import Table


@dataclass(frozen=True)
class Change:
    """One plate before and after. `before` and `after` are None while no kit is chosen; `after` is
    the verdict of the plan as it would then stand, or of `instead` when the plate used what is
    gone. `uses` says whether it did."""

    shot_id: str
    plate_id: str
    plate: str
    uses: bool
    before: Verdict | None
    after: Verdict | None
    instead: Way | None

    @property
    def changed(self) -> bool:
        """Whether the verdict is another one."""
        return self.before is not self.after


def uses(plate: Plate, ids: frozenset[str]) -> bool:
    """Whether the plate is planned with any of the things in `ids`."""
    own = {plate.body_id, plate.lens_id, plate.room_id, plate.support_id, plate.cloth_id}
    own |= {p.lamp_id for p in plate.lamps}
    return bool(own & ids)


def replan(
    shots: Iterable[tuple[str, Shot]], without: frozenset[str] = frozenset(), whole: bool = False
) -> Iterator[Change]:
    """Follow every plate of `shots` (id and shot) to a kit without the things in `without`.

    A plate that used one of them is planned anew from what is left, at its own scale; the others
    stay as they are. Where lamps, rooms or grip go they are judged again, since a plate that names
    none takes what is owned. With `whole` every plate is planned anew.
    """
    wishes = Wishes(keep_scale=True)
    for shot_id, shot in shots:
        left = replace(shot, kit=shot.kit.without(without)) if without else shot
        known, columns = setups(left), dict[str, Array]()
        for_all = any(_for_all(shot.kit, i) for i in without)
        for plate in shot.plates:
            used = uses(plate, without)
            if whole and not without:
                table = Table(shot, plate, space_for(shot, plate, wishes, known), columns)
                before = verdict_in(table) or verdict_now(shot, plate)
                found = search(shot, plate, wishes, most=1, table=table, misses=False)
                yield _planned(shot_id, plate, used, before, found)
                continue
            before = verdict_now(shot, plate)
            if not used and not whole:
                after = verdict_now(left, plate) if for_all else before
                yield Change(shot_id, plate.id, plate.name, used, before, after, None)
                continue
            bare = _bare(plate, without)
            table = Table(left, bare, space_for(left, bare, wishes, known), columns)
            found = search(left, bare, wishes, most=1, table=table, misses=False)
            yield _planned(shot_id, plate, used, before, found)


def _for_all(kit: Kit, one: str) -> bool:
    """Whether plates that do not name a thing may count on it."""
    rig = kit.move_rig(one)
    carries = rig is not None and rig.axis in CARRYING
    return carries or any(
        of(one) for of in (kit.lamp, kit.room, kit.support, kit.cloth, kit.person)
    )


def _bare(plate: Plate, without: frozenset[str]) -> Plate:
    """The plate without the room, the lamps, the support and the cloth that are gone."""
    kept = tuple(p for p in plate.lamps if p.lamp_id not in without)
    named = {name: getattr(plate, name) for name in ("room_id", "support_id", "cloth_id")}
    if not without & set(named.values()) and len(kept) == len(plate.lamps):
        return plate
    left: dict[str, Any] = {name: None if one in without else one for name, one in named.items()}
    return replace(plate, lamps=kept, **left)


def _planned(
    shot_id: str, plate: Plate, used: bool, before: Verdict | None, found: Search
) -> Change:
    """A plate that was planned anew: the best way there is, or none that will do."""
    best = found.ways[0] if found.ways else None
    after = Verdict.BREAKS if best is None else best.verdict
    return Change(shot_id, plate.id, plate.name, used, before, after, best)
