"""Which body, mode and lens of the kit can film a plate as it is decided."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import islice

import numpy as np

from ..impossible import Impossible
from ..judging import findings_of
from ..judging.room import meant, rooms_for
from ..plan.findings import Change, Remedy, Verdict, worst, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..stage.case import Case
from ..words.quantities import pixels
from .space import Setup, Space, setups, setups_of
from .table import Table


def kit_choices(shot: Shot, plate: Plate, most: int = 3) -> tuple[Remedy, ...]:
    """The body, mode and lens that film `plate` best, best first: fewest rules broken, best
    verdict, most pixels left. Its other decisions stay as they are; but for an upright picture the
    camera may lie on its side, and where one place of the kit alone has room for it, it is
    filmed there."""
    shot = seen_from_own(shot, plate)
    ranked = _ranked(shot, plate)
    if shot.delivery.aspect < 1.0 and not plate.on_side:
        ranked += _ranked(shot, replace(plate, on_side="left"))
    ways = (_way(shot, one.plate, one.setup) for one in sorted(ranked, key=lambda r: r.rank))
    return tuple(islice((way for way in ways if way is not None), most))


@dataclass(frozen=True)
class _Ranked:
    """A setup with a plate: rules broken, worst verdict, pixels left as they are sorted."""

    plate: Plate
    setup: Setup
    rank: tuple[int, int, float]


def _ranked(shot: Shot, plate: Plate) -> list[_Ranked]:
    found = setups_of(plate, setups(shot))
    if not found:
        return []
    space = Space(
        found,
        (plate.scale,),
        shutters=(plate.shutter_deg,),
        stops=(plate.f_number,),
        isos=(plate.iso,),
        passes=(plate.focus_passes,),
        capture_fps=plate.capture_fps,
    )
    table = Table(shot, plate, space)
    ranks = np.stack([np.broadcast_to(r.ranks, space.shape).ravel() for r in table.rules])
    left = np.broadcast_to(table.pixels, space.shape).ravel()
    built = np.broadcast_to(table.buildable, space.shape).ravel()
    broken, worst_of = (ranks == 2).sum(axis=0), ranks.max(axis=0)
    return [
        _Ranked(plate, setup, (int(broken[i]), int(worst_of[i]), -float(left[i])))
        for i, setup in enumerate(space.setups)
        if built[i]
    ]


def _way(shot: Shot, plate: Plate, setup: Setup) -> Remedy | None:
    """One of them in words, judged in full."""
    changes: dict[str, Change] = {
        "body_id": setup.body.id,
        "mode_id": setup.mode.id,
        "lens_id": setup.lens.id,
    }
    words = f"Use {setup.body.name}, {setup.mode.name}, with the {setup.lens.name}"
    try:
        case = Case.of(shot, replace(plate, **changes))  # type: ignore[arg-type]
    except Impossible:
        return None
    if case is None:
        return None
    if plate.on_side:
        changes["on_side"] = plate.on_side
    room = meant(plate, rooms_for(case)) if plate.room_id is None else None
    if room is not None:
        changes["room_id"] = room.id
        words += f", in the {room.name}"
        case = Case(case.shot, replace(case.plate, room_id=room.id), case.stage)
    findings = findings_of(case)
    first = worst_first(findings)[0]
    effect = f"{pixels(case.stage.pixels_across)} left across. " + (
        first.sentence if first.verdict is not Verdict.HOLDS else "Everything holds."
    )
    return Remedy(f"{words}.", effect, worst(findings), changes)
