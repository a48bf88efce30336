"""A picture that has just been taken, one frame at a time, against the one before it and against
the one that its block began with: its light, whether what should stand stands, what has changed.

Pictures are small and grey: (h, w) brightness as recorded, 0..1, `COMPARED_PX` wide at most.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import cast

import cv2
import numpy as np

from ..camera import Array
from ..impossible import Impossible
from .just_taken import Against, Box, JustTaken, Place
from .laying import smaller
from .run import agreed, brighter, tiles_of
from .standing import Standing
from .tone import Flags, Picture

#: What has changed is told in so many places across.
PLACES = 48
#: A place has changed where the two differ by this, root mean square as recorded, and by so many
#: times what most places differ by; but never is a difference above the last called grain.
LEAST, GRAINS, MOST = 0.004, 2.5, 0.03
#: A picture that has moved by more shows something else at its rim, such pixels.
RIM_PX = 0.1
#: So many of the largest that have changed are told.
TOLD = 6
#: Thirds that say too little of themselves are left out: so many tiles.
FEWEST = 6


def just_taken(
    now: Picture,
    before: Picture | None,
    reference: Picture | None = None,
    moving: Sequence[Box] = (),
) -> JustTaken:
    """What a picture is against the one before and against the reference of its block; `moving`:
    where things are posed, which tells nothing of whether the rest stands.

    Raises Impossible for pictures of several sizes.
    """
    for other in (before, reference):
        if other is not None and other.shape != now.shape:
            raise Impossible("the pictures of a block must be one size.", "picture")
    begun = None if reference is None else against(reference, now, moving)
    if before is None:
        return JustTaken(None, begun)
    step = begun if before is reference and begun is not None else against(before, now, moving)
    places = _changed(before, now, step)
    whole = float(places.mean())
    return JustTaken(step, begun, tuple(_stretches(places)), whole)


def against(other: Picture, now: Picture, moving: Sequence[Box] = ()) -> Against:
    """A picture against another of the same set, both of one size; `moving`: see `just_taken`."""
    high, wide = now.shape
    size = tiles_of(wide, high)
    gains = brighter(smaller(other, size), smaller(now, size))
    standing = Standing(_standing(size, moving))
    standing.follow(other, size)
    standing.follow(now, size)
    right, down = standing.path[-1]
    thirds = [_percent(part, FEWEST) for part in np.array_split(gains, 3, axis=1)]
    return Against(
        _percent(gains, 1),
        (thirds[0], thirds[1], thirds[2]),
        (float(right), float(down)) if np.isfinite(right) else None,
    )


def _standing(size: tuple[int, int], moving: Sequence[Box]) -> Flags:
    """The tiles (rows, columns) that no box touches."""
    found = np.ones((size[1], size[0]), dtype=bool)
    for left, top, right, bottom in moving:
        columns = slice(max(int(left * size[0]), 0), max(int(np.ceil(right * size[0])), 0))
        rows = slice(max(int(top * size[1]), 0), max(int(np.ceil(bottom * size[1])), 0))
        found[rows, columns] = False
    return found


def _percent(gains: Array, fewest: int) -> float | None:
    if np.isfinite(gains).sum() < fewest:
        return None
    stops = agreed(gains)
    return float(np.expm1(stops * np.log(2.0)) * 100.0) if np.isfinite(stops) else None


def _changed(before: Picture, now: Picture, step: Against) -> Flags:
    """The places (rows, columns) in which a picture differs from the one before."""
    high, wide = now.shape
    laid = now
    if step.shift is not None:
        back = np.array([[1.0, 0.0, -step.shift[0] * wide], [0.0, 1.0, -step.shift[1] * wide]])
        laid = cast(
            Picture,
            cv2.warpAffine(
                now, back, (wide, high), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
            ),
        )
    if step.light_percent is not None:
        # As recorded a stop is a factor too, above the foot of the curve.
        laid = laid / np.float32((1.0 + step.light_percent / 100.0) ** 0.45)
    side = max(wide // PLACES, 1)
    size = max(wide // side, 1), max(high // side, 1)
    square = (laid - before) ** 2
    rms = np.sqrt(smaller(square.astype(np.float32), size))
    if step.shift is not None and np.hypot(*step.shift) * wide > RIM_PX:
        # What lies at the rim came in, or was drawn out.
        rms[:1], rms[-1:], rms[:, :1], rms[:, -1:] = 0.0, 0.0, 0.0, 0.0
    limit = float(np.clip(GRAINS * np.median(rms), LEAST, MOST))
    found: Flags = rms > limit
    return found


def _stretches(places: Flags) -> list[Place]:
    """Places that touch each other, together; the largest first."""
    high, wide = places.shape
    count, _, stats, _ = cv2.connectedComponentsWithStats(places.astype(np.uint8), connectivity=8)
    found = [
        Place(x / wide, y / high, (x + w) / wide, (y + h) / high, area / places.size)
        for x, y, w, h, area in (map(int, row) for row in stats[1:count])
    ]
    return sorted(found, key=lambda one: -one.part)[:TOLD]
