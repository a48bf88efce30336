"""The sound of a clip, piece after piece: memory stays flat."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import av

from jungoptic.core.pictures.heard import Hearing

from .clip import RATE_HZ
from .opening import opened

#: Whoever waits is told of every so many pieces, and may stop.
EVERY = 200


def heard(path: Path, tick: Callable[[], None] = lambda: None) -> Hearing | None:
    """All that is heard in a clip; None where it has no sound, or none that can be decoded. Of a
    clip that breaks off, as far as it goes. `tick` is called now and then, and may raise to stop.
    Raises Unreadable where it is no clip."""
    with opened(path) as (file, stream):
        if not file.streams.audio:
            return None
        sound = file.streams.audio[0]
        turned = av.AudioResampler(format="fltp", layout="mono", rate=RATE_HZ)
        begins = _start_s(stream)
        hearing: Hearing | None = None
        try:
            for number, frame in enumerate(file.decode(sound)):
                if number % EVERY == 0:
                    tick()
                if hearing is None:
                    late = 0.0 if frame.time is None else frame.time - begins
                    hearing = Hearing(RATE_HZ, late)
                for part in turned.resample(frame):
                    hearing.take(part.to_ndarray()[0])
        except av.FFmpegError:
            pass
        return hearing


def _start_s(stream: object) -> float:
    start, base = getattr(stream, "start_time", None), getattr(stream, "time_base", None)
    return float(start * base) if start is not None and base is not None else 0.0
