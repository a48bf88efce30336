"""The image of a rig in a table or a floor that shines."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...camera import Array
from ...plan.shot import Shot
from ...plan.standins import StandIn
from ...stage.case import Case
from ...stage.in_frame import gone_m
from .kinds import Kind
from .lines import ALONG, TOUCHES_M, held, level_tops, path_of

#: Glass, lacquer and polish (handbook tables of refractive indices: 1.5; water 1.33).
INDEX = 1.5


@dataclass(frozen=True)
class Image:
    """A rig's image in a surface at f moments: `wide_px` (f,) at its strongest place, `part` (f,)
    of the light that comes back there; both 0 where nothing of it is seen."""

    wide_px: Array
    part: Array


def reflectance(cosine: Array, index: float = INDEX) -> Array:
    """The part of unpolarised light that comes back from a polished surface, by the cosine of the
    angle to its normal.

    Source: Fresnel's equations (Hecht, Optics, chapter 4): 4 % straight on for 1.5, all of it at a
    graze.
    """
    cosine = np.clip(np.asarray(cosine, dtype=np.float64), 0.0, 1.0)
    inside = np.sqrt(1.0 - (1.0 - cosine**2) / index**2)
    across = (cosine - index * inside) / (cosine + index * inside)
    along = (index * cosine - inside) / (index * cosine + inside)
    found: Array = (across**2 + along**2) / 2.0
    return found


def image(case: Case, thing: StandIn, kind: Kind, parts: Array, shine_m: float, mm: float) -> Image:
    """The image of a line `mm` thick in a level surface at `shine_m`, world metres: where a top of
    the shot lies so high it shines, else all of the level."""
    shot, plate = case.shot, case.plate
    w, h = shot.delivery.width_px, shot.delivery.height_px
    path = path_of(case, parts)
    ends = held(shot, plate, thing, kind)
    line = (ends[0] + (ends[1] - ends[0]) * ALONG)[None] + gone_m(shot, thing, parts)[:, None]
    below = line * (1.0, 1.0, -1.0) + (0.0, 0.0, 2.0 * shine_m)
    pixels, depths = path.project(plate.on_stage(below), w, h)
    lens = path.positions_m * plate.scale + (0.0, 0.0, plate.ground_m)
    over = lens[:, None, 2] - shine_m
    with np.errstate(divide="ignore", invalid="ignore"):
        # Where the way from the lens to the image goes through the surface.
        to = below - lens[:, None]
        way = over / np.where(to[..., 2] < 0.0, -to[..., 2], np.nan)
        hit = lens[:, None] + to * way[..., None]
        cosine = over / (np.linalg.norm(to, axis=2) * way)
        # What is behind the lens is NaN, and so never within.
        inside = ((pixels >= 0.0) & (pixels <= (w, h))).all(axis=2)
        focal_px = case.stage.camera.focal_px(w)
        wide = mm / 1000.0 * focal_px / depths
    seen = inside & (over > 0.0) & (line[..., 2] > shine_m) & _on(shot, thing, shine_m, hit)
    part = np.where(seen, reflectance(cosine), 0.0)
    wide = np.where(seen, wide, 0.0)
    most = np.argmax(part * np.minimum(wide, 1.0), axis=1)
    rows = np.arange(len(parts))
    return Image(wide[rows, most], part[rows, most])


def _on(shot: Shot, thing: StandIn, shine_m: float, hit: Array) -> np.ndarray:
    """Which places (f, n, 3) lie on a top of the shot at that height; all of them where there is
    none."""
    there = [s for s in level_tops(shot, thing) if abs(s.top_m - shine_m) < TOUCHES_M]
    found = np.full(hit.shape[:2], not there)
    for one in there:
        found |= one.outside_m(hit[..., 0], hit[..., 1]) <= 0.0
    return found
