"""The board that was held up at the start or the end of what was filmed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import av
import cv2
import numpy as np
from numpy.typing import NDArray

from jungoptic.core.board.finding import find, frames_to_scan, grey_of, worth
from jungoptic.core.board.seen import Found
from jungoptic.core.pictures.facts import Facts

from . import stills
from .kinds import Unreadable
from .opening import opened, turned_upright

Grey = NDArray[np.uint8]
#: Frames of a clip larger than this on a side are looked at half as large first.
HALVED_PX = 2560
#: So many frames with a board in them are looked at closely; where there are none, one in so many.
HITS, EVERY = 4, 5
#: Of a clip whose end cannot be entered nearer than this, seconds, the end is not looked at.
END_S = 30.0


class Where(NamedTuple):
    """A board, and the frame (from 1) that it is told by."""

    frame: int
    found: Found


def searched(paths: Sequence[Path], facts: Facts) -> Where | None:
    """The board in what was filmed; None where none is held up, or nothing can be decoded: that is
    told elsewhere."""
    try:
        if facts.kind == "clip":
            return _in_clip(paths[0], facts)
        return _best(
            (frame, grey_of(stills.read(paths[frame - 1])))
            for frame in frames_to_scan(facts.frames, None)
        )
    except Unreadable:
        return None


def _best(frames: Iterable[tuple[int, Grey]]) -> Where | None:
    """Of frames that are looked at closely the one that tells most."""
    best: Where | None = None
    for frame, grey in frames:
        found = find(grey)
        if found is not None and (best is None or worth(found) > worth(best.found)):
            best = Where(frame, found)
    return best


def _in_clip(path: Path, facts: Facts) -> Where | None:
    """Looked for quickly frame by frame; where there is one, closely in a few of those. Where there
    is none, once more in a few for what is hard to see: a board flat on the floor, or small."""
    large = max(facts.width_px, facts.height_px) > HALVED_PX
    hits: list[tuple[int, Grey]] = []
    others: list[tuple[int, Grey]] = []
    for count, (frame, grey) in enumerate(_held_up(path, facts)):
        if find(_halved(grey) if large else grey, ["plain"]) is not None:
            hits.append((frame, grey))
        elif count % EVERY == EVERY // 2:
            others.append((frame, grey))
        if len(hits) == HITS:
            break
    if hits:
        return _best(hits)
    for frame, grey in others:
        close = find(grey, ["plain"]) if large else None
        if close is not None or find(_halved(grey) if large else grey, ["flat"]) is not None:
            return _best([(frame, grey)])
    return None


def _halved(grey: Grey) -> Grey:
    small = cv2.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    return np.asarray(small, dtype=np.uint8)


def _held_up(path: Path, facts: Facts) -> Iterator[tuple[int, Grey]]:
    """The frames of a clip in which a board may be held up, one after another."""
    fps = facts.fps or 1.0
    wanted = list(frames_to_scan(facts.frames, fps))
    middle = facts.frames / 2.0
    first = [n for n in wanted if n <= middle]
    last = [n for n in wanted if n > middle]
    with opened(path) as (file, stream):
        stream.thread_type = "AUTO"
        try:
            yield from _of(file, stream, first, fps)
            yield from _of(file, stream, last, fps)
        except av.FFmpegError:
            return


def _of(file: Any, stream: Any, wanted: Sequence[int], fps: float) -> Iterator[tuple[int, Grey]]:
    """The named frames (from 1, rising), entered once and decoded on from there."""
    if not wanted:
        return
    start, base = stream.start_time or 0, stream.time_base
    file.seek(start + max(round((wanted[0] - 1.5) / fps / base), 0), stream=stream, backward=True)
    left = list(wanted)
    for frame in file.decode(stream):
        if frame.pts is None:
            return
        number = 1 + round(float((frame.pts - start) * base) * fps)
        if number < left[0] - END_S * fps:
            return
        if number < left[0]:
            continue
        while left and left[0] <= number:
            left.pop(0)
        grey = frame.reformat(format="gray").to_ndarray()
        yield number, np.asarray(turned_upright(frame, grey), np.uint8)
        if not left:
            return
