"""Shadows that the key throws on a stage's own ground: where they lie, and how soft their edge."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..plan.standins import hull_points, strokes
from ..slices import slices_of
from ..stage.case import Case
from ..words.outlines import Outline, drawn
from ..words.strokes import Strokes, end_to_end
from .on_stage import lighting
from .shine import Source
from .sources import sources_of

#: A shadow that runs farther than this many times the key's height is cut there.
LONGEST = 8.0
#: A lamp this little above the ground throws shadows that never end.
LOWEST_M = 0.02


@dataclass(frozen=True)
class StageShadow:
    """The shadow of one stand-in on the ground of its stage: its lines from the middle of the key,
    and points (n, 3) reached from its edges, which bound the soft part."""

    stand_in_id: str
    middle: Strokes
    reach: Array


def thrown(points: Array, source: Source, froms: Array, foot_m: Array | float) -> Array:
    """Where `points` (n, 3) throw their shadow on level ground at `foot_m`, of each point (n,) or
    of all, from places `froms` (k, 3) of a source, as (k, n, 3), k 1 where it is parallel; points
    not below the source are thrown as far as `LONGEST` lets them."""
    if source.parallel:
        drop = max(float(-source.axis[2]), 1e-3)
        gone = np.minimum((points[:, 2] - foot_m) / drop, LONGEST * np.maximum(points[:, 2], 0.1))
        found: Array = (points + gone[:, None] * source.axis)[None]
    else:
        at = froms[:, None, :]
        above = at[..., 2] - foot_m
        part = above / np.maximum(at[..., 2] - points[None, :, 2], above / LONGEST)
        found = at + (points[None, :, :] - at) * part[..., None]
    found[..., 2] = foot_m
    return found


def stage_shadows(case: Case) -> tuple[StageShadow, ...]:
    """The key's shadows of everything that stands on the stage; empty without a key above it."""
    return case.once("shadows", lambda: _stage_shadows(case))


def _stage_shadows(case: Case) -> tuple[StageShadow, ...]:
    light = lighting(case)
    if light is None or light.key is None:
        return ()
    source = next(s for s in sources_of(case.shot, case.plate, fine=False) if s.number == light.key)
    if (source.parallel and source.axis[2] > -0.02) or (
        not source.parallel and source.at_m[2] <= LOWEST_M
    ):
        return ()
    edges, plate = _edges(source), case.plate
    lowest = math.inf if source.parallel else float(edges[:, 2].min())
    things, feet = [], []
    for stand_in in case.shot.stand_ins_of(plate):
        foot = (stand_in.z_m - plate.ground_m) / plate.scale
        # A lamp no higher than the foot throws no shadow on the ground there.
        if stand_in.kind != "ground" and lowest - foot > LOWEST_M:
            things.append(stand_in)
            feet.append(foot)
    if not things:
        return ()
    # All things in one go: a call for each would cost more than the arithmetic.
    lines, hulls = [strokes(s) for s in things], [hull_points(s) for s in things]
    points, parts = end_to_end(lines)
    below = np.repeat(feet, [len(own.points) for own in lines])
    whole = thrown(plate.on_stage(points), source, source.at_m[None, :], below)[0]
    below = np.repeat(feet, [len(own) for own in hulls])
    reach = thrown(plate.on_stage(np.concatenate(hulls)), source, edges, below)
    return tuple(
        StageShadow(s.id, own.at(whole[part]), reach[:, around].reshape(-1, 3))
        for s, own, part, around in zip(things, lines, parts, slices_of(hulls), strict=True)
    )


def _edges(source: Source) -> Array:
    """The outermost points (k, 3) of what shines."""
    if source.parallel or len(source.offsets_m) < 2:
        return source.at_m[None, :]
    far = np.linalg.norm(source.offsets_m, axis=1)
    outer = source.offsets_m[far >= far.max() * 0.8]
    # Quadrature points stop a little short of the rim.
    stretch = source.size_m / 2.0 / max(float(far.max()), 1e-9)
    found: Array = source.at_m + outer * stretch
    return found


def shadows_in_frame(case: Case, part: float = 0.0) -> tuple[Outline, ...]:
    """The same as this stage's camera sees them, in delivered pixels."""
    delivery = case.shot.delivery
    camera = case.shot.move.moved(case.stage.camera, part, case.plate.scale)
    lines = {s.stand_in_id: s.middle for s in stage_shadows(case)}
    return drawn(camera, lines, delivery.width_px, delivery.height_px)


def shadows_show(case: Case) -> bool:
    """Whether any of the key's shadows on the ground ever lies in frame."""
    points = [shadow.middle.points for shadow in stage_shadows(case)]
    if not points:
        return False
    shot, plate = case.shot, case.plate
    w, h = shot.delivery.width_px, shot.delivery.height_px
    path = shot.move.along(case.stage.camera, np.linspace(0.0, 1.0, 5), plate.scale)
    pixels, _ = path.project(np.concatenate(points), w, h)
    with np.errstate(invalid="ignore"):
        return bool(((pixels >= 0.0) & (pixels <= (w, h))).all(axis=2).any())
