"""What is computed of a sheet, as the API tells it."""

from __future__ import annotations

from pydantic import BaseModel

from jungoptic.core.frames.belts import Belt
from jungoptic.core.frames.chart import Chart, round_mm
from jungoptic.core.frames.follows import AXIS_NAMES, CAMERA, CARRIES, blink, to_begin_with
from jungoptic.core.frames.lapse import LapseReport
from jungoptic.core.frames.pace import Progress
from jungoptic.core.frames.sheet_report import ColumnReport, SheetReport, usually_taken
from jungoptic.core.frames.timing import Stretch
from jungoptic.core.plan.findings import Finding
from jungoptic.core.plan.kit import TURNING, RigAxis
from jungoptic.core.plan.plate import TIMELESS, Plate
from jungoptic.core.plan.shot import Shot

from .fields import ColumnFields, MarkFields, column_fields


class ChartAnswer(BaseModel):
    """One axis, a number for every frame. `unit`: mm or deg; `wanted`: where it is to be; `steps`:
    whole steps before the frame, and `turned` with the play of the gears taken up; `reached`: where
    they bring it (empty without a rig); `counts`: what a hand counts before the frame, in
    `counted_in`."""

    unit: str
    rig: str
    follows: bool
    wanted: list[float]
    reached: list[float]
    steps: list[int]
    turned: list[int]
    counted_in: str
    counts: list[float]
    turns_round: list[int]
    travel: float
    error: float
    step: float
    play_steps: int


class ColumnAnswer(BaseModel):
    """A column: the frames at which it changes; of an axis its chart, of a lamp its levels."""

    key: str
    name: str
    kind: str
    by_story: bool
    changed: list[int]
    chart: ChartAnswer | None = None
    levels: list[float] = []


class StepAnswer(BaseModel):
    """What the moves do to one thing in the picture, delivered pixels: its fastest step and when,
    the blur that the story has there and these pictures lack, its sharpest change of pace, how far
    it is from where the story has it."""

    stand_in_id: str
    name: str
    away_m: float
    step_px: float
    frame: int
    blur_px: float
    jolt_px: float
    off_px: float


class GoneAnswer(BaseModel):
    """A thing at its farthest step from photograph to photograph."""

    stand_in_id: str
    name: str
    away_m: float
    step_px: float
    photo: int


class LapseAnswer(BaseModel):
    """What a time-lapse comes to; see `core.frames.lapse.LapseReport`."""

    photos: int
    lasts_s: float
    faster: float
    open_part: float
    storage_gb: float
    cards: int
    path_m: float
    step_m: float
    turn_deg: float
    glides_m: float | None
    pace_m_min: float
    left: float
    left_px: float
    guide: list[tuple[float, float]]
    gone: list[GoneAnswer]
    findings: tuple[Finding, ...]


class AxisAnswer(BaseModel):
    """What can be moved: its name, whether it turns, and whether the story can say how."""

    axis: RigAxis
    name: str
    turns: bool
    followed: bool
    of_thing: bool


class Usual(BaseModel):
    """What a sheet with nothing on it comes to, as poses are usually held: for `hold` frames."""

    hold: int
    pictures: int


class SheetAnswer(BaseModel):
    """A sheet of `frames` frames. `taken`: the frames that need a picture; `held`: how many
    pictures are shown for so many frames, as [frames, pictures]; `begin_with`: columns to start
    from; `blink`: marks of a blink from frame 1; `usual`: while nothing is on it."""

    frames: int
    fps: float
    columns: list[ColumnAnswer]
    taken: list[int]
    held: list[tuple[int, int]]
    stops: tuple[Stretch, ...]
    steps: list[StepAnswer]
    findings: tuple[Finding, ...]
    progress: Progress
    begin_with: list[ColumnFields]
    blink: list[MarkFields]
    axes: list[AxisAnswer]
    belts: tuple[Belt, ...] = ()
    lapse: LapseAnswer | None = None
    usual: Usual | None = None


AXES = [
    AxisAnswer(
        axis=axis,
        name=name,
        turns=axis in TURNING,
        followed=axis in CAMERA or axis in CARRIES,
        of_thing=axis in CARRIES or axis in ("turntable", "crank"),
    )
    for axis, name in AXIS_NAMES.items()
]


def chart_answer(chart: Chart, follows: bool) -> ChartAnswer:
    """A chart with its numbers rounded to what can be set."""
    rig = chart.rig
    return ChartAnswer(
        unit=chart.unit,
        rig="" if rig is None else rig.name,
        follows=follows,
        wanted=_rounded(chart.wanted),
        reached=_rounded(chart.reached),
        steps=list(chart.steps),
        turned=list(chart.turned),
        counted_in=chart.counted_in,
        counts=_rounded(chart.counts),
        turns_round=chart.turns_round,
        travel=round(chart.travel, 4),
        error=round(chart.error, 5),
        step=0.0 if rig is None else rig.step,
        play_steps=0 if rig is None else rig.play_steps,
    )


def _rounded(values: object) -> list[float]:
    return [round(float(v), 4) for v in values]  # type: ignore[attr-defined]


def _column(found: ColumnReport) -> ColumnAnswer:
    column, moved = found.column, found.moved
    return ColumnAnswer(
        key=column.key,
        name=column.name,
        kind=column.kind,
        by_story=found.by_story,
        changed=list(found.changed),
        chart=None if moved is None else chart_answer(moved.chart, column.follows),
        levels=list(found.levels),
    )


def sheet_answer(shot: Shot, plate: Plate, hold: int, found: SheetReport) -> SheetAnswer:
    """All of a sheet as the API tells it."""
    # What rolls has its blur; pictures taken of what stands still have none.
    exposed = shot.world.shutter_deg / 360.0 if plate.kind in TIMELESS else 0.0
    return SheetAnswer(
        frames=found.frames,
        fps=found.fps,
        columns=[_column(c) for c in found.columns],
        taken=list(found.taken),
        held=list(found.holds.items()),
        stops=found.stops,
        steps=[
            StepAnswer(
                stand_in_id=s.thing.id,
                name=s.thing.name,
                away_m=s.away_m / plate.scale,
                step_px=s.step_px,
                frame=s.frame,
                blur_px=s.step_px * exposed,
                jolt_px=s.jolt_px,
                off_px=s.off_px,
            )
            for s in found.steps
        ],
        findings=found.findings,
        progress=found.progress,
        begin_with=[column_fields(c) for c in to_begin_with(shot, plate, hold)],
        blink=[MarkFields.model_validate(m, from_attributes=True) for m in blink(1, found.fps)],
        axes=AXES,
        belts=found.belts,
        usual=None
        if found.begun
        else Usual(hold=hold, pictures=len(usually_taken(found.frames, hold))),
    )


def lapse_answer(found: LapseReport) -> LapseAnswer:
    """A time-lapse as the API tells it."""
    plain = {
        name: getattr(found, name)
        for name in LapseAnswer.model_fields
        if name not in ("gone", "guide")
    }
    return LapseAnswer(
        **plain,
        guide=list(found.guide),
        gone=[
            GoneAnswer(
                stand_in_id=g.thing.id,
                name=g.thing.name,
                away_m=g.away_m,
                step_px=g.step_px,
                photo=g.photo,
            )
            for g in found.gone
        ],
    )


def ticks_mm(chart: Chart, radius_mm: float | None) -> list[float] | None:
    """Where the marks of a strip lie, millimetres; None for what turns about an unknown radius."""
    if chart.unit == "mm":
        return [float(v) for v in chart.reached]
    if radius_mm is None:
        return None
    return [float(v) for v in round_mm(chart.reached, radius_mm)]
