"""One frame after another as somebody asks for them, each as often as wanted: memory stays flat."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import av

from jungoptic.core.pictures.facts import Facts

from . import stills
from .frames import Shown, upright
from .kinds import Unreadable
from .opening import opened
from .reading import small

#: An average so many times lower than the rate that is guessed is of a clip whose frames come
#: unevenly by design, as those of phones, and the guess is none.
SLOWEST = 1.5


def following(
    paths: Sequence[Path], facts: Facts, wanted: Sequence[int], longest_px: int
) -> Iterator[Shown]:
    """For every number in `wanted` (from 1, never falling) that frame of what was filmed, upright,
    at most `longest_px` on a side; after the last there is, or where it breaks off, the last.
    Raises Unreadable where nothing can be decoded."""
    if facts.kind == "clip":
        yield from _of_clip(paths[0], facts, wanted, longest_px)
        return
    last, shown = -1, None
    for number in wanted:
        at = min(max(number, 1), len(paths)) - 1
        if shown is None or at != last:
            last, shown = at, small(stills.read(paths[at]), longest_px)
        yield shown


def _rate(stream: Any, average: float) -> float:
    """The rate that a recorder kept to: its average is lower where it lost frames."""
    guessed = float(stream.guessed_rate or 0.0)
    return guessed if average <= guessed <= SLOWEST * average else average


def _of_clip(path: Path, facts: Facts, wanted: Sequence[int], longest_px: int) -> Iterator[Shown]:
    if not wanted:
        return
    given, shown = 0, None
    with opened(path) as (file, stream):
        stream.thread_type = "AUTO"
        start, fps = stream.start_time or 0, _rate(stream, facts.fps or 24.0)
        # A little early: times are rounded.
        ticks = start + round((wanted[0] - 1.5) / fps / stream.time_base)
        file.seek(max(ticks, 0), stream=stream, backward=True, any_frame=False)
        before = None
        try:
            for frame in file.decode(stream):
                if frame.pts is None:
                    continue
                number = round((frame.pts - start) * float(stream.time_base) * fps) + 1
                # Those that lie between two frames, as of a recorder that lost some, show the
                # earlier one.
                while before is not None and given < len(wanted) and wanted[given] < number:
                    shown = shown if shown is not None else upright(before, longest_px)
                    yield shown
                    given += 1
                if given == len(wanted):
                    return
                before, shown = frame, None
        except av.FFmpegError:
            pass
        if before is None:
            raise Unreadable("No picture of the clip can be decoded.")
        shown = shown if shown is not None else upright(before, longest_px)
    for _ in wanted[given:]:
        yield shown
