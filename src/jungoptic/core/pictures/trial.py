"""A key tried on a picture as it was filmed: what the matte keeps, where it leaks, how soft its
edge is, and how much of the cloth lies on what stands before it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..impossible import Impossible
from .keying import SIDES, cloth, matte
from .tone import CLIPPED, Flags, Picture, as_picture, brightest

#: A pixel is kept from here on, and is a hole below it.
SOLID = 0.9
#: A pixel of the edge lies between these.
SOFT = (0.1, 0.9)
#: So much of the picture's width beside an edge belongs to it, and is no hole.
RIM = 0.004
#: Whoever is nowhere thicker than twice so many rims is too small in the picture: between arm and
#: body there is no telling holes from cloth.
THICK = 8
#: With less of the picture, there is no cloth, or nobody before it.
LEAST = 0.004
#: A pixel has spill when it has this part more of the cloth's colour than of any other.
SPILT = 0.06


@dataclass(frozen=True)
class Trial:
    """A key, tried. `cloth`: the part of the picture that surely is cloth. `kept`: the part that is
    kept whole. `holes`: the part of what stands before the cloth that shows through, None where
    that is too small to tell it. `veil`: what the matte leaves of the cloth, 0..1, in the worst
    twentieth of it. `edge_px`: how wide the edge is, pixels of the picture; None without one.
    `spill`: the part of what is kept that has the cloth's colour on it; 0 for a cloth without
    colour."""

    cloth: float
    kept: float
    holes: float | None
    veil: float
    edge_px: float | None
    spill: float


def tried(
    picture: ArrayLike,
    colour: str = "green",
    low: float = 0.0,
    high: float = 1.0,
    there: Flags | None = None,
) -> tuple[Picture, Trial]:
    """The matte (h, w) of a picture (h, w, 3) as recorded, and how good it is. What `matte` keeps
    less than `low` of goes, and what it keeps more than `high` of is kept whole. `there`: where it
    surely shows the cloth, where that is known already.

    Raises Impossible unless 0 <= low < high <= 1, and as `matte` does.
    """
    if not 0.0 <= low < high <= 1.0:
        raise Impossible("low must be below high, both from 0 to 1.", "low")
    shown = as_picture("picture", picture)
    if there is None:
        there = cloth(shown, colour)
    kept = within(matte(shown, colour), low, high)
    return kept, how_good(shown, colour, kept, there)


def within(kept: Picture, low: float, high: float) -> Picture:
    """A matte (h, w) of which less than `low` goes and more than `high` stays whole."""
    if (low, high) == (0.0, 1.0):
        return kept
    return np.asarray(np.clip((kept - low) / (high - low), 0.0, 1.0), np.float32)


def how_good(shown: Picture, colour: str, kept: Picture, there: Flags) -> Trial:
    """How good a matte (h, w) of a picture (h, w, 3) as recorded is, that surely shows its cloth
    `there`."""
    if not there.mean() >= LEAST:
        return Trial(float(there.mean()), float((kept >= SOLID).mean()), 0.0, 0.0, None, 0.0)
    inner = _inner(there, kept.shape[1])
    veil = float(np.percentile(kept[inner], 95.0)) if inner.any() else 0.0
    return Trial(
        cloth=float(there.mean()),
        kept=float((kept >= SOLID).mean()),
        holes=_holes(kept, there),
        veil=veil,
        edge_px=_edge(kept),
        spill=_spill(shown, kept, colour),
    )


def _rim(wide: int) -> NDArray[np.uint8]:
    side = 2 * max(round(RIM * wide), 1) + 1
    return np.ones((side, side), np.uint8)


def _inner(where: Flags, wide: int) -> Flags:
    """What lies away from its rim."""
    return cv2.erode(where.astype(np.uint8), _rim(wide)) > 0


def _holes(kept: Picture, there: Flags) -> float | None:
    """The part of what is surrounded by something kept and is not, cloth seen between arms and legs
    left out; None where nothing is thick enough to have an inside."""
    solid = (kept > 0.5).astype(np.uint8)
    lines, _ = cv2.findContours(solid, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    whole = np.zeros_like(solid)
    cv2.drawContours(whole, lines, -1, (1,), cv2.FILLED)
    thick = cv2.distanceTransform(whole, cv2.DIST_L2, 3)
    if not thick.max() > THICK * RIM * kept.shape[1]:
        return None
    inside = _inner(whole > 0, kept.shape[1])
    # Cloth that is seen through is as large as a hand between arm and body; a hole is smaller.
    through = cv2.morphologyEx(there.astype(np.uint8), cv2.MORPH_OPEN, _rim(kept.shape[1] * 4)) > 0
    inside &= cv2.dilate(through.astype(np.uint8), _rim(kept.shape[1])) == 0
    return float((kept[inside] < SOLID).mean()) if inside.any() else 0.0


def _edge(kept: Picture) -> float | None:
    """What is soft beside the line at half, over the length of that."""
    solid = (kept > 0.5).astype(np.uint8)
    lines, _ = cv2.findContours(solid, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
    wide = kept.shape[1]
    # Specks are no edges.
    long = [line for line in lines if cv2.arcLength(line, True) > RIM * 10 * wide]
    length = sum(cv2.arcLength(line, True) for line in long)
    if length <= 0.0:
        return None
    drawn = np.zeros_like(solid)
    cv2.drawContours(drawn, long, -1, (1,), 1)
    beside = cv2.dilate(drawn, _rim(wide * 4)) > 0
    soft = (kept > SOFT[0]) & (kept < SOFT[1]) & beside
    return float(soft.sum()) / length


def _spill(shown: Picture, kept: Picture, colour: str) -> float:
    if colour not in SIDES:
        return 0.0
    own, one, two = SIDES[colour]
    solid = kept >= SOLID
    if not solid.any():
        return 0.0
    over = shown[..., own] - np.maximum(shown[..., one], shown[..., two])
    return float((over[solid] > SPILT * np.maximum(shown[..., own][solid], 0.05)).mean())


def despilled(picture: ArrayLike, colour: str) -> Picture:
    """The same picture with no more of the cloth's colour than of the larger of the others; of a
    cloth without colour as it is."""
    shown = as_picture("picture", picture)
    if colour not in SIDES:
        return shown
    own, one, two = SIDES[colour]
    found = shown.copy()
    found[..., own] = np.minimum(shown[..., own], np.maximum(shown[..., one], shown[..., two]))
    return found


@dataclass(frozen=True)
class Levels:
    """What a recording has no more of: parts of the picture that are `clipped`, and so dark that
    nothing is told there (`crushed`). `shining`: the part as bright as something that makes light;
    `burnt`: the part of that which is clipped."""

    clipped: float
    crushed: float
    shining: float
    burnt: float


#: Darker than this, as recorded, is black with noise; brighter than that makes its own light.
CRUSHED, SHINES = 0.02, 0.5


def levels(picture: ArrayLike) -> Levels:
    """What of a picture (h, w, 3) as recorded is clipped and crushed."""
    shown = as_picture("picture", picture)
    most = brightest(shown)
    over, shining = most >= CLIPPED, most >= SHINES
    return Levels(
        float(over.mean()),
        float((most <= CRUSHED).mean()),
        float(shining.mean()),
        float(over[shining].mean()) if shining.any() else 0.0,
    )
