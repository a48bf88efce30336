"""What a sheet asks before one of its pictures: what to pose, what to turn and how far."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.sheet import Sheet
from ..plan.shot import Shot
from ..words import quantities as say
from ..words.sentences import listed
from .follows import CAMERA
from .sheet_report import ColumnReport, SheetReport


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


def asked(shot: Shot, sheet: Sheet, report: SheetReport, number: int) -> Asked:
    """What `sheet`, which comes to `report`, asks before its picture `number`."""
    camera, free = _moves_camera(shot, sheet, report), sheet.lapse is not None
    if not 1 <= number <= len(report.taken):
        lights = any(c.column.kind == "lamp" for c in report.columns)
        return Asked(number, None, 0, (), lights, camera, free)
    frame = report.taken[number - 1]
    after = report.taken[number] if number < len(report.taken) else report.frames + 1
    last = report.taken[number - 2] if number > 1 else 0
    asks = [ask for c in report.columns if (ask := _asks(c, last, frame)) is not None]
    lit = any(ask.kind == "lamp" for ask in asks)
    return Asked(number, frame, after - frame, tuple(asks), lit, camera, free)


def _moves_camera(shot: Shot, sheet: Sheet, report: SheetReport) -> bool:
    """Whether the camera is somewhere else from picture to picture."""
    lapse = sheet.lapse
    walked = lapse is not None and bool(lapse.path_right_m or lapse.path_ahead_m)
    charted = any(
        c.moved is not None and c.column.axis in CAMERA and not c.moved.chart.still
        for c in report.columns
    )
    return walked or charted or not shot.move.still


def _asks(report: ColumnReport, last: int, frame: int) -> Ask | None:
    column = report.column
    # Sounds and notes ask for no picture: what stands between this one and the last is told.
    changed = [f for f in report.changed if last < f <= frame]
    if not changed:
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
