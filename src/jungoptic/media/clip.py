"""Clips: frames and sound into a file, and out of it again, one at a time."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import cast

import av
import numpy as np
from numpy.typing import NDArray

from .kinds import Unreadable
from .opening import why

#: (h, w, 3), 0..1 as recorded.
Picture = NDArray[np.float32]
Sound = NDArray[np.float32]

RATE_HZ = 48_000
#: Codecs by how a file ends: open ones, free of claims.
CODECS = {".webm": ("libvpx-vp9", "yuv420p", "libopus"), ".mkv": ("ffv1", "yuv422p10le", "flac")}


def written(path: Path, frames: Iterable[Picture], fps: float, sound: Sound | None = None) -> int:
    """Write frames of one size, both sides even, and `sound` (n,) at 48 kHz, -1..1, into a file
    that ends in .webm (small) or .mkv (nothing lost but colour samples); how many frames there
    were.

    Raises ValueError for another ending.
    """
    if path.suffix not in CODECS:
        raise ValueError(f"{path.name} must end in {' or '.join(CODECS)}.")
    video, pixels, audio = CODECS[path.suffix]
    rate = Fraction(fps).limit_denominator(1001)
    count = 0
    with av.open(str(path), "w") as file:
        stream = cast(av.VideoStream, file.add_stream(video, rate=rate))
        stream.pix_fmt = pixels
        if path.suffix == ".webm":
            stream.options = {"crf": "30", "b:v": "0", "deadline": "realtime", "cpu-used": "8"}
        heard = (
            None
            if sound is None
            else cast(av.AudioStream, file.add_stream(audio, rate=RATE_HZ, layout="mono"))
        )
        for picture in frames:
            if count == 0:
                stream.height, stream.width = picture.shape[:2]
            file.mux(stream.encode(frame_of(picture, count, rate, pixels)))
            count += 1
        file.mux(stream.encode())
        if heard is not None and sound is not None:
            for chunk in _chunks(sound):
                file.mux(heard.encode(chunk))
            file.mux(heard.encode())
    return count


def frame_of(picture: Picture, number: int, rate: Fraction, pixels: str) -> av.VideoFrame:
    """A picture (h, w, 3), 0..1 as recorded, as the frame (from 0) that an encoder takes."""
    # Sixteen bits, so that ten of them are right.
    whole = np.ascontiguousarray(np.clip(picture, 0.0, 1.0) * 65535.0 + 0.5)
    frame = av.VideoFrame.from_ndarray(whole.astype(np.uint16), format="rgb48le")
    frame.pts, frame.time_base = number, 1 / rate
    return frame.reformat(format=pixels, dst_colorspace="ITU709")


def with_sound(path: Path, sound: Sound) -> None:
    """Lay `sound` (n,) at 48 kHz, -1..1, under the pictures of a clip that has none; they stay as
    they are, byte for byte. Raises ValueError for an ending that `written` does not write."""
    if path.suffix not in CODECS:
        raise ValueError(f"{path.name} must end in {' or '.join(CODECS)}.")
    laid = path.with_name(f"heard-{path.name}")
    with av.open(str(path)) as file, av.open(str(laid), "w") as out:
        pictures = file.streams.video[0]
        stream = out.add_stream_from_template(pictures)
        heard = cast(
            av.AudioStream, out.add_stream(CODECS[path.suffix][2], rate=RATE_HZ, layout="mono")
        )
        for packet in file.demux(pictures):
            if packet.dts is not None:
                packet.stream = stream
                out.mux(packet)
        for chunk in _chunks(sound):
            out.mux(heard.encode(chunk))
        out.mux(heard.encode())
    laid.replace(path)


def _chunks(sound: Sound) -> Iterator[av.AudioFrame]:
    for at in range(0, len(sound), RATE_HZ):
        part = np.ascontiguousarray(sound[None, at : at + RATE_HZ], dtype=np.float32)
        frame = av.AudioFrame.from_ndarray(part, format="fltp", layout="mono")
        frame.sample_rate, frame.pts, frame.time_base = RATE_HZ, at, Fraction(1, RATE_HZ)
        yield frame


def frames_of(path: Path) -> Iterator[Picture]:
    """The frames of a clip, one at a time, 0..1 as recorded. Raises Unreadable."""
    try:
        with av.open(str(path)) as file:
            if not file.streams.video:
                raise Unreadable(f"{path.name} holds no picture.")
            for frame in file.decode(video=0):
                yield frame.to_ndarray(format="rgb48le").astype(np.float32) / np.float32(65535.0)
    except (av.FFmpegError, OSError) as error:
        raise Unreadable(f"{path.name} cannot be read as a clip: {why(error)}.") from error


def sound_of(path: Path) -> Sound:
    """The sound of a clip (n,) at 48 kHz, its channels together, -1..1; empty where it has none.
    Raises Unreadable."""
    parts: list[Sound] = []
    try:
        with av.open(str(path)) as file:
            if not file.streams.audio:
                return np.zeros(0, np.float32)
            turned = av.AudioResampler(format="fltp", layout="mono", rate=RATE_HZ)
            for frame in file.decode(audio=0):
                parts += [f.to_ndarray()[0] for f in turned.resample(frame)]
            parts += [f.to_ndarray()[0] for f in turned.resample(None)]
    except (av.FFmpegError, OSError) as error:
        raise Unreadable(f"{path.name} cannot be read as a clip: {why(error)}.") from error
    return np.concatenate(parts) if parts else np.zeros(0, np.float32)
