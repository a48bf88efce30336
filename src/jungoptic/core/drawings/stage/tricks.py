"""Strips, crowds and ways on the floor."""

from __future__ import annotations

import math

import numpy as np

from ...impossible import Impossible
from ...lockoff.crowd.study import crowd_plan
from ...lockoff.extent import half_width_m
from ...lockoff.group import group_of
from ...lockoff.strips import own_of, strip
from ...stage.case import Case
from ...stage.coverage import at_distance
from ...words.drawing import Note, Shape
from .common import as_points


def strip_shapes(case: Case) -> tuple[list[Shape], list[Note]]:
    """The keep-out strip of every divider on the floor, and its middle line."""
    shapes: list[Shape] = []
    notes: list[Note] = []
    for split in case.shot.splits:
        own = {split.first_id, split.second_id}
        in_group = any(p.id in own for p in group_of(case.shot, case.plate))
        if not in_group or not split.keys:
            continue
        drawn = strip(case, split)
        if len(drawn) < 2:
            continue
        left = [(s.y_m, -s.left_m) for s in drawn]
        right = [(s.y_m, -s.right_m) for s in reversed(drawn)]
        shapes.append(Shape("keepout", (*left, *right), True))
        for edge in (left, right):
            shapes.append(Shape("tapeline", tuple(edge)))
        far = drawn[-1]
        notes.append(Note((far.y_m, -(far.left_m + far.right_m) / 2.0), "keep out"))
        scale = case.plate.scale
        for who in own_of(case, split):
            out = (half_width_m(who) + who.reach_m) / scale
            x, y = who.x_m / scale, who.y_m / scale
            shapes.append(Shape("armspan", ((y, -x - out), (y, -x + out))))
    return shapes, notes


def crowd_shapes(case: Case) -> list[Shape]:
    """Everybody of a crowd as a dot, and the wedges of its passes."""
    try:
        found = crowd_plan(case)
    except Impossible:
        return []
    if found is None or not found.laid.places:
        return []
    scale = case.plate.scale
    shapes = []
    turn = np.linspace(0.0, 2.0 * math.pi, 9)
    for place in found.laid.places:
        x, y, r = place.x_m / scale, place.y_m / scale, 0.2 / scale
        role = f"crowd{place.tile % 4}"
        shapes.append(Shape(role, as_points(y + r * np.sin(turn), -x - r * np.cos(turn)), True))
    w, h = case.shot.delivery.width_px, case.shot.delivery.height_px
    ys = [p.y_m for p in found.laid.places]
    for tile in found.laid.tiles[:-1]:
        edge = np.array([(tile.right_px, h / 2.0)])
        ends = [
            at_distance(case.stage.camera, edge, max(y / scale, 0.05), w, h)[0]
            for y in (min(ys) - 0.5, max(ys) + 0.5)
        ]
        if np.isfinite(ends).all():
            shapes.append(Shape("tapeline", tuple((float(e[1]), -float(e[0])) for e in ends)))
    return shapes


def way_shapes(case: Case) -> list[Shape]:
    """Where the plate's things go while the shot lasts, seen from above: a line with a head."""
    found = []
    scale = case.plate.scale
    whole_s = case.shot.time.whole_s
    for stand_in in case.shot.stand_ins_of(case.plate):
        if not stand_in.speed_m_s:
            continue
        gone = stand_in.after(whole_s)
        start, end = ((s.y_m / scale, -s.x_m / scale) for s in (stand_in, gone))
        way = math.dist(start, end)
        if way < 1e-6:
            continue
        angle = math.atan2(end[1] - start[1], end[0] - start[0])
        barb = min(0.08, way / 3.0)
        head = tuple(
            (end[0] - barb * math.cos(angle + turn), end[1] - barb * math.sin(angle + turn))
            for turn in (0.4, -0.4)
        )
        found.append(Shape("way", (start, end, head[0], end, head[1])))
    return found
