"""Frames of a clip: one after another at any length, or a few from all over it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import av
import numpy as np
from numpy.typing import NDArray

from .kinds import Unreadable
from .opening import opened, turned_upright

#: (h, w, 3), eight bits as a screen shows them.
Shown = NDArray[np.uint8]
#: So many frames are decoded from where a stream can be entered before one is given up.
FARTHEST = 1500


def spread(count: int, of: int) -> list[int]:
    """At most `count` frames (from 1) all over a clip of so many, the first and the last among
    them."""
    if of <= count:
        return list(range(1, of + 1))
    return [1 + round(i * (of - 1) / (count - 1)) for i in range(count)]


def shown(
    path: Path, frames: Sequence[int], fps: float, longest_px: int
) -> Iterator[tuple[int, Shown]]:
    """The named frames (from 1, rising) of a clip, upright, at most `longest_px` on a side; those
    that cannot be decoded are left out. Raises Unreadable when none can."""
    some = False
    with opened(path) as (file, stream):
        stream.thread_type = "AUTO"
        start = stream.start_time or 0
        for number in frames:
            target = start + round((number - 1) / fps / stream.time_base)
            # Half a frame early: times are rounded.
            slack = round(0.5 / fps / stream.time_base)
            frame = _at(file, stream, target - slack)
            if frame is not None:
                some = True
                yield number, upright(frame, longest_px)
    if not some:
        raise Unreadable("No picture of the clip can be decoded.")


def _at(file: Any, stream: Any, ticks: int) -> Any:
    """The first frame from a time on; None where there is none that can be read."""
    last = None
    try:
        file.seek(max(ticks, 0), stream=stream, backward=True, any_frame=False)
        for count, frame in enumerate(file.decode(stream)):
            if frame.pts is None or count > FARTHEST:
                break
            last = frame
            if frame.pts >= ticks:
                return frame
    except av.FFmpegError:
        return last
    return last


def upright(frame: Any, longest_px: int) -> Shown:
    """A decoded frame as a screen shows it, at most `longest_px` on a side."""
    part = min(longest_px / max(frame.width, frame.height), 1.0)
    wide, high = (max(round(side * part), 2) for side in (frame.width, frame.height))
    picture = frame.reformat(width=wide, height=high, format="rgb24").to_ndarray()
    return turned_upright(frame, picture)
