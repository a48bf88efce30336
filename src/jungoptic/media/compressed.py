"""What a recording's compression leaves of a picture: through an encoder and out of it again."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from typing import Any, cast

import av
import numpy as np

from .clip import Picture, frame_of

#: Frames that are told by their neighbours come in groups so long (judgement: half a second).
GROUP = 12
RATE = 24
SAMPLES = {"4:2:0": "yuv420p", "4:2:2": "yuv422p", "4:4:4": "yuv444p"}


def compressed(
    frames: Iterable[Picture], bits_a_frame: float, bits: int, samples: str, long_gop: bool
) -> Picture:
    """The last of some frames (h, w, 3) of one size, 0..1 as recorded, both sides even, as it comes
    back from a recording that gives `bits_a_frame` to each: of `bits` and colour `samples` such as
    4:2:2, each by itself or, with `long_gop`, by its neighbours.

    Compressed with H.264 (ITU-T H.264), which writes eight bits or ten: more are kept as ten.
    Raises ValueError for other samples, and where there is no frame.
    """
    if samples not in SAMPLES:
        raise ValueError(f"Colour samples are one of {', '.join(SAMPLES)}, not {samples!r}.")
    pixels = SAMPLES[samples] + ("10le" if bits > 8 else "")
    writer = cast(Any, av.CodecContext.create("libx264", "w"))
    reader = cast(Any, av.CodecContext.create("h264", "r"))
    rate = max(int(bits_a_frame * RATE), 1000)
    last: Any = None
    for number, picture in enumerate(frames):
        if number == 0:
            writer.height, writer.width = picture.shape[:2]
            writer.pix_fmt, writer.time_base = pixels, Fraction(1, RATE)
            writer.framerate = Fraction(RATE)
            writer.bit_rate = rate
            # One frame may not borrow more than a few others can pay back.
            kilo = max(rate // 1000, 1)
            group = GROUP if long_gop else 1
            writer.options = {
                "preset": "fast",
                "x264-params": f"keyint={group}:min-keyint={group}:scenecut=0:bframes=0:threads=1"
                f":vbv-maxrate={kilo}:vbv-bufsize={max(kilo * 4 // RATE, 1)}",
            }
        for packet in writer.encode(frame_of(picture, number, Fraction(RATE), pixels)):
            last = _newest(reader, packet, last)
    if not writer.is_open:
        raise ValueError("There is no frame to compress.")
    for packet in writer.encode(None):
        last = _newest(reader, packet, last)
    last = _newest(reader, None, last)
    back = last.reformat(format="rgb48le", src_colorspace="ITU709").to_ndarray()
    found: Picture = back.astype(np.float32) / np.float32(65535.0)
    return found


def _newest(reader: Any, packet: Any, before: Any) -> Any:
    return next(reversed(reader.decode(packet)), before)
