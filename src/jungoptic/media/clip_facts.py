"""What is really in the stream of a clip: read packet by packet, so that memory stays flat."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from jungoptic.core.pictures.facts import Facts

from .kinds import Unreadable
from .opening import opened

#: Told how far the reading is: bytes done, of how many.
Tell = Callable[[int, int], None]
#: Frames whose lowest bits are looked at, and the part of them that must agree.
LOOKED_AT, AGREE = 3, 0.999
#: Departures of frame times below this come of how a container writes times, in its own ticks.
TICKS = 1.5


def facts_of(path: Path, tell: Tell = lambda done, of: None) -> Facts:
    """What a clip says of itself, and how its frames really come. Raises Unreadable."""
    with opened(path) as (file, stream):
        first, seen = _first_frames(file, stream)
        file.seek(0)
        times = _times(file, stream, path.stat().st_size, tell)
        context = stream.codec_context
        turned = -round(float(getattr(first, "rotation", 0) or 0)) % 360
        wide, high = context.width, context.height
        if turned in (90, 270):
            wide, high = high, wide
        sound = file.streams.audio[0] if file.streams.audio else None
        rate = _rate(times, stream)
        count = len(times.pts)
        seconds = count / rate if rate else None
        return Facts(
            kind="clip",
            codec=context.name,
            container=file.format.name.split(",")[0],
            width_px=wide,
            height_px=high,
            bit_depth=first.format.components[0].bits,
            used_bits=_used_bits(seen),
            subsampling=subsampling(first.format),
            colour=_colour(context),
            frames=count,
            fps=rate,
            uneven=_uneven(times, stream),
            key_every=_key_every(times),
            interlaced=bool(first.interlaced_frame),
            turned_deg=turned,
            duration_s=seconds,
            bitrate_mbps=times.bytes * 8e-6 / seconds if seconds else None,
            sound_hz=None if sound is None else sound.codec_context.sample_rate,
            shot_at=_clock(file),
            remarks=times.remarks,
        )


class _Times:
    """Of the packets of a stream, in the order they come: when each frame is shown, and each that
    stands alone (ticks)."""

    def __init__(self) -> None:
        self.pts: list[int] = []
        self.keys: list[int] = []
        self.bytes = 0
        self.remarks: tuple[str, ...] = ()


def _first_frames(file: Any, stream: Any) -> tuple[Any, list[Any]]:
    frames = []
    try:
        for frame in file.decode(stream):
            frames.append(frame)
            if len(frames) == LOOKED_AT:
                break
    except av.FFmpegError:
        if not frames:
            raise
    if not frames:
        raise Unreadable("The clip ends before its first picture.")
    return frames[0], frames


def _times(file: Any, stream: Any, size: int, tell: Tell) -> _Times:
    found = _Times()
    try:
        for packet in file.demux(stream):
            # The last, empty packet only ends the stream.
            if packet.pts is None or packet.size == 0:
                continue
            if packet.is_keyframe:
                found.keys.append(packet.pts)
            found.pts.append(packet.pts)
            found.bytes += packet.size
            tell(min(packet.pos or 0, size), size)
    except av.FFmpegError:
        found.remarks = ("The clip breaks off; what comes before that was read.",)
    if not found.pts:
        raise Unreadable("The clip ends before its first picture.")
    return found


def _gaps(times: _Times) -> Any:
    return np.diff(np.sort(np.array(times.pts, np.int64)))


def _rate(times: _Times, stream: Any) -> float | None:
    """Frames a second on the average. The file's own word where it agrees: that is a fraction."""
    gaps = _gaps(times)
    if len(gaps) == 0 or gaps.sum() <= 0:
        return None
    measured = float(len(gaps) / (gaps.sum() * stream.time_base))
    told: Fraction | None = stream.average_rate
    if told and abs(float(told) / measured - 1.0) < 1e-3:
        return float(told)
    return measured


def _uneven(times: _Times, stream: Any) -> float | None:
    """The largest departure from the usual time between frames, as a part of that."""
    gaps = _gaps(times)
    if len(gaps) < 2:
        return None
    usual = float(np.median(gaps))
    off = float(np.abs(gaps - usual).max())
    if usual <= 0.0 or off <= TICKS:
        return 0.0
    return off / usual


def _key_every(times: _Times) -> int | None:
    if len(times.keys) == len(times.pts):
        return 1
    # Frames come in another order than they are shown in.
    places = np.searchsorted(np.sort(times.pts), np.sort(times.keys))
    ends = [*places, len(times.pts)]
    return int(np.diff(ends).max()) if len(ends) > 1 else None


def subsampling(pixels: Any) -> str:
    """Chroma samples of a format of pixels, as it is usually written."""
    if pixels.is_rgb:
        return "4:4:4"
    if len(pixels.components) < 3:
        return "4:0:0"
    across = 64 // max(pixels.chroma_width(64), 1)
    down = 64 // max(pixels.chroma_height(64), 1)
    known = {(1, 1): "4:4:4", (2, 1): "4:2:2", (2, 2): "4:2:0", (4, 1): "4:1:1", (1, 2): "4:4:0"}
    return known.get((across, down), "")


def _used_bits(frames: list[Any]) -> int | None:
    """How many bits of the brightness carry anything: fewer than there are where the lowest never
    change. None where the codec works them over, so that nothing can be told."""
    bits = frames[0].format.components[0].bits
    if bits <= 8 or frames[0].format.is_rgb:
        return None
    agree = 0
    for spare in range(1, bits - 7):
        low = [_luma(frame) & ((1 << spare) - 1) for frame in frames]
        values = np.concatenate([part.ravel() for part in low])
        if np.bincount(values).max() < AGREE * values.size:
            break
        agree = spare
    return bits - agree if agree else None


def _luma(frame: Any) -> Any:
    plane = frame.planes[0]
    return np.frombuffer(plane, np.uint16).reshape(plane.height, plane.line_size // 2)[
        :, : plane.width
    ]


#: ITU-T H.273, table 3: what the numbers of a transfer characteristic mean.
CURVES = {1: "BT.709", 6: "BT.601", 13: "sRGB", 14: "BT.2020", 15: "BT.2020", 16: "PQ", 18: "HLG"}


def _colour(context: Any) -> str:
    """The curve that the stream says it was recorded with; "" where it says none."""
    curve = CURVES.get(int(getattr(context, "color_trc", 2) or 2), "")
    full = int(getattr(context, "color_range", 0) or 0) == 2
    return f"{curve}, full range" if curve and full else curve or ("full range" if full else "")


def _clock(file: Any) -> str:
    told = str(file.metadata.get("creation_time", ""))[:40]
    # Whatever else somebody wrote there goes no further.
    said = "".join(c for c in told if c.isascii() and c.isprintable())
    # Cameras whose clock was never set write the beginning of their count.
    return said if said[:4].isdigit() and int(said[:4]) > 1990 else ""
