"""All that is computed of a sheet, together."""

from __future__ import annotations

import datetime
from collections.abc import Sequence
from dataclasses import dataclass

from ..impossible import Impossible
from ..lighting.playing import playing
from ..plan.findings import Finding, worst_first
from ..plan.plate import Plate
from ..plan.sheet import POSED, Column, Sheet
from ..plan.shot import Shot
from .belts import Belt, belts_of
from .follows import chart_of, told_by_story
from .judging import judged
from .pace import Progress, Sitting, progress, worked_by
from .picture import Moved, Steps, steps_of
from .timing import Stretch, changed_at, holds, pictures, rows_of, stops


@dataclass(frozen=True)
class ColumnReport:
    """What is computed of a column: the frames at which it changes; the chart of an axis; levels
    (0..1) of a lamp at every frame. `by_story`: it fills itself."""

    column: Column
    by_story: bool
    changed: tuple[int, ...]
    moved: Moved | None = None
    levels: tuple[float, ...] = ()


@dataclass(frozen=True)
class SheetReport:
    """A sheet of `frames` frames: its columns, its own first; the frames that need a picture; how
    many pictures are shown for one frame, two, three; where it stops; what its moves do in the
    picture; what is judged of it, worst first; how far the work has come; its layers and belts.
    `begun`: something on it asks for pictures; until then the first alone is asked for."""

    frames: int
    fps: float
    columns: tuple[ColumnReport, ...]
    taken: tuple[int, ...]
    holds: dict[int, int]
    stops: tuple[Stretch, ...]
    steps: tuple[Steps, ...]
    findings: tuple[Finding, ...]
    progress: Progress
    belts: tuple[Belt, ...] = ()
    begun: bool = True


def usually_taken(frames: int, hold: int) -> tuple[int, ...]:
    """The frames that pictures are taken for where nothing says otherwise: a pose is held for
    `hold` frames."""
    return tuple(range(1, frames + 1, max(hold, 1)))


def sheet_report(
    shot: Shot,
    plate: Plate,
    sheet: Sheet,
    today: datetime.date | None = None,
    sat: Sequence[Sitting] = (),
    hold: int | None = None,
) -> SheetReport:
    """What a sheet of `plate` comes to; `shot` as the plate's own view has it. `sat`: days at the
    table that its camera tells of, beside those that somebody wrote down. `hold`: frames that a
    pose is usually held, by which the work is counted while nothing is on the sheet.

    Raises Impossible for a move or a day that makes no sense, and for a shot too long for a sheet.
    """
    frames, fps = rows_of(shot), shot.delivery.fps
    own = [_column(shot, plate, c, False) for c in sheet.columns]
    told = [_column(shot, plate, c, True) for c in told_by_story(shot, plate, sheet)]
    lamps = _lamps(shot, plate)
    columns = [*own, *told, *lamps]
    # What the story's camera does is filmed whatever the sheet says of it.
    asks = [
        c.changed for c in columns if c.column.kind in POSED or c.column.kind in ("axis", "lamp")
    ]
    if sheet.lapse is not None:
        # Every frame is a photograph of its own.
        asks = [tuple(range(1, frames + 1))]
    taken = pictures(asks, frames)
    begun = sheet.lapse is not None or any(
        c.changed and c.column.kind not in ("words", "note") for c in columns
    )
    to_take = taken if begun or hold is None else usually_taken(frames, hold)
    still = stops(taken, frames, fps)
    moved = [c.moved for c in columns if c.moved is not None]
    # Whatever moves has a column, its own or one that fills itself.
    steps = steps_of(shot, plate, moved) if moved else []
    charted = [c.moved for c in own if c.moved is not None]
    untold = [c.moved for c in told if c.moved is not None]
    every = [c.column for c in columns]
    found = judged(shot, plate, every, charted, steps, taken, still, untold)
    return SheetReport(
        frames,
        fps,
        tuple(columns),
        tuple(taken),
        holds(taken, frames),
        tuple(still),
        tuple(steps),
        tuple(worst_first(found)),
        progress([*sheet.worked, *worked_by(sat, to_take, frames)], frames, fps, to_take, today),
        belts_of(shot, plate, charted),
        begun,
    )


def _column(shot: Shot, plate: Plate, column: Column, by_story: bool) -> ColumnReport:
    if column.kind != "axis":
        return ColumnReport(column, by_story, tuple(changed_at(column, shot.frames)))
    moved = Moved(column, chart_of(shot, plate, column))
    return ColumnReport(column, by_story, tuple(moved.chart.moved_at), moved)


def _lamps(shot: Shot, plate: Plate) -> list[ColumnReport]:
    """Lamps that play: their levels at every frame, and where they change by what is seen."""
    try:
        lamps = playing(shot, plate)
    except Impossible:
        return []
    found = []
    for i, lamp in enumerate(lamps, start=1):
        levels = tuple(round(float(v), 3) for v in lamp.curve.levels[: shot.frames])
        if not levels:
            continue
        levels += (levels[-1],) * (shot.frames - len(levels))
        changed = [f + 1 for f in range(1, len(levels)) if abs(levels[f] - levels[f - 1]) > 0.004]
        column = Column(f"lamp-{i}", lamp.name, "lamp", follows=True)
        found.append(ColumnReport(column, True, tuple(changed), None, levels))
    return found
