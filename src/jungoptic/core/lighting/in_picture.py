"""Lamps that stand in the picture of their own stage: which, when, and before or behind what."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..slices import runs_of
from ..stage.backing import backing
from ..stage.case import Case
from ..stage.seen import Spell, velocities
from ..stage.solids import solid_of
from .lamps import lamp_names
from .sources import Source, sources_of

Flags = NDArray[np.bool_]

#: Frames at which lamps are looked for.
MOMENTS = 33
#: Two things this near to each other along a ray touch, as a part of the way.
TOUCHING = 1e-4


@dataclass(frozen=True)
class LampSeen:
    """A lamp that the stage's camera shows: at which frames (from 1), whether within the delivered
    picture or only in what is kept around it, how much of the picture's height it takes up where
    that is most, and whether it ever covers something that is filmed."""

    number: int
    name: str
    spells: tuple[Spell, ...]
    delivered: bool
    high: float
    covers: bool


def lamps_in_picture(case: Case) -> tuple[LampSeen, ...]:
    """Every lamp of the stage that is in its picture and not behind anything, the sun and what is
    meant to be seen (practicals) left out."""
    return case.once("lamps in picture", lambda: _lamps_in_picture(case))


def _lamps_in_picture(case: Case) -> tuple[LampSeen, ...]:
    plate = case.plate
    names = lamp_names(case.shot, plate)
    found = []
    for source in sources_of(case.shot, plate, fine=False):
        role = plate.lamps[source.number].role
        meant = role == "practical" or (source.lamp.kind == "practical" and not role)
        if source.parallel or meant:
            continue
        seen = _seen(case, source, names[source.number] or "")
        if seen is not None:
            found.append(seen)
    return tuple(found)


def _seen(case: Case, source: Source, name: str) -> LampSeen | None:
    shot, plate, seen = case.shot, case.plate, case.seen
    looks = seen.some(MOMENTS)
    path = shot.move.along(case.stage.camera, seen.parts[looks], plate.scale)
    w, h = shot.delivery.width_px, shot.delivery.height_px
    face = source.at_m + source.face_m
    pixels, _ = path.project(face, w, h)
    with np.errstate(invalid="ignore"):
        inside = ((pixels >= 0.0) & (pixels <= (w, h))).all(axis=2)
        pad = shot.padding * np.array([w, h])
        around = ((pixels >= -pad) & (pixels <= np.array([w, h]) + pad)).all(axis=2)
    if not around.any():
        return None
    hidden, before = _crossed(case, path.positions_m, face, seen.seconds[looks])
    around, inside = around & ~hidden, inside & ~hidden
    if not around.any():
        return None
    delivered = bool(inside.any())
    shown: Flags = np.any(inside if delivered else around, axis=1)
    heights = np.where(around, pixels[..., 1], np.nan)[around.any(axis=1)]
    high = float((np.nanmax(heights, axis=1) - np.nanmin(heights, axis=1)).max()) / h
    numbers = [seen.number(int(i)) for i in looks]
    covers = bool((before & (inside if delivered else around)).any())
    return LampSeen(
        source.number,
        name,
        tuple(Spell(numbers[a], numbers[b - 1]) for a, b in runs_of(shown)),
        delivered,
        high,
        covers,
    )


def _crossed(case: Case, eyes: Array, points: Array, seconds: Array) -> tuple[Flags, Flags]:
    """Of rays from eyes (f, 3) through points (k, 3): which meet something of the stage before they
    get there, and which meet one of the plate's own things behind it; both (f, k)."""
    shape = len(eyes), len(points)
    hidden, before = np.zeros(shape, dtype=bool), np.zeros(shape, dtype=bool)
    ways = points[None, :, :] - eyes[:, None, :]
    own = {thing.id for thing in case.own}
    for thing in case.shot.stand_ins_of(case.plate):
        corners, topology = solid_of(thing)
        gone = velocities([thing]) * seconds[:, None]
        for ring in topology.faces:
            for a, b in pairwise(ring[1:]):
                three = corners[[ring[0], a, b]]
                stage = np.stack([case.plate.on_stage(three + g) for g in gone])
                at = _meets(eyes, ways, stage)
                hidden |= at < 1.0 - TOUCHING
                if thing.id in own:
                    before |= (at > 1.0 + TOUCHING) & np.isfinite(at)
    for three in _screen(case):
        hidden |= _meets(eyes, ways, np.broadcast_to(three, (len(eyes), 3, 3))) < 1.0 - TOUCHING
    return hidden, before


def _screen(case: Case) -> list[Array]:
    """The cloth behind the action as two triangles (3, 3); none without one."""
    cloth = backing(case)
    if cloth is None:
        return []
    half, top = case.plate.screen_width_m / 2.0, case.plate.screen_height_m
    left, right, y = cloth.centre_x_m - half, cloth.centre_x_m + half, cloth.distance_m
    a, b, c, d = (left, y, 0.0), (right, y, 0.0), (right, y, top), (left, y, top)
    return [np.array([a, b, c]), np.array([a, c, d])]


def _meets(eyes: Array, ways: Array, triangle: Array) -> Array:
    """Where rays from eyes (f, 3) along ways (f, k, 3) meet a triangle (f, 3, 3), as parts (f, k)
    of the way; NaN where they do not, or behind the eye. Source: Moeller and Trumbore 1997."""
    first = triangle[:, 1] - triangle[:, 0]
    second = triangle[:, 2] - triangle[:, 0]
    across = np.cross(ways, second[:, None, :])
    det = (across * first[:, None, :]).sum(axis=2)
    with np.errstate(divide="ignore", invalid="ignore"):
        from_corner = (eyes - triangle[:, 0])[:, None, :]
        u = (across * from_corner).sum(axis=2) / det
        turned = np.cross(from_corner, first[:, None, :])
        v = (turned * ways).sum(axis=2) / det
        at: Array = (turned * second[:, None, :]).sum(axis=2) / det
        good = (u >= 0.0) & (v >= 0.0) & (u + v <= 1.0) & (at > 0.0)
    return np.where(good, at, np.nan)
