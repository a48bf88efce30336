"""Tones as a picture of pixels: what a finder shows of a plate, quick enough to be live."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import groupby

import cv2
import numpy as np
from numpy.typing import NDArray

from jungoptic.core.drawings.tone import Tone

#: (h, w, 3), 0..1 as recorded.
Picture = NDArray[np.float32]
#: Pixels are told in sixteenths.
FINE = 4
#: Blurs smaller than this do not show.
SHARP_PX = 0.3
#: A bell is as good as gone after so many of its standard deviations.
REACH = 3.0


def painted(tones: Iterable[Tone], backdrop: Picture, per_px: float) -> Picture:
    """The tones over a `backdrop` (h, w, 3), the farther under the nearer; `per_px` of its pixels
    to one of theirs."""
    found = backdrop.copy()
    ordered = sorted(tones, key=lambda t: -t.far_m)
    for (_, _, soft), mass in groupby(ordered, lambda t: (t.stand_in_id, t.kind, t.soft_px)):
        _lay(found, list(mass), per_px, (soft[0] * per_px, soft[1] * per_px))
    return found


def _lay(picture: Picture, mass: Sequence[Tone], per_px: float, soft: tuple[float, float]) -> None:
    """One thing, its faces blurred together, laid over the picture in place."""
    high, wide = picture.shape[:2]
    shapes = [[np.array(p) * per_px for p in tone.paths] for tone in mass]
    every = np.concatenate([p for own in shapes for p in own])
    reach = np.ceil(REACH * np.array(soft)) + 2.0
    low = np.maximum(np.floor(every.min(axis=0) - reach), 0.0).astype(int)
    far = np.minimum(np.ceil(every.max(axis=0) + reach), (wide, high)).astype(int)
    if (far <= low).any():
        return
    size = far[1] - low[1], far[0] - low[0]
    cover, grey = np.zeros(size, np.float32), np.zeros(size, np.float32)
    for tone, own in zip(mass, shapes, strict=True):
        # A corner far outside is brought near: what is filled within the picture stays.
        corners = [
            np.round(np.clip(p - low - 0.5, -30_000.0, 30_000.0) * (1 << FINE)).astype(np.int32)
            for p in own
        ]
        shade = tone.kind == "shadow"
        cv2.fillPoly(cover, corners, tone.grey if shade else 1.0, cv2.LINE_8, FINE)
        cv2.fillPoly(grey, corners, 0.0 if shade else tone.grey, cv2.LINE_8, FINE)
    across, down = (max(s, SHARP_PX) for s in soft)
    cover = cv2.GaussianBlur(cover, (0, 0), across, sigmaY=down)
    grey = cv2.GaussianBlur(grey, (0, 0), across, sigmaY=down)
    part = picture[low[1] : far[1], low[0] : far[0]]
    part *= 1.0 - cover[..., None]
    part += grey[..., None]
