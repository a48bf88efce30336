"""The answer to a whole shot: both worlds drawn, every stage derived, every rule asked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from .detail import Detail, details
from .drawing import Drawing, share_distances
from .findings import Finding, Remedy, Verdict, Working, worst, worst_first
from .frame import Grip, Picture, Whisker, draw, grips, screen_edges
from .judging import judge_plate
from .judging.case import Case
from .marks import Eyeline, FixedPoint, Mark, eyelines, fixed_points, marks
from .matching import Similarity, fit_similarity
from .motion import frame_at
from .plan import Plate, Shot, check_shot
from .quantities import pixels
from .rail import Rail, haze_along, rail
from .sensitivity import Sensitivity, sensitivities
from .setcover import SetCover, set_cover
from .shadows import Key, key_light
from .stage_drawing import elevation, mark_of, plan
from .staging import Stage, floor_tape_m
from .standins import measured_points
from .workings import stage_workings, study_workings

#: Departures shorter than this are not drawn as whiskers: nobody can see them.
WHISKER_FROM_PX = 0.5


@dataclass(frozen=True)
class Study:
    """What is worth knowing about one plate beyond its numbers."""

    sensitivities: tuple[Sensitivity, ...]
    cover: SetCover
    details: tuple[Detail, ...]
    eyelines: tuple[Eyeline, ...]
    fixed: tuple[FixedPoint, FixedPoint]
    #: The working behind each number of the sheet and each table, by its name.
    workings: Mapping[str, Working]


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
    #: The best reframe in post, from this stage's picture to the world's.
    fit: Similarity | None = None
    rail: Rail | None = None
    study: Study | None = None


@dataclass(frozen=True)
class Depth:
    """Where a stand-in lies along the lens axis of the world camera, world metres; `per_m`: how
    much of a metre away from the camera counts along the axis; `air`: how much of it the air
    before it has covered, 0..1."""

    stand_in_id: str
    near_m: float
    far_m: float
    per_m: float
    air: float


@dataclass(frozen=True)
class ShotReport:
    """Everything about a shot: the world picture, handles, and each plate."""

    world: Picture
    grips: tuple[Grip, ...]
    plates: tuple[PlateReport, ...]
    depths: tuple[Depth, ...] = ()
    key: Key | None = None
    frame: int = 1


def report(
    shot: Shot, remedies: bool = True, *, at: float = 0.0, selected: str | None = None
) -> ShotReport:
    """Compute the whole shot. Raises ValueError, with a sentence, when its numbers are nonsense.

    Without `remedies` the findings carry none: enough while a number is being dragged. `at` (0..1)
    is the part of the screen time that the pictures show. The plate `selected` also gets its rail,
    and with remedies its study.
    """
    check_shot(shot)
    delivery = shot.delivery
    world = shot.move.moved(shot.world.camera(delivery), at)
    things = tuple(s.after(at * shot.screen_time_s) for s in shot.stand_ins)
    return ShotReport(
        world=draw(world, things, 1.0, delivery.width_px, delivery.height_px),
        grips=grips(shot, world, things),
        plates=tuple(
            plate_report(shot, plate, remedies, at=at, selected=plate.id == selected)
            for plate in shot.plates
        ),
        depths=_depths(shot),
        key=key_light(shot, world, at),
        frame=frame_at(shot, at),
    )


def _depths(shot: Shot) -> tuple[Depth, ...]:
    camera = shot.world.camera(shot.delivery)
    per_m = float(camera.axes[2, 1])
    found = []
    for stand_in in shot.stand_ins:
        depths = camera.to_camera(measured_points(stand_in).points)[:, 2]
        ahead = depths[depths > 0.01]
        if len(ahead):
            near, far = float(ahead.min()), float(ahead.max())
            air = haze_along(shot, (near,))
            found.append(Depth(stand_in.id, near, far, per_m, air[0] if air else 0.0))
    return tuple(found)


def study(case: Case) -> Study:
    """Sensitivities, set coverage, detail, eyelines and the ends of the tape of one plate."""
    return Study(
        sensitivities(case),
        set_cover(case),
        details(case),
        eyelines(case),
        fixed_points(case),
        {**stage_workings(case), **study_workings()},
    )


def plate_report(
    shot: Shot,
    plate: Plate,
    remedies: bool = True,
    *,
    at: float = 0.0,
    selected: bool = False,
) -> PlateReport:
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
            shot.move.moved(case.stage.camera, at, plate.scale),
            tuple(s.after(at * shot.screen_time_s) for s in shot.stand_ins_of(plate)),
            plate.scale,
            delivery.width_px,
            delivery.height_px,
            plate.ground_m,
        ),
        whiskers=_whiskers(case) if at == 0.0 else (),
        screen=screen_edges(case, at),
        marks=marks(case),
        mark_id=None if mark is None else mark.id,
        mark_tape_m=None if mark is None else floor_tape_m(case.stage, mark.y_m / plate.scale),
        elevation=side,
        plan=above,
        fit=_fit(case),
        rail=rail(case) if selected else None,
        study=study(case) if selected and remedies else None,
    )


def _fit(case: Case) -> Similarity | None:
    """The best reframe; None when too little is in view to find one."""
    view, stage_px = case.shot.world_view.world_px, case.stage_pixels
    rows = np.isfinite(view + stage_px).all(axis=1)
    return fit_similarity(stage_px[rows], view[rows])[1] if rows.sum() > 1 else None


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
