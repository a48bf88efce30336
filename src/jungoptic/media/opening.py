"""Opening a clip that somebody sent: only containers that hold recordings, and only this file."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, cast

import av
import numpy as np
from numpy.typing import NDArray

from .kinds import Unreadable

#: What recordings come in. Lists of other files, which a reader would go and fetch, are not among
#: them.
CONTAINERS = (
    "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mxf,asf,flv,ogg,dv,rawvideo,yuv4mpegpipe,"
    "h264,hevc,mjpeg,obu,ivf,gxf,wtv,m4v,mpegvideo"
)
SAFE = {"protocol_whitelist": "file", "format_whitelist": CONTAINERS}
#: Larger on a side than this no camera records.
LONGEST_PX = 16_384
#: How a protected stream is marked (ISO/IEC 23001-7).
PROTECTED = {"encv", "drmi"}


@contextmanager
def opened(path: Path) -> Iterator[tuple[Any, Any]]:
    """A clip and its stream of pictures. Raises Unreadable, for whatever goes wrong within too."""
    try:
        with av.open(str(path), options=SAFE) as file:
            stream = _pictures(file)
            yield file, stream
    except av.FFmpegError as error:
        raise Unreadable(f"The clip cannot be read: {why(error)}.") from error
    except OSError as error:
        raise Unreadable(f"The clip cannot be opened: {why(error)}.") from error


def _pictures(file: Any) -> Any:
    """The stream that is the recording: not the cover of a song, not a picture of the clock."""
    streams = [s for s in file.streams.video if not _is_cover(s)]
    if not streams:
        what = "sound, and no picture" if file.streams.audio else "no picture"
        raise Unreadable(f"This file holds {what}.")
    stream = cast(Any, streams[0])
    if stream.codec_tag in PROTECTED:
        raise Unreadable("This clip is encrypted; nothing but its owner's player can read it.")
    if stream.codec_context is None:
        raise Unreadable("The clip is in a codec that is not known here; export it as ProRes.")
    context = stream.codec_context
    if not 0 < context.width <= LONGEST_PX or not 0 < context.height <= LONGEST_PX:
        raise Unreadable(f"The clip says it is {context.width} x {context.height} pixels.")
    return stream


def _is_cover(stream: Any) -> bool:
    return bool(stream.disposition & av.stream.Disposition.attached_pic)


def turned_upright(frame: Any, picture: NDArray[Any]) -> NDArray[Any]:
    """A picture (h, w, ...) of a frame, turned as its file asks for."""
    turns = round(float(getattr(frame, "rotation", 0) or 0) / 90.0) % 4
    return np.ascontiguousarray(np.rot90(picture, turns)) if turns else picture


def why(error: Exception) -> str:
    """What the library says of an error, in the middle of a sentence."""
    said = (getattr(error, "strerror", None) or "it is damaged").lower()
    return {
        "invalid data found when processing input": "it is damaged, cut short, or no recording",
        "end of file": "it ends before its first picture",
    }.get(said, said)
