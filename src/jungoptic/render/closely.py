"""A place in a plate's picture pixel for pixel, as the camera's card keeps it: grain, bits, colour
samples and compression are seen at the size at which they come."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from jungoptic.core.plan.kit import Mode
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.shot import Shot

from .clean import cleaned
from .engine import Stage
from .film import recorded
from .picture import MIRRORED, Picture, Tell, filmable, shown, told_of
from .staged import film_of, on_sensor, staged

#: Rays a pixel: few pixels, and each is looked at.
SAMPLES = 16
#: So many frames alike but for their grain, and the last of them is kept.
FRAMES = 8
NO_RATE = "The bit rate of this mode is not in the kit: what compression does to it is left out."
BEYOND = "The recording is smaller than this cut: all of it is shown."


@dataclass(frozen=True)
class Kept:
    """What a mode writes: bits for a frame of this size, their depth, colour samples, and whether
    frames are told by their neighbours."""

    bits_a_frame: float
    bits: int
    samples: str
    long_gop: bool


#: Takes frames (h, w, 3), 0..1, through what a card keeps of them; gives the last back.
Card = Callable[[Iterator[NDArray[np.float32]], Kept], NDArray[np.float32]]


def closely(
    shot: Shot,
    plate: Plate,
    at: tuple[float, float],
    card: Card,
    part: float = 0.0,
    size: tuple[int, int] = (480, 270),
    seed: int = 0,
    tell: Tell | None = None,
) -> Picture:
    """A cut of `size` pixels of the recording about a place (parts of the picture, from its left
    and its top, as post will have it), at a part (0..1) of the shot.

    `tell` hears how many of how many steps are done and may raise to stop. Raises Impossible where
    a plan cannot be filmed, NoEngine where the engine is not installed.
    """
    case = filmable(shot, plate)
    mode, film = case.choice.mode, film_of(case, part)
    whole_wide = round(mode.width_px * case.stage.crop_across / case.shot.move.closer(part))
    whole_high = round(whole_wide / case.shot.delivery.aspect)
    # As clips have it, sides are even.
    wide, high = (
        min(side, of) // 2 * 2 for side, of in zip(size, (whole_wide, whole_high), strict=True)
    )
    across = 1.0 - at[0] if plate.flop else at[0]
    left, top = _cut(across, wide, whole_wide), _cut(at[1], high, whole_high)
    layers = Stage(staged(case, part), whole_wide, whole_high, part=(left, top, wide, high)).seen(
        SAMPLES, seed, tell
    )
    inside = on_sensor(case, whole_wide, whole_high, part)[top : top + high, left : left + wide]
    light = cleaned(layers) * inside[..., None]
    film = replace(film, across_px=film.across_px * wide / whole_wide)
    remarks = told_of(case)
    if (wide, high) != tuple(side // 2 * 2 for side in size):
        remarks.append(BEYOND)
    frames = (recorded(light, film, seed * 1000 + number) for number in range(FRAMES))
    kept = kept_of(mode, case.stage.capture_fps, wide * high)
    if kept is None:
        found = next(frames)
        remarks.append(NO_RATE)
    else:
        found = card(frames, kept)
    if plate.flop:
        found = found[:, ::-1]
        remarks.append(MIRRORED)
    return Picture(shown(found), tuple(remarks))


def _cut(at: float, side: int, of: int) -> int:
    """Where a cut about a place begins, so that it stays inside."""
    return min(max(round(at * of - side / 2.0), 0), of - side)


def kept_of(mode: Mode, fps: float, pixels: int) -> Kept | None:
    """What a mode keeps of so many of its pixels at a rate; None where its bit rate is unknown.
    Bits are shared evenly: a card gives what is fine more, and what is plain less."""
    if mode.bitrate_mbps is None:
        return None
    share = pixels / (mode.width_px * mode.height_px)
    return Kept(
        mode.bitrate_mbps * 1e6 / fps * share, mode.bit_depth, mode.subsampling, mode.long_gop
    )
