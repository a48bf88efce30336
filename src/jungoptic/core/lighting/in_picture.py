"""Lamps that stand in the picture of their own stage: which, when, and before or behind what."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..plan.standins import StandIn
from ..slices import runs_of
from ..stage.backing import backing
from ..stage.case import Case
from ..stage.seen import Spell
from ..stage.solids import solid_of
from ..stage.spots import velocities
from .lamps import lamp_names
from .shine import Source
from .sources import sources_of

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
    # What stands still before a camera that stands still is looked at once.
    once = looks[:1] if shot.move.still else looks
    path = shot.move.along(case.stage.camera, seen.parts[once], plate.scale)
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
    pixels = np.broadcast_to(pixels, (len(looks), *pixels.shape[1:]))
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
    get there, and which meet one of the plate's own things behind it; both (f, k). One eye may
    stand for all moments."""
    shape = len(seconds), len(points)
    hidden, before = np.zeros(shape, dtype=bool), np.zeros(shape, dtype=bool)
    ways = points[None, :, :] - eyes[:, None, :]
    own = {thing.id for thing in case.own}
    things = case.shot.stand_ins_of(case.plate)
    rest = [thing for thing in things if not thing.speed_m_s]
    if rest:
        faces = [_triangles(thing) for thing in rest]
        at = _meets(eyes, ways, case.plate.on_stage(np.concatenate(faces)))
        hidden |= (at < 1.0 - TOUCHING).any(axis=0)
        mine = np.repeat([thing.id in own for thing in rest], [len(face) for face in faces])
        before |= ((at[mine] > 1.0 + TOUCHING) & np.isfinite(at[mine])).any(axis=0)
    for thing in things:
        if not thing.speed_m_s:
            continue
        # What goes on its way past a lens is a lens that goes past it.
        gone = velocities([thing]) * seconds[:, None] / case.plate.scale
        at = _meets(eyes - gone, ways, case.plate.on_stage(_triangles(thing)))
        hidden |= (at < 1.0 - TOUCHING).any(axis=0)
        if thing.id in own:
            before |= ((at > 1.0 + TOUCHING) & np.isfinite(at)).any(axis=0)
    cloth = _screen(case)
    if cloth is not None:
        hidden |= (_meets(eyes, ways, cloth) < 1.0 - TOUCHING).any(axis=0)
    return hidden, before


@lru_cache(maxsize=2048)
def _triangles(thing: StandIn) -> Array:
    """The faces of a thing as triangles (t, 3, 3), world metres."""
    corners, topology = solid_of(thing)
    fans = [(ring[0], a, b) for ring in topology.faces for a, b in pairwise(ring[1:])]
    found: Array = corners[np.array(fans, dtype=np.intp).reshape(-1, 3)]
    return found


def _screen(case: Case) -> Array | None:
    """The cloth behind the action as two triangles (2, 3, 3); None without one."""
    cloth = backing(case)
    if cloth is None:
        return None
    half, top = case.plate.screen_width_m / 2.0, case.plate.screen_top_m
    foot = case.plate.screen_foot_m
    left, right, y = cloth.centre_x_m - half, cloth.centre_x_m + half, cloth.distance_m
    a, b, c, d = (left, y, foot), (right, y, foot), (right, y, top), (left, y, top)
    return np.array([[a, b, c], [a, c, d]])


def _meets(eyes: Array, ways: Array, triangles: Array) -> Array:
    """Where rays from eyes (f, 3) along ways (f, k, 3) meet triangles (t, 3, 3), as parts (t, f, k)
    of the way; NaN where they do not, or behind the eye. Source: Moeller and Trumbore 1997, with
    what does not depend on the ray taken out of it."""
    start = triangles[:, None, 0]
    first, second = triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    normal = np.cross(first, second)
    away = eyes[None] - start
    along = ways.transpose(0, 2, 1)
    det = -np.einsum("fkj,tj->tfk", ways, normal)
    with np.errstate(divide="ignore", invalid="ignore"):
        u = np.cross(second[:, None], away)[:, :, None] @ along
        v = np.cross(away, first[:, None])[:, :, None] @ along
        u, v = u[:, :, 0] / det, v[:, :, 0] / det
        at: Array = (away @ normal[:, :, None]) / det
        good = (u >= 0.0) & (v >= 0.0) & (u + v <= 1.0) & (at > 0.0)
    return np.where(good, at, np.nan)
