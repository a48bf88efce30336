"""What lies beside a cloth, masked off before anything is laid in."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import ArrayLike

from .keying import SIDES, cloth
from .tone import Flags, Picture, as_picture

#: Cloth smaller than this, part of the picture, is a reflection or a thing of that colour.
LEAST = 0.002
#: The rim of the cloth that is masked off with what lies beside it, part of the picture's width.
RIM = 0.006
#: More than this is kept of a pixel that is no mere grain.
SOME = 0.1
#: What reaches beyond the cloth is still wanted where it covers this part of what is planned.
WANTED = 0.1


def before_cloth(
    picture: ArrayLike, colour: str, kept: Picture, planned: Picture | None = None
) -> Picture:
    """Where (h, w) a picture as recorded shows the cloth or what stands before it, 1 or 0: within
    the outline that the cloth has without dents, and there not what goes on beside it, such as a
    wall. `kept` (h, w) is its matte; what covers a good part of what is `planned` to stand there
    (h, w) is only cut where the cloth ends. Everywhere for what is told by brightness, and where
    there is no cloth. Raises Impossible for another colour."""
    shown = as_picture("picture", picture)
    there = cloth(shown, colour)
    high, wide = there.shape
    if colour not in SIDES:
        return np.ones((high, wide), np.float32)
    count, names, told, _ = cv2.connectedComponentsWithStats(there.astype(np.uint8))
    large = [n for n in range(1, count) if told[n, cv2.CC_STAT_AREA] >= LEAST * high * wide]
    if not large:
        return np.ones((high, wide), np.float32)
    rows, columns = np.nonzero(np.isin(names, large))
    outline = cv2.convexHull(np.stack([columns, rows], axis=1).astype(np.int32))
    hull = np.zeros((high, wide), np.uint8)
    cv2.fillConvexPoly(hull, outline, (1,))
    by = max(round(RIM * wide), 1)
    # Where the cloth goes on beyond the picture nothing is lost at its edge.
    edged = cv2.copyMakeBorder(hull, by, by, by, by, cv2.BORDER_REPLICATE)
    inner = cv2.erode(edged, np.ones((2 * by + 1, 2 * by + 1), np.uint8))[by:-by, by:-by]
    solid = kept > SOME
    beside = _beside(solid, hull == 0, planned)
    # Its soft edge too, but nothing of what is wanted.
    soft = cv2.dilate(beside.astype(np.uint8), np.ones((2 * by + 1, 2 * by + 1), np.uint8)) > 0
    beside |= soft & ~solid
    return np.asarray(np.where(beside, 0, inner), np.float32)


def _beside(solid: Flags, outside: Flags, planned: Picture | None) -> Flags:
    """What hangs together with something outside the cloth and is not what was wanted."""
    _, names = cv2.connectedComponents(solid.astype(np.uint8))
    reaching = set(np.unique(names[outside & solid]).tolist())
    if planned is not None:
        wanted = planned > 0.5
        cover = np.bincount(names[wanted & solid], minlength=1)
        reaching -= {n for n, size in enumerate(cover) if size > WANTED * wanted.sum()}
    found: Flags = np.isin(names, sorted(reaching)) & solid
    return found
