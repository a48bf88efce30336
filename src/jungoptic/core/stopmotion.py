"""Stop-motion: how many pictures to take."""

from __future__ import annotations

from .counting import frames_to_fill
from .impossible import Impossible


def exposure_count(seconds: float, fps: float, hold: int = 1) -> int:
    """Pictures that fill `seconds` at `fps` when each is held for `hold` frames, rounded up.

    Raises Impossible for a negative time, no rate, or a hold that is no whole number from 1.
    """
    if hold < 1 or int(hold) != hold:
        raise Impossible(f"hold must be a whole number of frames, 1 or more, not {hold!r}.", "hold")
    return -(-frames_to_fill(seconds, fps) // int(hold))
