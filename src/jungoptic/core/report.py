"""The answer to a whole shot: both worlds drawn, every stage derived, every rule asked."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .drawing import Drawing, share_distances
from .findings import Finding, Remedy, Verdict, worst, worst_first
from .frame import Grip, Picture, Whisker, draw, grips, screen_edges
from .judging import judge_plate
from .judging.case import Case
from .plan import Plate, Shot, check_shot
from .quantities import pixels
from .stage_drawing import elevation, floor_tape_m, mark_of, plan
from .staging import Stage

#: Departures shorter than this are not drawn as whiskers: nobody can see them.
WHISKER_FROM_PX = 0.5


@dataclass(frozen=True)
class Mark:
    """Where one stand-in goes on this stage: tape numbers in stage metres.

    `from_sensor_m` and `from_front_m` run along the centre line of the view; `aside_m` is to the
    right (+) of it; `height_m` is how tall the thing is there.
    """

    stand_in_id: str
    name: str
    from_sensor_m: float
    from_front_m: float
    aside_m: float
    height_m: float


@dataclass(frozen=True)
class PlateReport:
    """Everything about one plate. `stage` and the drawings are None until kit is chosen."""

    plate_id: str
    verdict: Verdict
    findings: tuple[Finding, ...]
    stage: Stage | None = None
    picture: Picture | None = None
    whiskers: tuple[Whisker, ...] = ()
    screen: tuple[tuple[tuple[float, float], ...], ...] = ()
    marks: tuple[Mark, ...] = ()
    mark_id: str | None = None
    mark_tape_m: float | None = None
    elevation: Drawing | None = None
    plan: Drawing | None = None


@dataclass(frozen=True)
class ShotReport:
    """Everything about a shot: the world picture, handles, and each plate."""

    world: Picture
    grips: tuple[Grip, ...]
    plates: tuple[PlateReport, ...]


def report(shot: Shot, remedies: bool = True) -> ShotReport:
    """Compute the whole shot. Raises ValueError, with a sentence, when its numbers are nonsense.

    Without `remedies` the findings carry none: enough while a number is being dragged.
    """
    check_shot(shot)
    delivery = shot.delivery
    world = shot.world.camera(delivery)
    return ShotReport(
        world=draw(world, shot.stand_ins, 1.0, delivery.width_px, delivery.height_px),
        grips=grips(shot),
        plates=tuple(plate_report(shot, plate, remedies) for plate in shot.plates),
    )


def plate_report(shot: Shot, plate: Plate, remedies: bool = True) -> PlateReport:
    """Compute one plate; impossible optics become a finding, so the other plates still answer."""
    try:
        case = Case.of(shot, plate)
    except ValueError as error:
        impossible = Finding("impossible", "Cannot be built", Verdict.BREAKS, f"{error}")
        return PlateReport(plate.id, Verdict.BREAKS, (impossible,))
    if case is None:
        missing = judge_kit(shot, plate)
        return PlateReport(plate.id, missing.verdict, (missing,))
    side, above = share_distances(elevation(case), plan(case))
    findings = judge_plate(case if remedies else replace(case, trial=True))
    delivery = shot.delivery
    mark = mark_of(case)
    return PlateReport(
        plate_id=plate.id,
        verdict=worst(findings),
        findings=tuple(findings),
        stage=case.stage,
        picture=draw(
            case.stage.camera,
            shot.stand_ins_of(plate),
            plate.scale,
            delivery.width_px,
            delivery.height_px,
            plate.ground_m,
        ),
        whiskers=_whiskers(case),
        screen=screen_edges(case),
        marks=_marks(case),
        mark_id=None if mark is None else mark.id,
        mark_tape_m=None if mark is None else floor_tape_m(case, mark.y_m / plate.scale),
        elevation=side,
        plan=above,
    )


def _whiskers(case: Case) -> tuple[Whisker, ...]:
    """Departures of the compared points, where long enough to be seen."""
    view, stage_px = case.shot.world_view, case.stage_pixels
    with np.errstate(invalid="ignore"):
        off = np.hypot(*(stage_px - view.world_px).T)
        shown = np.flatnonzero(off > WHISKER_FROM_PX)
    return tuple(
        Whisker(
            view.points.names[i],
            *(round(float(v), 1) for v in (*view.world_px[i], *stage_px[i])),
        )
        for i in shown
    )


def _marks(case: Case) -> tuple[Mark, ...]:
    stage, plate = case.stage, case.plate
    found = []
    for stand_in in case.shot.stand_ins_of(plate):
        if stand_in.kind == "ground":
            continue
        from_sensor = floor_tape_m(case, stand_in.y_m / plate.scale)
        found.append(
            Mark(
                stand_in.id,
                stand_in.name,
                from_sensor,
                from_sensor - stage.sensor_to_front_m,
                stand_in.x_m / plate.scale,
                stand_in.height_m / plate.scale,
            )
        )
    return tuple(found)


def judge_kit(shot: Shot, plate: Plate) -> Finding:
    """Body, mode or lens is missing: say so, and offer what is owned that fits best."""
    ways = kit_choices(shot, plate)
    return Finding(
        key="kit",
        title="Body and lens",
        verdict=Verdict.STRAINS,
        sentence="Choose a body, a recording mode and a lens: then every number follows."
        if ways
        else "Nothing to film with yet: add a body with a recording mode and a lens to the kit.",
        remedies=ways[:3],
    )


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
    except ValueError:
        return None
    if case is None:
        return None
    return case, judge_plate(replace(case, trial=True))
