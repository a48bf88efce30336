"""When the columns of a sheet change, and so which frames need a picture of their own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..impossible import Impossible
from ..plan.sheet import POSED, Column, Mark, Sheet
from ..plan.shot import Shot

#: Nothing moving for longer than this reads as a stop unless something still lives in it, a blink
#: or a breath (judgement), seconds.
STOP_S = 0.5


#: The longest sheet: a quarter of an hour at 24 a second.
MOST_FRAMES = 21_600


def rows_of(shot: Shot) -> int:
    """The frames of a shot's sheet. Raises Impossible for a shot longer than a sheet can be."""
    if shot.frames > MOST_FRAMES:
        raise Impossible(
            f"A sheet has at most {MOST_FRAMES:,} frames and this shot has {shot.frames:,}: split "
            "it.",
            "screen_time_s",
        )
    return shot.frames


@dataclass(frozen=True)
class Stretch:
    """Frames on end, both included."""

    first: int
    last: int

    @property
    def frames(self) -> int:
        """How many they are."""
        return self.last - self.first + 1


def in_order(column: Column) -> tuple[Mark, ...]:
    """The marks of a column from the first on; of two at one frame the later written."""
    return tuple(mark for _, mark in sorted({m.frame: m for m in column.marks}.items()))


def changed_at(column: Column, frames: int) -> list[int]:
    """The frames (from 1) of `frames` at which a column changes by its marks."""
    marks = in_order(column)
    found: list[int] = []
    for i, mark in enumerate(marks):
        end = marks[i + 1].frame if i + 1 < len(marks) else frames + 1
        found.extend(range(mark.frame, min(end, frames + 1), mark.every or frames + 1))
    return found


def pictures(changes: Iterable[Sequence[int]], frames: int) -> list[int]:
    """The frames that need a picture of their own: the first, and each at which anything changes.
    The others show the picture before them for longer."""
    return sorted({1}.union(*changes) & set(range(1, frames + 1)))


def pictures_asked(sheet: Sheet, frames: int, camera_moves: bool) -> int | None:
    """How many pictures a sheet asks for, without the plan that it belongs to; None for one with
    nothing on it. A camera that moves, and a time-lapse, ask for one at every frame."""
    columns = [c for c in sheet.columns if c.kind in POSED or c.kind == "axis"]
    if sheet.lapse is None and not any(c.marks or c.legs or c.follows for c in columns):
        return None
    if sheet.lapse is not None or camera_moves:
        return frames
    moved = [
        range(leg.first, leg.first + leg.frames)
        for column in columns
        if not column.follows
        for leg in column.legs
        if leg.way
    ]
    return len(pictures([*(changed_at(c, frames) for c in columns), *moved], frames))


def holds(taken: Sequence[int], frames: int) -> dict[int, int]:
    """How many pictures are shown for one frame, two, three and so on: by length, shortest
    first."""
    ends = [*taken[1:], frames + 1]
    return dict(sorted(Counter(b - a for a, b in zip(taken, ends, strict=True)).items()))


def stops(taken: Sequence[int], frames: int, fps: float) -> list[Stretch]:
    """Stretches in which one picture stands for longer than the eye takes for a pause."""
    ends = [*taken[1:], frames + 1]
    found = [Stretch(a, b - 1) for a, b in zip(taken, ends, strict=True)]
    return [s for s in found if s.frames > STOP_S * fps]
