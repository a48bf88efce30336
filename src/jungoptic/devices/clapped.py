"""A clip as a simulated camera records it: frames of a plate, and the sound of a board clapped
before the action."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from jungoptic.media.clip import RATE_HZ, written

from .camera import Camera
from .raster import Picture

#: A clap dies away by half in so many seconds; a room hisses so much.
HALVES_S, HISS = 0.012, 0.002
#: The board stands open for so long before it claps, and is taken away so long after it.
OPEN_S, AWAY_S = 0.5, 0.4


@dataclass(frozen=True)
class Clap:
    """A board clapped `at_s` seconds into a clip. The microphone hears it `late_s` after the
    picture: sound takes its time, and recorders are started apart."""

    at_s: float = 0.8
    late_s: float = 0.0


def record(
    path: Path,
    camera: Camera,
    frames: int,
    fps: float,
    clap: Clap | None = None,
    seed: int = 0,
) -> int:
    """Record `frames` frames of a camera into a file, with sound where there is a `clap`; how many
    were written. Raises what the camera raises, and ValueError as `media.clip.written` does."""
    sound = None if clap is None else heard(clap, frames / fps, seed)
    return written(path, _seen(camera, frames, fps, clap), fps, sound)


def heard(clap: Clap, seconds: float, seed: int = 0) -> NDArray[np.float32]:
    """What a microphone records (n,) at 48 kHz, -1..1: a room, and in it the clap."""
    dice = np.random.default_rng(seed)
    count = max(round(seconds * RATE_HZ), 1)
    found = dice.normal(0.0, HISS, count)
    begin = round((clap.at_s + clap.late_s) * RATE_HZ)
    if 0 <= begin < count:
        after = np.arange(count - begin) / RATE_HZ
        found[begin:] += 0.8 * dice.normal(0.0, 0.35, len(after)) * 0.5 ** (after / HALVES_S)
    quiet: NDArray[np.float32] = np.clip(found, -1.0, 1.0).astype(np.float32)
    return quiet


def _seen(camera: Camera, frames: int, fps: float, clap: Clap | None) -> Iterator[Picture]:
    for number in range(frames):
        picture = camera.still(number + 1)
        high, wide = (side - side % 2 for side in picture.shape[:2])
        picture = picture[:high, :wide]
        yield picture if clap is None else _with_board(picture, number / fps - clap.at_s)


def _with_board(picture: Picture, since_s: float) -> Picture:
    """A board held before the lens, its stick up before the clap and down from it on."""
    if not -OPEN_S <= since_s < AWAY_S:
        return picture
    found = np.ascontiguousarray(picture)
    high, wide = found.shape[:2]
    left, right, top = wide // 3, 2 * wide // 3, high // 3
    cv2.rectangle(found, (left, top), (right, high - high // 6), (0.9, 0.9, 0.88), -1)
    lift = 0.0 if since_s >= 0.0 else min(-since_s, 0.1) / 0.1 * high / 8.0
    thick = max(high // 24, 1)
    end = right, round(top - thick - lift)
    cv2.line(found, (left, top - thick), end, (0.08, 0.08, 0.08), thick)
    return found
