"""Which body, mode and lens of the kit can film a plate."""

from __future__ import annotations

from dataclasses import replace

from ..impossible import Impossible
from ..judging import judge_plate
from ..plan.findings import Finding, Remedy, Verdict, worst, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words.quantities import pixels


def kit_choices(shot: Shot, plate: Plate) -> tuple[Remedy, ...]:
    """Every body, mode and lens that can film `plate`, best first: fewest rules broken, best
    verdict, most pixels left."""
    tries: list[tuple[int, float, Remedy]] = []
    for body in shot.kit.bodies:
        for mode in body.modes:
            for lens in shot.kit.lenses:
                changes = {"body_id": body.id, "mode_id": mode.id, "lens_id": lens.id}
                found = _try_kit(shot, plate, changes)
                if found is None:
                    continue
                case, findings = found
                broken = sum(f.verdict is Verdict.BREAKS for f in findings)
                first = worst_first(findings)[0]
                effect = f"{pixels(case.stage.pixels_across)} left across. " + (
                    first.sentence if first.verdict is not Verdict.HOLDS else "Everything holds."
                )
                way = Remedy(
                    f"Use {body.name}, {mode.name}, with the {lens.name}.",
                    effect,
                    worst(findings),
                    changes,
                )
                tries.append((broken, -case.stage.pixels_across, way))
    tries.sort(key=lambda t: (t[0], t[2].verdict.rank, t[1]))
    return tuple(way for _, _, way in tries)


def _try_kit(
    shot: Shot, plate: Plate, changes: dict[str, str]
) -> tuple[Case, list[Finding]] | None:
    try:
        case = Case.of(shot, replace(plate, **changes))  # type: ignore[arg-type]
    except Impossible:
        return None
    if case is None:
        return None
    return case, judge_plate(replace(case, trial=True))
