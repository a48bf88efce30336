"""What a recording keeps of a keyed edge: code values, chroma pitch, the finest hair, storage."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..checks_on_input import not_negative, positive
from ..plan.kit import Mode

#: Luma samples to one chroma sample, across and down (ITU-R BT.601, BT.2020 and any video text).
CHROMA_STEP: dict[str, tuple[int, int]] = {"4:4:4": (1, 1), "4:2:2": (2, 1), "4:2:0": (2, 2)}
#: Part of the code values that narrow-range video uses for black to white: 16..235 of 256
#: (ITU-R BT.709).
NARROW = 219.0 / 256.0
#: Chroma samples this far apart in delivered pixels keep an edge; this far apart it needs work
#: (judgement).
PITCH_HOLDS = 1.25
PITCH_STRAINS = 2.1
#: A hair narrower than this many chroma samples is gone from the colour planes (sampling theorem:
#: two samples to a period, so one to the hair).
SAMPLES_PER_HAIR = 1.0


def code_values(bit_depth: int, stops: float = 0.0) -> int:
    """Code values from black to white in narrow range; with `stops`, those that a spread of so
    many stops about middle grey takes, in a curve of 2.2 (judgement: log curves give more)."""
    whole = int((1 << bit_depth) * NARROW) + 1
    if stops <= 0.0:
        return whole
    grey = 0.18
    bright, dark = (min(grey * math.pow(2.0, s / 2.0), 1.0) for s in (stops, -stops))
    return max(round((math.pow(bright, 1 / 2.2) - math.pow(dark, 1 / 2.2)) * (whole - 1)), 1)


def chroma_pitch_px(
    subsampling: str, recorded_px: float, delivered_px: float
) -> tuple[float, float]:
    """Distance between chroma samples (across, down) in delivered pixels, where `recorded_px`
    become `delivered_px` across. 4:2:0 at twice the delivered width keeps every pixel's colour.

    Raises Impossible unless delivered width and recorded width are above zero.
    """
    across, down = CHROMA_STEP[subsampling]
    part = positive("delivered width", delivered_px) / positive("recorded width", recorded_px)
    return across * part, down * part


def storage_gb(bitrate_mbps: float, seconds: float) -> float:
    """Decimal gigabytes of `seconds` at `bitrate_mbps` megabits a second: Mb/s x s / 8000.

    Raises Impossible unless bit rate is above zero and duration is zero or more.
    """
    return positive("bit rate", bitrate_mbps) * not_negative("duration", seconds) / 8000.0


@dataclass(frozen=True)
class Recording:
    """One way of recording judged for a key. `pitch_px`: chroma samples across and down, delivered
    pixels; `hair_mm`: finest hair at the action whose colour is kept; `screen_codes`: code values
    that the unevenness of the screen spreads over; storage in GB, None without a bit rate."""

    mode_id: str
    body: str
    name: str
    bit_depth: int
    subsampling: str
    long_gop: bool
    codes: int
    screen_codes: int
    pitch_px: tuple[float, float]
    hair_mm: float
    take_gb: float | None
    day_gb: float | None
    card_minutes: float | None
    holds: bool
    remark: str
    #: How many times finer than delivered it records, 1 or 2: what the shown example is made with.
    finer: int


#: What a card holds, in GB (judgement: a usual one), and how much is rolled on a day of keying.
CARD_GB = 256.0
TAKES_A_DAY = 40


def recording(
    mode: Mode,
    body: str,
    recorded_px: float,
    delivered_px: float,
    pixel_mm: float,
    take_s: float,
    spread_stops: float,
    sees_all: bool = True,
) -> Recording:
    """One mode for a key: `pixel_mm` is a delivered pixel at the action, on the set; `take_s` is
    how long a take rolls; `sees_all`: whether the lens in hand shows it all of the picture."""
    pitch = chroma_pitch_px(mode.subsampling, recorded_px, delivered_px)
    worst = max(pitch)
    remarks = [] if sees_all else ["the lens in hand sees too little on it"]
    if worst > PITCH_STRAINS:
        remarks.append("its colour edges are stairs: hair will be lost")
    elif worst > PITCH_HOLDS:
        remarks.append("fine edges need work")
    if mode.bit_depth < 10:
        remarks.append("8 bits: light the screen evenly and well, do not grade before keying")
    if mode.long_gop:
        remarks.append("long-GOP: movement is guessed between frames, edges crawl where it fails")
    rate = mode.bitrate_mbps
    return Recording(
        mode.id,
        body,
        mode.name,
        mode.bit_depth,
        mode.subsampling,
        mode.long_gop,
        code_values(mode.bit_depth),
        code_values(mode.bit_depth, spread_stops),
        pitch,
        worst * SAMPLES_PER_HAIR * pixel_mm,
        None if rate is None else storage_gb(rate, take_s),
        None if rate is None else storage_gb(rate, take_s) * TAKES_A_DAY,
        None if rate is None else CARD_GB / storage_gb(rate, 60.0),
        worst <= PITCH_HOLDS and sees_all,
        "; ".join(remarks) or "keeps every delivered pixel's colour",
        2 if recorded_px / delivered_px >= 1.6 else 1,
    )


def cheapest_that_holds(found: Sequence[Recording]) -> Recording | None:
    """The mode that keeps the edge with the least storage; modes without a bit rate come last."""
    good = [r for r in found if r.holds]
    return min(
        good,
        key=lambda r: (r.take_gb is None, r.take_gb or 0.0, r.bit_depth),
        default=None,
    )
