"""What a sheet asks before one of its pictures: what to pose, what to turn and how far."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from ..impossible import Impossible
from ..plan.plate import Plate
from ..plan.sheet import Sheet
from ..plan.shot import Shot
from ..words import quantities as say
from ..words.sentences import listed
from .follows import CAMERA
from .sheet_report import ColumnReport, SheetReport, sheet_report, usually_taken


@dataclass(frozen=True)
class Ask:
    """One column before a picture: its name, its kind, and what to do in words."""

    column: str
    kind: str
    words: str


@dataclass(frozen=True)
class Asked:
    """Picture `number` (from 1) of a sheet: the frame it is taken for, for how many frames it is
    shown, and what changes before it. `frame` None: the sheet asks for no such picture.
    `lights`: a lamp plays before it; `camera`: the camera moves over the sheet; `free`: things go
    on by themselves, as in a time-lapse."""

    number: int
    frame: int | None
    held: int
    asks: tuple[Ask, ...]
    lights: bool = False
    camera: bool = False
    free: bool = False

    @property
    def moving(self) -> str:
        """What should have moved before it, by name; empty for nothing."""
        names = [ask.column for ask in self.asks if ask.kind in ("part", "piece", "axis")]
        return listed(names) if names else ""


def frames_taken(report: SheetReport, hold: int) -> tuple[int, ...]:
    """The frames that pictures are taken for: as the sheet asks; where it has nothing on it yet, as
    many frames apart as a pose is usually held."""
    return report.taken if report.begun else usually_taken(report.frames, hold)


class Asking:
    """What `sheet`, which comes to `report`, asks before each of its pictures, by their numbers
    from 1; `taken`: the frames that they are taken for, those of the report unless told."""

    def __init__(
        self, shot: Shot, sheet: Sheet, report: SheetReport, taken: Sequence[int] | None = None
    ) -> None:
        self._report = report
        self._taken = report.taken if taken is None else taken
        self._camera, self._free = _moves_camera(shot, sheet, report), sheet.lapse is not None

    def of(self, number: int) -> Asked:
        """What is asked before a picture."""
        report, taken = self._report, self._taken
        if not 1 <= number <= len(taken):
            lights = any(c.column.kind == "lamp" for c in report.columns)
            return Asked(number, None, 0, (), lights, self._camera, self._free)
        frame = taken[number - 1]
        after = taken[number] if number < len(taken) else report.frames + 1
        last = taken[number - 2] if number > 1 else 0
        asks = [ask for c in report.columns if (ask := _asks(c, last, frame)) is not None]
        lit = any(ask.kind == "lamp" for ask in asks)
        return Asked(number, frame, after - frame, tuple(asks), lit, self._camera, self._free)


def carried(shot: Shot, plate: Plate, sheet: Sheet) -> bool:
    """Whether a sheet of `plate` has its camera somewhere else from picture to picture, whatever
    the story's does: along a path, or by counted steps. False for a sheet that makes no sense."""
    if _walked(sheet):
        return True
    if not any(column.kind == "axis" and column.axis in CAMERA for column in sheet.columns):
        return False
    try:
        return _charted(sheet_report(shot, plate, sheet))
    except Impossible:
        return False


def _walked(sheet: Sheet) -> bool:
    lapse = sheet.lapse
    return lapse is not None and bool(lapse.path_right_m or lapse.path_ahead_m)


def _charted(report: SheetReport) -> bool:
    return any(
        c.moved is not None and c.column.axis in CAMERA and not c.moved.chart.still
        for c in report.columns
    )


def _moves_camera(shot: Shot, sheet: Sheet, report: SheetReport) -> bool:
    """Whether the camera is somewhere else from picture to picture."""
    return _walked(sheet) or _charted(report) or not shot.move.stands


def _asks(report: ColumnReport, last: int, frame: int) -> Ask | None:
    column = report.column
    # Sounds and notes ask for no picture: what stands between this one and the last is told.
    next_one = bisect_right(report.changed, last)
    if next_one == len(report.changed) or report.changed[next_one] > frame:
        return None
    if report.moved is not None:
        return Ask(column.name, column.kind, _moves(report, last, frame))
    if report.levels:
        return Ask(column.name, column.kind, f"to {say.percent(report.levels[frame - 1])}")
    begun = [m for m in column.marks if m.frame <= frame]
    mark = max(begun, key=lambda m: m.frame)
    if mark.frame > last and mark.name:
        return Ask(column.name, column.kind, mark.name)
    return Ask(column.name, column.kind, "a new pose" if column.kind == "part" else "changes")


def _moves(report: ColumnReport, last: int, frame: int) -> str:
    assert report.moved is not None
    chart = report.moved.chart
    stretch = slice(last, frame)
    way = sum(chart.increments[stretch])
    count = sum(chart.counts[stretch])
    unit = "°" if chart.unit == "deg" else " mm"
    there = f"{abs(way):.2f}{unit}"
    back = "back" if (count or way) < 0 else "on"
    if chart.rig is None:
        return f"{there} {back}"
    told = f"{abs(count):g}"
    one = chart.counted_in[:-1] if abs(count) == 1 else chart.counted_in
    return f"{told} {one} {back} ({there})"
