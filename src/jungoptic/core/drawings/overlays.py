"""What is drawn over the Frame besides outlines: dividers, flights, cuts, passes of a crowd, rigs
and markers. Pixels of the delivered picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..impossible import Impossible
from ..lockoff.crowd.places import TALL_M
from ..lockoff.crowd.study import crowd_plan
from ..lockoff.extent import extents
from ..lockoff.reframe import shapes_of, window
from ..lockoff.rigs.lines import line_now
from ..lockoff.rigs.seen import chosen
from ..lockoff.strips import divider_px
from ..lockoff.throw import flight
from ..lockoff.tracked import marker_plan
from ..pictures.bend import bent
from ..plan.shot import Shot
from ..plan.standins import StandIn, outlines
from ..stage.bent import bend_delivered
from ..stage.case import Case
from ..stage.in_frame import frame_at
from ..words.outlines import path_of

Path = tuple[tuple[float, float], ...]
#: What shows how a lens bends lines lies so far within the picture, a part of it.
EDGE = 0.04


@dataclass(frozen=True)
class PictureMark:
    """One mark: its role (divider, feather, reach, flight, thrown, cut, pass, crowd0..3, rig,
    marker, bent), its path, whether that is closed, a few words, and the id of what it is of."""

    role: str
    path: Path
    closed: bool = False
    text: str = ""
    of: str = ""
    #: How thick it is in the picture, pixels; 0: a line.
    wide_px: float = 0.0


def shot_marks(shot: Shot, at: float) -> tuple[PictureMark, ...]:
    """The lines of the shot itself at `at` of the screen time. What makes no sense is not drawn:
    its finding says so."""
    return (*_dividers(shot, at), *_cuts(shot, at))


def plate_marks(case: Case, at: float, selected: bool) -> tuple[PictureMark, ...]:
    """The marks of one plate, as its own camera sees them: how far arms reach to a divider, and for
    the plate selected its crowd, rig and markers."""
    found = _reach(case, at)
    if selected:
        found += _bent(case, at)
        try:
            found += [*_crowd(case), *_rig(case, at), *_markers(case)]
        except Impossible:
            return tuple(found)
    return tuple(found)


def _dividers(shot: Shot, at: float) -> list[PictureMark]:
    found = []
    frame = frame_at(shot, at)
    for split in shot.splits:
        if not split.keys or any(len(k.points) < 2 for k in split.keys):
            continue
        line, feather = divider_px(shot, split, at)
        half = feather / 2.0
        for side in (-1.0, 1.0):
            moved = tuple(
                (x + side * half, y) if split.upright else (x, y + side * half) for x, y in line
            )
            found.append(PictureMark("feather", moved, of=split.id))
        found.append(PictureMark("divider", line, False, split.name, split.id))
        flown = flight(shot, split) if split.throw is not None and split.throw.frames > 0 else None
        if flown is not None:
            found.append(PictureMark("flight", flown.path_px, of=split.id))
            step = frame - flown.first_frame
            if 0 <= step < len(flown.path_px):
                found.append(PictureMark("thrown", (flown.path_px[step],), of=split.id))
    return found


def _cuts(shot: Shot, at: float) -> list[PictureMark]:
    if shot.reframe is None:
        return []
    found = []
    for aspect in shapes_of(shot):
        try:
            left, top, right, bottom = window(shot, shot.reframe, aspect, frame_at(shot, at))
        except Impossible:
            continue
        corners = ((left, top), (right, top), (right, bottom), (left, bottom))
        found.append(PictureMark("cut", corners, True, aspect.name))
    return found


def _bent(case: Case, at: float) -> list[PictureMark]:
    """A straight frame just within the picture, as the lens that films the plate shows it; nothing
    where that shows nowhere."""
    bend, delivery = bend_delivered(case, at), case.shot.delivery
    if bend is None:
        return []
    wide, high = delivery.width_px, delivery.height_px
    left, top = EDGE * wide, EDGE * high
    along = np.linspace(0.0, 1.0, 17)[:-1]
    corners = np.array(
        [(left, top), (wide - left, top), (wide - left, high - top), (left, high - top)]
    )
    sides = [
        a + (b - a) * along[:, None] for a, b in zip(corners, np.roll(corners, -1, 0), strict=True)
    ]
    line = np.concatenate(sides)
    moved = bent(line, bend, wide, high)
    if float(np.abs(moved - line).max()) <= case.tolerance.px:
        return []
    says = "a straight frame as this lens shows it"
    return [PictureMark("bent", path_of(moved), True, says, case.plate.id)]


def _crowd(case: Case) -> list[PictureMark]:
    plan = crowd_plan(case)
    if plan is None:
        return []
    h = float(case.shot.delivery.height_px)
    found = []
    camera = case.shot.world.camera(case.shot.delivery)
    w = case.shot.delivery.width_px
    crowd = case.plate.crowd
    ground = 0.0 if crowd is None else crowd.ground_m
    # Those behind are drawn first.
    for place in sorted(plan.laid.places, key=lambda p: -p.y_m):
        who = StandIn("", "", "figure", place.x_m, place.y_m, ground, 0.5, TALL_M)
        for line in outlines(who):
            path = path_of(camera.project(line, w, h))
            found.append(PictureMark(f"crowd{place.tile % 4}", path, True, of=case.plate.id))
    for tile in plan.laid.tiles:
        if tile.number:
            found.append(PictureMark("pass", ((tile.left_px, 0.0), (tile.left_px, h))))
        middle = (tile.left_px + tile.right_px) / 2.0
        found.append(PictureMark("pass", ((middle, 0.0),), False, f"pass {tile.number + 1}"))
    return found


def _rig(case: Case, at: float) -> list[PictureMark]:
    rig = case.plate.rig
    seen = None if rig is None else chosen(case, rig)
    if rig is None or seen is None or seen.thick_px <= 0:
        return []
    line = line_now(case, rig, at)
    return (
        [PictureMark("rig", line, False, seen.name, case.plate.id, seen.thick_px)] if line else []
    )


def _reach(case: Case, at: float) -> list[PictureMark]:
    """How far arms go of whoever of this plate stands at a divider."""
    shot, plate = case.shot, case.plate
    if not any(plate.id in (s.first_id, s.second_id) for s in shot.splits):
        return []
    found = []
    w, h = shot.delivery.width_px, shot.delivery.height_px
    camera = shot.move.moved(case.stage.camera, at, plate.scale)
    for s in shot.stand_ins_of(plate):
        for extent in extents(shot, plate, s.after(shot.time.after(at)), None):
            pixels = camera.project(extent.corners, w, h)
            if extent.part != "reach" or not np.isfinite(pixels).all():
                continue
            (x0, y0), (x1, y1) = np.round([pixels.min(axis=0), pixels.max(axis=0)], 1).tolist()
            box = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
            found.append(PictureMark("reach", box, True, of=s.id))
    return found


def _markers(case: Case) -> list[PictureMark]:
    plan = marker_plan(case)
    if plan is None:
        return []
    found = []
    for x, y, size in plan.first_px:
        r = max(size / 2.0, 2.0)
        path = ((x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r))
        found.append(PictureMark("marker", path, True, of=case.plate.id))
    return found
