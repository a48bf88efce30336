"""A spinning thing: frames of one clean turn, what strobes, and the ramp that slows it."""

from __future__ import annotations

from dataclasses import dataclass

from ...checks_on_input import positive

#: Fewer frames of a turn than this jump instead of turning (judgement).
JUMPS_UNDER = 6.0
#: Clean turns to have of it, so that one can be chosen (judgement).
TURNS = 5


@dataclass(frozen=True)
class Spin:
    """A spin as filmed and as played. `frames_per_turn` recorded; `whole`: whether a whole number
    of frames makes a turn, so that one turn repeats for ever; `nearest_turns_per_s`: the spin at
    which it does; `roll_s` for `TURNS` turns; `needed_fps` for a turn that does not jump;
    `smooth_to`: the part of its own speed that it can be slowed to before frames have to be
    made."""

    turns_per_s: float
    capture_fps: float
    played_turns_per_s: float
    frames_per_turn: float
    whole: bool
    nearest_turns_per_s: float
    roll_s: float
    jumps: bool
    needed_fps: float
    smooth_to: float


def spin(turns_per_s: float, capture_fps: float, playback_fps: float) -> Spin:
    """A thing that makes `turns_per_s` on set, filmed and played at those rates. Raises Impossible
    unless all are positive. Arithmetic."""
    positive("turns per second", turns_per_s)
    positive("capture rate", capture_fps)
    positive("playback rate", playback_fps)
    per_turn = capture_fps / turns_per_s
    whole = max(round(per_turn), 1)
    return Spin(
        turns_per_s,
        capture_fps,
        turns_per_s * playback_fps / capture_fps,
        per_turn,
        abs(per_turn - whole) < 0.02,
        capture_fps / whole,
        TURNS / turns_per_s,
        per_turn < JUMPS_UNDER,
        JUMPS_UNDER * turns_per_s,
        min(playback_fps / capture_fps, 1.0),
    )
