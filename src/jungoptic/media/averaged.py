"""Many frames of one thing made one: their mean, which has less grain by the root of how many; or
the middle of them, in which nothing is that only passes through."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from jungoptic.core.pictures.facts import Facts

from . import stills
from .clip_facts import Tell
from .frames import spread
from .kinds import Unreadable
from .opening import opened, turned_upright

#: (h, w, 3), sixteen bits.
Deep = NDArray[np.uint16]
#: The middle is taken of so many frames at most, all over a stretch, and of as much of them at a
#: time as fits into so many bytes: a large clip is gone through several times.
MIDDLE_OF, AT_A_TIME = 25, 100_000_000
#: More frames than this add up to more than the sum can hold; nobody needs them.
MOST = 65_000


def averaged(
    paths: Sequence[Path], facts: Facts, first: int, last: int, tell: Tell
) -> tuple[Deep, int]:
    """The mean of frames `first` to `last` (from 1) of a clip (one path) or a sequence of stills,
    and of how many. As recorded, no light between them: they are of one exposure. Raises
    Unreadable where none can be decoded."""
    last = min(last, first + MOST - 1, facts.frames)
    wanted = last - first + 1
    frames = (
        _of_clip(paths[0], facts, first, last)
        if facts.kind == "clip"
        else _of_stills(paths[first - 1 : last])
    )
    total: NDArray[np.uint32] | None = None
    count = 0
    for frame in frames:
        if total is None:
            total = np.zeros(frame.shape, np.uint32)
        if frame.shape != total.shape:
            raise Unreadable("The frames are not all one size.")
        total += frame
        count += 1
        tell(min(count, wanted), wanted)
    if total is None:
        raise Unreadable("None of these frames can be decoded.")
    mean: Deep = ((total + count // 2) // count).astype(np.uint16)
    return mean, count


def middle(
    paths: Sequence[Path], facts: Facts, first: int, last: int, tell: Tell
) -> tuple[Deep, int]:
    """The median, place by place and colour by colour, of frames all over `first` to `last` (from
    1) of a clip (one path) or a sequence of stills, and of how many: what is seen in more than half
    of them. Memory stays flat. Raises Unreadable where none can be decoded."""
    last = min(last, facts.frames)
    wanted = [first - 1 + number for number in spread(MIDDLE_OF, last - first + 1)]
    found: Deep | None = None
    top, rows, count = 0, 0, 0
    while found is None or top < len(found):
        parts: list[Deep] = []
        for frame in _chosen(paths, facts, wanted):
            if found is None:
                found = np.empty_like(frame)
                rows = max(AT_A_TIME // (frame[0].nbytes * len(wanted)), 1)
            if frame.shape != found.shape:
                raise Unreadable("The frames are not all one size.")
            parts.append(frame[top : top + rows].copy())
            tell(top * len(wanted) + len(parts) * rows, (len(found) + rows) * len(wanted))
        if found is None or not parts:
            raise Unreadable("None of these frames can be decoded.")
        count = len(parts)
        found[top : top + rows] = np.partition(np.stack(parts), count // 2, axis=0)[count // 2]
        top += rows
    return found, count


def _chosen(paths: Sequence[Path], facts: Facts, wanted: Sequence[int]) -> Iterator[Deep]:
    if facts.kind == "clip":
        return _of_clip(paths[0], facts, wanted[0], wanted[-1], frozenset(wanted))
    return _of_stills([paths[number - 1] for number in wanted])


def _of_clip(
    path: Path, facts: Facts, first: int, last: int, only: frozenset[int] | None = None
) -> Iterator[Deep]:
    fps = facts.fps or 24.0
    with opened(path) as (file, stream):
        stream.thread_type = "AUTO"
        start = stream.start_time or 0
        # A little early: times are rounded.
        ticks = start + round((first - 1.5) / fps / stream.time_base)
        file.seek(max(ticks, 0), stream=stream, backward=True, any_frame=False)
        try:
            for frame in file.decode(stream):
                if frame.pts is None:
                    continue
                number = round((frame.pts - start) * float(stream.time_base) * fps) + 1
                if number > last:
                    return
                if number >= first and (only is None or number in only):
                    picture: Deep = frame.reformat(format="rgb48le").to_ndarray()
                    yield turned_upright(frame, picture)
        except av.FFmpegError:
            return


def _of_stills(paths: Sequence[Path]) -> Iterator[Deep]:
    for path in paths:
        picture = np.clip(stills.read(path), 0.0, 1.0)
        yield (picture * np.float32(65535.0) + np.float32(0.5)).astype(np.uint16)
