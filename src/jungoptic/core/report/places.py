"""Where in the picture what does not hold is to be seen."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..lighting.in_picture import lamps_in_picture
from ..lighting.sources import shining_size
from ..lighting.stage_shadows import shadows_in_frame
from ..plan.findings import Finding, Verdict
from ..plan.shot import Shot
from ..plan.standins import StandIn
from ..remedies.standing import standing
from ..stage.case import Case

#: Left, top, right and bottom, as parts (0..1) of the delivered picture.
Box = tuple[float, float, float, float]
#: Rules about light and cloth, which show on the action where they name nothing else.
ON_THE_ACTION = frozenset(
    {
        "light",
        "key-side",
        "hardness",
        "ratio",
        "colour",
        "falloff",
        "evenness",
        "screen-level",
        "screen-lamps",
        "screen-shadow",
        "screen-colour",
        "spill",
        "backing",
    }
)
#: How far around a point is circled, as a part of the picture.
POINT = 0.03
#: What is smaller than this is drawn around all the same, as a part of the picture.
LEAST = 0.01


@dataclass(frozen=True)
class FindingPlace:
    """A finding of a plate that does not hold, and where it shows at a moment: no boxes where it is
    to be seen nowhere, or not then."""

    plate_id: str
    plate: str
    key: str
    title: str
    verdict: Verdict
    sentence: str
    boxes: tuple[Box, ...]


def finding_places(shot: Shot, part: float = 0.0) -> tuple[FindingPlace, ...]:
    """What breaks or strains of all plates of a shot as it is seen, worst first, after `part`
    (0..1) of the screen time."""
    found = []
    for plate in shot.plates:
        told = standing(shot, plate)
        for finding in told.findings:
            if finding.verdict is Verdict.HOLDS:
                continue
            boxes = () if told.case is None else _boxes(told.case, finding, part)
            found.append(
                FindingPlace(
                    plate.id,
                    plate.name,
                    finding.key,
                    finding.title,
                    finding.verdict,
                    finding.sentence,
                    boxes,
                )
            )
    return tuple(sorted(found, key=lambda one: -one.verdict.rank))


def _boxes(case: Case, finding: Finding, part: float) -> tuple[Box, ...]:
    if finding.key == "lamp-in-picture":
        return _lamps(case, part)
    if finding.key == "hardness":
        shadows = _shadows(case, part)
        if shadows:
            return shadows
    if finding.key == "mismatch":
        return _worst_point(case)
    named = _named(finding.sentence, case.shot.stand_ins)
    if finding.key == "depth" and case.stage.ends is not None:
        # The nearest and the farthest that must be sharp, also where it is told in metres alone.
        named = list(dict.fromkeys(end.thing for end in case.stage.ends))
    if named:
        return _things(case, named, part)
    if finding.key in ON_THE_ACTION:
        own = _things(case, case.shot.stand_ins_of(case.plate), part)
        return (_around(own),) if own else ()
    return ()


def _named(sentence: str, things: Iterable[StandIn]) -> list[StandIn]:
    """The things that a sentence speaks of. Longer names first: what is called "Door frame" is not
    the "Door"."""
    found, left = [], sentence
    for thing in sorted(things, key=lambda s: -len(s.name)):
        if thing.name and thing.name in left:
            found.append(thing)
            left = left.replace(thing.name, "")
    return found


def _things(case: Case, things: Iterable[StandIn], part: float) -> tuple[Box, ...]:
    """What the picture shows of each at that moment."""
    seen = case.seen
    frame = round(part * (seen.frames - 1))
    boxes = []
    for row in seen.numbers(list(things)):
        if seen.shows[row, frame]:
            ends = (
                seen.left_px[row, frame] / seen.width_px,
                seen.top_px[row, frame] / seen.height_px,
                seen.right_px[row, frame] / seen.width_px,
                seen.bottom_px[row, frame] / seen.height_px,
            )
            boxes += _inside(ends)
    return tuple(boxes)


def _worst_point(case: Case) -> tuple[Box, ...]:
    """The compared point that the best reframe leaves farthest off, where the story has it: the one
    that the finding names."""
    points, worst = case.compared, case.matched[1].worst_index
    if worst < 0:
        return ()
    x = float(points.world_px[worst, 0]) / points.seen.width_px
    y = float(points.world_px[worst, 1]) / points.seen.height_px
    return tuple(_inside((x - POINT, y - POINT, x + POINT, y + POINT)))


def _shadows(case: Case, part: float) -> tuple[Box, ...]:
    """The key's shadows on the ground."""
    delivery, boxes = case.shot.delivery, []
    for outline in shadows_in_frame(case, part):
        points = np.array([p for path in outline.paths for p in path], dtype=np.float64)
        if len(points):
            parts = points / (delivery.width_px, delivery.height_px)
            boxes += _inside((*parts.min(axis=0).tolist(), *parts.max(axis=0).tolist()))
    return tuple(boxes)


def _lamps(case: Case, part: float) -> tuple[Box, ...]:
    """The lamps that stand in the picture."""
    shot, plate, boxes = case.shot, case.plate, []
    camera = shot.move.moved(case.stage.camera, part, plate.scale)
    for seen in lamps_in_picture(case):
        lamp = plate.lamps[seen.number]
        model = shot.kit.lamp(lamp.lamp_id)
        if model is None:
            continue
        half = max(shining_size(model, lamp)) / 2.0
        x, y, z = lamp.at
        ends = [(x + a, y, z + b) for a in (-half, half) for b in (-half, half)]
        pixels = camera.project(ends, 1.0, 1.0)
        if np.isfinite(pixels).all():
            boxes += _inside((*pixels.min(axis=0).tolist(), *pixels.max(axis=0).tolist()))
    return tuple(boxes)


def _inside(ends: tuple[float, ...]) -> list[Box]:
    """The part of a box that is in the delivered picture, no smaller than can be drawn around; none
    where it is all outside."""
    left, top, right, bottom = (float(v) for v in ends)
    if right < 0.0 or bottom < 0.0 or left > 1.0 or top > 1.0:
        return []
    x, y = (left + right) / 2.0, (top + bottom) / 2.0
    wide, high = (max(b - a, LEAST) / 2.0 for a, b in ((left, right), (top, bottom)))
    corners = (x - wide, y - high, x + wide, y + high)
    a, b, c, d = (min(max(v, 0.0), 1.0) for v in corners)
    return [(a, b, c, d)]


def _around(boxes: tuple[Box, ...]) -> Box:
    """One box around all of them."""
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return min(lefts), min(tops), max(rights), max(bottoms)
