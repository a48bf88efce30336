"""The computed report as the API gives it: typed, and written as JSON in one go."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from django.http import HttpResponse
from pydantic import TypeAdapter

from jungoptic.core.drawings.frame import Grip
from jungoptic.core.drawings.overlays import PictureMark
from jungoptic.core.drawings.rail import Rail
from jungoptic.core.drawings.tone import Tone
from jungoptic.core.judging.unasked import Unasked
from jungoptic.core.lighting.contours import LightMap
from jungoptic.core.lighting.stage_light import StageLight
from jungoptic.core.lighting.story_key import Key
from jungoptic.core.lockoff.group import LockGroup
from jungoptic.core.matching import Similarity
from jungoptic.core.optics import FocusPass
from jungoptic.core.plan.findings import Finding, Verdict, Working
from jungoptic.core.report.shot_report import Depth, Filmed, PlateReport, ShotReport, Study
from jungoptic.core.stage.derive import Stage
from jungoptic.core.stage.marks import Mark
from jungoptic.core.study.air import Air
from jungoptic.core.study.in_post import InPost
from jungoptic.core.words.drawing import Drawing
from jungoptic.core.words.outlines import Outline, Picture, Whisker


@dataclass(frozen=True)
class StageNumbers:
    """The sheet of one stage. Metres on the stage; null stands for infinity."""

    ideal_axis_m: float
    floor_axis_m: float
    axis_m: float
    mark_height_m: float
    front_height_m: float
    tilt_deg: float
    marked_mm: float
    focal_mm: float
    pinhole_mm: float
    magnification: float
    focus_m: float | None
    focus_tape_m: float | None
    focus_front_m: float | None
    sensor_to_pupil_m: float
    sensor_to_front_m: float
    front_assumed: bool
    pupil_assumed: bool
    crop_across: float
    crop_down: float
    pixels_across: float
    coc_mm: float
    near_m: float | None
    far_m: float | None
    depth_near_m: float
    depth_far_m: float | None
    passes: tuple[FocusPass, ...]
    needed_fps: float
    capture_fps: float
    exposure_s: float
    set_duration_s: float
    effective_f_number: float
    lux_needed: float
    mark_id: str | None
    mark_tape_m: float | None

    @staticmethod
    def of(stage: Stage, report: PlateReport) -> StageNumbers:
        """Picked from the core's stage."""
        own = set(StageNumbers.__dataclass_fields__) - {"mark_id", "mark_tape_m"}
        values = {name: getattr(stage, name) for name in own}
        return StageNumbers(**values, mark_id=report.mark_id, mark_tape_m=report.mark_tape_m)


@dataclass(frozen=True)
class PlateAnswer:
    """Everything about one plate; `stage` is null until kit is chosen; the drawings, and what
    follows them, for every plate but the one selected."""

    plate_id: str
    verdict: Verdict
    findings: tuple[Finding, ...]
    unasked: tuple[Unasked, ...]
    stage: StageNumbers | None
    picture: Picture | None
    whiskers: tuple[Whisker, ...]
    screen: tuple[tuple[tuple[float, float], ...], ...]
    marks: tuple[Mark, ...]
    elevation: Drawing | None
    plan: Drawing | None
    fit: Similarity | None
    rail: Rail | None
    study: Study | None
    workings: Mapping[str, Working]
    light: StageLight | None
    light_map: LightMap | None
    shadows: tuple[Outline, ...]
    tones: tuple[Tone, ...]
    in_post: InPost | None
    filmed: Filmed | None


@dataclass(frozen=True)
class ShotAnswer:
    """The whole shot, computed, as its pictures are at `frame` (from 1). `kept`: under what name
    its plan is kept for the next question; "" where it is not."""

    world: Picture
    grips: tuple[Grip, ...]
    plates: tuple[PlateAnswer, ...]
    depths: tuple[Depth, ...]
    key: Key | None
    frame: int
    air: Air | None
    marks: tuple[PictureMark, ...]
    locks: tuple[LockGroup, ...]
    locked: tuple[str, ...]
    unshared: Mapping[str, tuple[str, ...]]
    story_s: float
    zoomed: float
    kept: str = ""


def plate_answer(report: PlateReport, workings: bool = True) -> PlateAnswer:
    """One plate's report in the shape of the API; without `workings`, its findings say none."""
    findings = report.findings
    if not workings:
        findings = tuple(replace(finding, workings=()) for finding in findings)
    return PlateAnswer(
        plate_id=report.plate_id,
        verdict=report.verdict,
        findings=findings,
        unasked=report.unasked,
        stage=None if report.stage is None else StageNumbers.of(report.stage, report),
        picture=report.picture,
        whiskers=report.whiskers,
        screen=report.screen,
        marks=report.marks,
        elevation=report.elevation,
        plan=report.plan,
        fit=report.fit,
        rail=report.rail,
        study=report.study,
        workings=report.workings,
        light=report.light,
        light_map=report.light_map,
        shadows=report.shadows,
        tones=report.tones,
        in_post=report.in_post,
        filmed=report.filmed,
    )


_ADAPTER = TypeAdapter(ShotAnswer)


def shot_answer(
    report: ShotReport, kept: str = "", workings: Callable[[str], bool] = lambda _: True
) -> HttpResponse:
    """The report as a JSON response: infinities become null, since JSON has none. `workings` says
    of which plates the findings show theirs."""
    answer = ShotAnswer(
        report.world,
        report.grips,
        tuple(plate_answer(p, workings(p.plate_id)) for p in report.plates),
        report.depths,
        report.key,
        report.frame,
        report.air,
        report.marks,
        report.locks,
        report.locked,
        report.unshared,
        report.story_s,
        report.zoomed,
        kept,
    )
    return HttpResponse(_ADAPTER.dump_json(answer), content_type="application/json")
