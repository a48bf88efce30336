"""When the columns of a sheet change, and so which frames need a picture of their own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..plan.sheet import Column, Mark

#: Nothing moving for longer than this reads as a stop unless something still lives in it, a blink
#: or a breath (judgement), seconds.
STOP_S = 0.5


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


def name_at(column: Column, frame: int) -> str:
    """What a column holds at a frame: the name of its last mark; "" for none."""
    before = [mark for mark in in_order(column) if mark.frame <= frame]
    return before[-1].name if before else ""


def pictures(changes: Iterable[Sequence[int]], frames: int) -> list[int]:
    """The frames that need a picture of their own: the first, and each at which anything changes.
    The others show the picture before them for longer."""
    return sorted({1}.union(*changes) & set(range(1, frames + 1)))


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
