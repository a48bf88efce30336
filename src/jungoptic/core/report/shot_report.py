"""The answer to a whole shot: both worlds drawn, every stage derived, every rule asked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from .. import haze
from ..drawings.frame import Grip, draw, grips, screen_edges
from ..drawings.light_maps import stage_map
from ..drawings.overlays import PictureMark, plate_marks, shot_marks
from ..drawings.rail import Rail, rail
from ..drawings.stage.above import plan
from ..drawings.stage.elevation import elevation
from ..drawings.told import Told, back_of
from ..drawings.tone import Tone, tones
from ..judging.unasked import Unasked
from ..lighting.contours import LightMap
from ..lighting.mains import MainsLoad, mains_load
from ..lighting.on_stage import lighting
from ..lighting.silhouette import CutOut, cut_outs
from ..lighting.stage_light import StageLight
from ..lighting.stage_shadows import shadows_in_frame
from ..lighting.story_key import Key, key_light
from ..lockoff.group import LOCKED, OWN, LockGroup, lock_groups
from ..matching import Similarity
from ..plan.checked import check_shot
from ..plan.findings import Finding, Verdict, Working
from ..plan.mirrored import seen_by
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import in_view, seen_from_own
from ..stage.case import Case
from ..stage.derive import Stage
from ..stage.in_frame import frame_at
from ..stage.marks import Eyeline, FixedPoint, Mark, eyelines, fixed_points, marks
from ..stage.tape import mark_of, mark_tape_m
from ..study.air import Air, Smoke, air_of, smoke_for
from ..study.detail import Detail, details
from ..study.in_post import InPost, in_post
from ..study.screen_study import ScreenStudy, screen_study
from ..study.sensitivity import Sensitivity, sensitivities
from ..study.set_extent import SetExtent, set_extent
from ..study.workings import stage_workings, study_workings
from ..words.drawing import Drawing, share_distances
from ..words.outlines import Outline, Picture, Whisker
from .judged import judged

#: Departures shorter than this are not drawn as whiskers: nobody can see them.
WHISKER_FROM_PX = 0.5


@dataclass(frozen=True)
class Study:
    """What is worth knowing about one plate beyond its numbers."""

    sensitivities: tuple[Sensitivity, ...]
    cover: SetExtent
    details: tuple[Detail, ...]
    eyelines: tuple[Eyeline, ...]
    fixed: tuple[FixedPoint, FixedPoint]
    mains: MainsLoad | None = None
    cut_outs: tuple[CutOut, ...] = ()
    smoke: Smoke | None = None
    screen: ScreenStudy | None = None


@dataclass(frozen=True)
class Filmed:
    """The outlines in the picture as a stage films it, before post mirrors it or lays it in, and
    how large that picture is: pixels of its own."""

    outlines: tuple[Outline, ...]
    width_px: int
    height_px: int


@dataclass(frozen=True)
class PlateReport:
    """Everything about one plate. `stage` is None until kit is chosen; the drawings and what
    follows them are for the plate that is looked at."""

    plate_id: str
    verdict: Verdict
    findings: tuple[Finding, ...]
    stage: Stage | None = None
    #: What was not asked, since something is not decided yet.
    unasked: tuple[Unasked, ...] = ()
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
    #: The working behind each number of the sheet and each table, by its name.
    workings: Mapping[str, Working] = field(default_factory=dict)
    #: Light from the lamps placed, its map over the plan, and the key's shadows in the Frame.
    light: StageLight | None = None
    light_map: LightMap | None = None
    shadows: tuple[Outline, ...] = ()
    #: What its tricks draw over the picture.
    over_picture: tuple[PictureMark, ...] = ()
    #: The plate in tone, where that is asked for.
    tones: tuple[Tone, ...] = ()
    #: What post does with it where it is placed there.
    in_post: InPost | None = None
    #: How its stage films it, where post mirrors it or lays it in.
    filmed: Filmed | None = None


@dataclass(frozen=True)
class Depth:
    """Where a stand-in lies along the lens axis of the world camera, world metres; `per_m`: how
    much of a metre away from the camera counts along the axis; `air`: how much of it the air
    before it has covered, 0..1. `filmed_m`: nearest and farthest from the camera of the plate that
    is looked at, where that films it from nearer for post to place."""

    stand_in_id: str
    near_m: float
    far_m: float
    per_m: float
    air: float
    filmed_m: tuple[float, float] | None = None


@dataclass(frozen=True)
class ShotReport:
    """Everything about a shot: the world picture, handles, and each plate."""

    world: Picture
    grips: tuple[Grip, ...]
    plates: tuple[PlateReport, ...]
    depths: tuple[Depth, ...] = ()
    key: Key | None = None
    frame: int = 1
    air: Air | None = None
    #: Dividers, cuts, flights and so on, as the picture shows them now.
    marks: tuple[PictureMark, ...] = ()
    locks: tuple[LockGroup, ...] = ()
    #: Decisions that plates of one lock-off share.
    locked: tuple[str, ...] = ()
    #: Those that a pass keeps to itself, by what it is for.
    unshared: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    #: Seconds of the story that the shot shows.
    story_s: float = 0.0
    #: How many times as close as the shot began the pictures show it.
    zoomed: float = 1.0


def report(
    shot: Shot,
    remedies: bool = True,
    *,
    at: float = 0.0,
    selected: str | None = None,
    view: str | None = None,
    light_map: bool = False,
    with_study: bool | None = None,
    drawings: bool = True,
    others: bool = True,
    worked: bool = True,
    tone: bool = False,
) -> ShotReport:
    """Compute one view of the shot with all its plates: that of the plate `selected`, or else
    `view`, the first by default. Raises Impossible, with a sentence, when its numbers are nonsense.

    Without `remedies` the findings carry none: they are tried when a finding is opened. `at` (0..1)
    is the part of the screen time that the pictures show. The plate `selected` also gets its
    rail, its light (with `light_map` as a map), its `drawings` of the stage, its numbers `worked`
    out, and its study (with remedies, unless `with_study` says otherwise). Without `others` it is
    the only one to be told. With `tone` every plate is also drawn in tone.
    """
    check_shot(shot)
    chosen = next((p for p in shot.plates if p.id == selected), None)
    shot = in_view(shot, view) if chosen is None else seen_from_own(shot, chosen)
    delivery = shot.delivery
    world = shot.move.moved(shot.world.camera(delivery), at)
    gone = shot.time.after(at)
    things = tuple(s.after(gone) for s in shot.stand_ins)
    plates = tuple(
        plate_report(
            shot,
            plate,
            remedies,
            at=at,
            selected=plate.id == selected,
            light_map=light_map,
            with_study=remedies if with_study is None else with_study,
            drawings=drawings,
            worked=worked,
            tone=tone,
        )
        for plate in shot.plates
        if others or plate.id == selected
    )
    return ShotReport(
        world=draw(world, things, 1.0, delivery.width_px, delivery.height_px),
        grips=grips(shot, world, things),
        plates=plates,
        depths=_depths(shot, None if chosen is None else seen_by(shot, chosen)),
        key=key_light(shot, world, at),
        frame=frame_at(shot, at),
        air=air_of(shot),
        # The lines of the shot lie over what the plates show.
        marks=(*(m for p in plates for m in p.over_picture), *shot_marks(shot, at)),
        locks=lock_groups(shot),
        locked=tuple(LOCKED),
        unshared={purpose: tuple(sorted(own)) for purpose, own in OWN.items()},
        story_s=shot.time.whole_s,
        zoomed=shot.move.zoomed(at),
    )


def _depths(shot: Shot, stage: Shot | None) -> tuple[Depth, ...]:
    filmed = {} if stage is None or stage.placing is None else stage.depths_m
    camera = shot.world.camera(shot.delivery)
    per_m = float(camera.axes[2, 1])
    found = []
    for stand_in in shot.stand_ins:
        ahead = shot.depths_m[stand_in.id]
        if len(ahead):
            # Of a few numbers the list knows the ends sooner.
            these = ahead.tolist()
            near, far = min(these), max(these)
            air = 0.0
            if shot.visibility_m is not None:
                air = 1.0 - haze.transmission(near, shot.visibility_m)
            own = filmed.get(stand_in.id)
            filmed_m = None if own is None or not len(own) else (float(own.min()), float(own.max()))
            found.append(Depth(stand_in.id, near, far, per_m, air, filmed_m))
    return tuple(found)


def study(case: Case) -> Study:
    """Sensitivities, set coverage, detail, eyelines and the ends of the tape of one plate."""
    return Study(
        sensitivities(case),
        set_extent(case),
        details(case),
        eyelines(case),
        fixed_points(case),
        mains_load(case.shot, case.plate),
        cut_outs(case.shot, case.plate, lighting(case)),
        smoke_for(case),
        screen_study(case),
    )


def plate_report(
    shot: Shot,
    plate: Plate,
    remedies: bool = True,
    *,
    at: float = 0.0,
    selected: bool = False,
    light_map: bool = False,
    with_study: bool | None = None,
    drawings: bool = True,
    worked: bool = True,
    tone: bool = False,
) -> PlateReport:
    """Compute one plate; impossible optics become a finding, so the other plates still answer."""
    told = judged(shot, plate, remedies)
    studied = remedies if with_study is None else with_study
    case = told.case
    if case is None:
        return PlateReport(plate.id, told.verdict, told.findings)
    shot = case.shot
    drawn = selected and drawings
    side, above = share_distances(elevation(case), plan(case)) if drawn else (None, None)
    delivery = shot.delivery
    mark, gone = mark_of(case), shot.time.after(at)
    found = PlateReport(
        plate_id=plate.id,
        verdict=told.verdict,
        findings=told.findings,
        stage=case.stage,
        unasked=told.unasked,
        picture=draw(
            shot.move.moved(case.stage.camera, at, plate.scale),
            tuple(s.after(gone) for s in shot.stand_ins_of(plate)),
            plate.scale,
            delivery.width_px,
            delivery.height_px,
            plate.ground_m,
        ),
        whiskers=_whiskers(case) if at == 0.0 else (),
        screen=screen_edges(case, at),
        marks=marks(case),
        mark_id=None if mark is None else mark.id,
        mark_tape_m=mark_tape_m(case),
        elevation=side,
        plan=above,
        fit=case.reframe,
        rail=rail(case) if selected else None,
        study=study(case) if selected and studied else None,
        workings={**stage_workings(case), **study_workings()} if selected and worked else {},
        light=lighting(case) if selected else None,
        light_map=stage_map(case, above) if above is not None and light_map else None,
        shadows=shadows_in_frame(case, at) if selected else (),
        over_picture=plate_marks(case, at, selected),
        tones=tones(case, at) if tone else (),
        in_post=in_post(case) if selected and worked else None,
    )
    back = back_of(case, at)
    if back is None:
        return found
    if found.picture is not None and selected:
        filmed = Filmed(found.picture.outlines, delivery.width_px, delivery.height_px)
        found = replace(found, filmed=filmed)
    return _told(found, back)


def _told(found: PlateReport, back: Told) -> PlateReport:
    """The pictures of a plate that is mirrored or placed in post as the story has them; its stage
    stays as it is built."""
    return replace(
        found,
        picture=None if found.picture is None else back.picture(found.picture),
        # What is laid in anew at every moment departs from nothing at its points alone.
        whiskers=() if back.placed else tuple(back.whisker(w) for w in found.whiskers),
        screen=back.paths(found.screen),
        shadows=back.outlines(found.shadows),
        over_picture=tuple(replace(m, path=back.path(m.path)) for m in found.over_picture),
        tones=back.tones(found.tones),
        fit=None,
    )


def _whiskers(case: Case) -> tuple[Whisker, ...]:
    """Departures of the points compared as the shot begins, where long enough to be seen."""
    view, stage_px = case.compared, case.stage_pixels
    with np.errstate(invalid="ignore"):
        begins = np.flatnonzero(view.frames == 0)
        off = np.hypot(*(stage_px[begins] - view.world_px[begins]).T)
        shown = begins[off > WHISKER_FROM_PX]
    ends = np.round(np.hstack([view.world_px[shown], stage_px[shown]]), 1).tolist()
    names = [view.labels[i] for i in view.named[shown].tolist()]
    return tuple(Whisker(name, *row) for name, row in zip(names, ends, strict=True))
