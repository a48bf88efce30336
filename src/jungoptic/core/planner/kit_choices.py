"""Which body, mode and lens of the kit can film a plate as it is decided."""

from __future__ import annotations

from dataclasses import replace
from itertools import islice

import numpy as np

from ..impossible import Impossible
from ..judging import findings_of
from ..plan.findings import Remedy, Verdict, worst, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..stage.case import Case
from ..words.quantities import pixels
from .space import Space, setups, setups_of
from .table import Table


def kit_choices(shot: Shot, plate: Plate, most: int = 3) -> tuple[Remedy, ...]:
    """The body, mode and lens that film `plate` best, best first: fewest rules broken, best
    verdict, most pixels left. Its other decisions stay as they are."""
    shot = seen_from_own(shot, plate)
    found = setups_of(plate, setups(shot))
    if not found:
        return ()
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
    order = np.lexsort((-left, ranks.max(axis=0), (ranks == 2).sum(axis=0)))
    ways = (_way(shot, plate, space, int(i)) for i in order if built[i])
    return tuple(islice((way for way in ways if way is not None), most))


def _way(shot: Shot, plate: Plate, space: Space, at: int) -> Remedy | None:
    """One of them in words, judged in full."""
    setup = space.setups[at]
    changes = {"body_id": setup.body.id, "mode_id": setup.mode.id, "lens_id": setup.lens.id}
    try:
        case = Case.of(shot, replace(plate, **changes))  # type: ignore[arg-type]
    except Impossible:
        return None
    if case is None:
        return None
    findings = findings_of(case)
    first = worst_first(findings)[0]
    effect = f"{pixels(case.stage.pixels_across)} left across. " + (
        first.sentence if first.verdict is not Verdict.HOLDS else "Everything holds."
    )
    return Remedy(
        f"Use {setup.body.name}, {setup.mode.name}, with the {setup.lens.name}.",
        effect,
        worst(findings),
        changes,
    )
