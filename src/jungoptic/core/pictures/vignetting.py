"""How much darker a lens makes the corners, by a still of something evenly lit."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..impossible import Impossible
from .laying import smaller
from .tone import Picture, luma, to_light

#: The picture is looked at in so many places across.
ACROSS = 64
#: Recorded levels between which light is told.
DARK, BRIGHT = 0.1, 0.96
#: Stops by which places may scatter about what a lens can do before it is no even surface.
EVEN_STOPS = 0.08
#: So many of the places at least must tell.
TOLD = 0.8


@dataclass(frozen=True)
class Vignetting:
    """`corner_stops`: light lost in the corners against the middle; `lit_stops`: how much more of
    it one side of the surface had than the other, which is not the lens; `scatter_stops`: what is
    left, root mean square."""

    corner_stops: float
    lit_stops: float
    scatter_stops: float


def vignetting(picture: Picture) -> Vignetting:
    """What a lens loses towards the corners, from a still (h, w, 3), as recorded, of something even
    that fills it: white paper out of focus, a clear sky. A slope of the light from side to side is
    taken off. Raises Impossible for one that is clipped or dark, and for one that is not even.

    Light lost is fitted as a r^2 + b r^4 + c r^6 in stops: cos^4 of an angle of which r is the
    tangent begins so, and what a barrel cuts off grows from there.
    """
    grey = luma(picture)
    high, wide = grey.shape
    across = min(ACROSS, wide)
    down = max(min(round(across * high / wide), high), 2)
    tiles = smaller(grey, (across, down))
    good = (tiles > DARK) & (tiles < BRIGHT)
    if good.mean() < TOLD:
        bright = float((tiles >= BRIGHT).mean()) > float((tiles <= DARK).mean())
        raise Impossible(
            "it is burnt out: expose it as a middle grey."
            if bright
            else "it is too dark: expose it as a middle grey.",
            "even_id",
        )
    y, x = np.mgrid[0:down, 0:across]
    half = math.hypot(wide, high) / 2.0
    right = ((x + 0.5) / across - 0.5) * wide / half
    below = ((y + 0.5) / down - 0.5) * high / half
    r2 = right**2 + below**2
    columns = np.stack([np.ones_like(r2), right, below, r2, r2**2, r2**3], axis=-1)[good]
    stops = np.log2(to_light(tiles[good]))
    fitted, *_ = np.linalg.lstsq(columns, stops, rcond=None)
    scatter = float(np.sqrt(np.mean((stops - columns @ fitted) ** 2)))
    if scatter > EVEN_STOPS:
        raise Impossible(
            f"what it shows is not even (places differ by {scatter:.2f} stops): film white paper, "
            "out of focus, that fills the picture.",
            "even_id",
        )
    slope = float(np.hypot(fitted[1] * wide / half, fitted[2] * high / half))
    # A still that is brighter in the corners is not lit by a lens.
    return Vignetting(max(-float(fitted[3:].sum()), 0.0), slope, scatter)
