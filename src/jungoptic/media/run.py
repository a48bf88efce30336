"""Every frame of a clip or a sequence, small and grey, one after another: memory stays flat."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np

from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.pictures.laying import smaller
from jungoptic.core.pictures.run import Grain, Measuring, Run, small_size
from jungoptic.core.pictures.tone import Picture, luma

from . import stills
from .clip_facts import Tell
from .kinds import Unreadable
from .opening import opened, turned_upright

#: Grain is measured in a square of so many pixels in the middle.
GRAIN_PX = 720


def measured(paths: Sequence[Path], facts: Facts, tell: Tell) -> Run:
    """A clip (one path) or a sequence of stills, measured frame by frame. A clip that breaks off is
    measured as far as it goes; `tell` hears of frames done. Raises Unreadable where not even two
    can be decoded."""
    measuring, grain = Measuring(), Grain()
    frames = _of_clip(paths[0], grain) if facts.kind == "clip" else _of_stills(paths, grain)
    count = 0
    for frame in frames:
        try:
            measuring.take(frame)
        except Impossible as error:
            raise Unreadable("The frames are not all one size.") from error
        count += 1
        tell(min(count, facts.frames), facts.frames)
    if count < 2:
        raise Unreadable("Not even two frames can be decoded.")
    return measuring.done(grain.rms)


def _of_clip(path: Path, grain: Grain) -> Iterator[Picture]:
    with opened(path) as (file, stream):
        stream.thread_type = "AUTO"
        try:
            for frame in file.decode(stream):
                if grain.wants:
                    grain.take(_middle(frame))
                else:
                    grain.skip()
                yield turned_upright(frame, _small(frame))
        except av.FFmpegError:
            return


def _small(frame: Any) -> Picture:
    grey, black, white = _brightness(frame)
    size = small_size(frame.width, frame.height)
    return _levels(cv2.resize(grey, size, interpolation=cv2.INTER_AREA), black, white)


def _middle(frame: Any) -> Picture:
    """The middle of a frame, pixel by pixel: grain is the same everywhere, and whole frames of a
    large camera are heavy."""
    grey, black, white = _brightness(frame)
    return _levels(_cut(grey), black, white)


def _cut(grey: Any) -> Any:
    high, wide = grey.shape
    down, across = (max((side - GRAIN_PX) // 2, 0) for side in (high, wide))
    return grey[down : down + GRAIN_PX, across : across + GRAIN_PX]


def _levels(grey: Any, black: float, white: float) -> Picture:
    found: Picture = (grey.astype(np.float32) - np.float32(black)) * np.float32(
        1.0 / (white - black)
    )
    return found


def _brightness(frame: Any) -> tuple[Any, float, float]:
    """(pixels (h, w), the number for black, the number for white). Most recordings hold brightness
    by itself, which costs least to look at."""
    kind = frame.format
    bits = kind.components[0].bits
    planar = kind.is_planar and not kind.is_rgb and len(kind.components) >= 3
    if not planar or kind.is_big_endian or bits > 16:
        grey = frame.reformat(format="gray16le" if bits > 8 else "gray").to_ndarray()
        return grey, 0.0, float(np.iinfo(grey.dtype).max)
    plane = frame.planes[0]
    deep = np.dtype(np.uint8 if bits <= 8 else "<u2")
    rows = np.frombuffer(plane, deep).reshape(plane.height, plane.line_size // deep.itemsize)
    # ITU-R BT.709 and BT.2100, narrow range; photographs and some phones use all of it.
    full = int(getattr(frame, "color_range", 0) or 0) == 2 or kind.name.startswith("yuvj")
    step = 2.0 ** (bits - 8)
    black, white = (0.0, 2.0**bits - 1.0) if full else (16.0 * step, 235.0 * step)
    return rows[:, : plane.width], black, white


def _of_stills(paths: Sequence[Path], grain: Grain) -> Iterator[Picture]:
    for path in paths:
        whole = luma(stills.read(path))
        if grain.wants:
            grain.take(np.ascontiguousarray(_cut(whole)))
        else:
            grain.skip()
        size = small_size(whole.shape[1], whole.shape[0])
        yield smaller(whole, size)
