"""A sketch drawn from the Frame: what the world camera sees, as a hand would outline it."""

from __future__ import annotations

import itertools
import math
import random

import numpy as np
from PIL import Image, ImageDraw

from jungoptic.core.drawings.frame import draw
from jungoptic.core.drawings.stage.common import convex_hull
from jungoptic.core.plan import Shot
from jungoptic.core.plan.standins import StandIn

from ..reading.picture import PAPER, Stored, keep

#: Drawn at this many times the size and shrunk, so that lines are smooth.
OVERSAMPLE = 2
WIDTH_PX = 1280
INK = (44, 39, 32)
GROUND = (232, 226, 213)
#: How many lines draw a whole box; fewer or more means that it was cut at the lens.
BOX_LINES = 6
FAR, NEAR = (222, 214, 198), (176, 166, 147)


def sketch(shot: Shot, seed: int = 1) -> Stored:
    """The world of `shot` as a sketch at the delivery aspect. The same shot gives the same lines:
    the hand's wobble comes from `seed`."""
    width = WIDTH_PX * OVERSAMPLE
    height = max(round(width / shot.delivery.aspect), 16)
    camera = shot.world.camera(shot.delivery)
    picture = Image.new("RGB", (width, height), PAPER)
    canvas = ImageDraw.Draw(picture)
    hand = random.Random(seed)
    seen = draw(camera, shot.stand_ins, 1.0, width, height)
    if seen.horizon is not None:
        left, right = seen.horizon
        canvas.polygon([(0, left), (width, right), (width, height), (0, height)], fill=GROUND)
        _hatch(canvas, hand, width, height, left, right)
    paths = {o.stand_in_id: o.paths for o in seen.outlines}
    farthest = sorted(shot.stand_ins, key=lambda s: (s.kind != "ground", -_away(s)))
    span = max((_away(s) for s in shot.stand_ins), default=1.0)
    for stand_in in farthest:
        lines = [[(x, y) for x, y in path] for path in paths.get(stand_in.id, ())]
        if not lines:
            continue
        if stand_in.kind == "box" and len(lines) == BOX_LINES:
            tone = _tone(_away(stand_in) / span)
            for face in _faces(lines):
                canvas.polygon(face, fill=tone)
                _stroke(canvas, hand, [*face, face[0]], 4)
            continue
        if stand_in.kind != "ground":
            for shape in _shapes(stand_in, lines):
                if len(shape) > 2:
                    canvas.polygon(shape, fill=_tone(_away(stand_in) / span))
        for line in lines:
            _stroke(canvas, hand, line, 2 if stand_in.kind == "ground" else 4)
    canvas.rectangle((0, 0, width - 1, height - 1), outline=INK, width=3)
    picture = picture.resize((width // OVERSAMPLE, height // OVERSAMPLE), Image.Resampling.LANCZOS)
    return keep(picture, "PNG")


def _faces(
    lines: list[list[tuple[float, float]]],
) -> list[list[tuple[float, float]]]:
    """The sides of a box that are turned to the camera, from its drawn lines.

    A side is seen where its corners run the same way round in the picture as from outside.
    """
    bottom, top = lines[0], lines[1]  # front left, front right, back right, back left
    sides = [
        [bottom[0], bottom[1], top[1], top[0]],  # front
        [bottom[1], bottom[2], top[2], top[1]],  # right
        [bottom[2], bottom[3], top[3], top[2]],  # back
        [bottom[3], bottom[0], top[0], top[3]],  # left
        [top[0], top[1], top[2], top[3]],
        [bottom[3], bottom[2], bottom[1], bottom[0]],
    ]

    def turned_to_us(side: list[tuple[float, float]]) -> bool:
        around = zip(side, [*side[1:], side[0]], strict=True)
        # The picture's y runs down, so what runs anticlockwise from outside has a negative area.
        return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in around) < 0

    return [side for side in sides if turned_to_us(side)]


def _away(stand_in: StandIn) -> float:
    return max(stand_in.y_m, 0.1)


def _tone(far: float) -> tuple[int, ...]:
    """Pale far away, darker near: the air between."""
    return tuple(round(n + (f - n) * math.sqrt(far)) for n, f in zip(NEAR, FAR, strict=True))


def _shapes(
    stand_in: StandIn, lines: list[list[tuple[float, float]]]
) -> list[list[tuple[float, float]]]:
    """What covers what is behind: a figure's own outline, anything else's convex hull."""
    if stand_in.kind == "figure":
        return lines
    return [list(convex_hull(np.array([p for line in lines for p in line])))]


def _stroke(
    canvas: ImageDraw.ImageDraw,
    hand: random.Random,
    line: list[tuple[float, float]],
    width: int,
) -> None:
    """A line as a hand draws it: split into short pieces, each a little off."""
    points: list[tuple[float, float]] = []
    for (x0, y0), (x1, y1) in itertools.pairwise(line):
        far = math.hypot(x1 - x0, y1 - y0)
        # What lies far outside the picture is not worth a thousand strokes.
        pieces = min(max(int(far / 60), 1), 60)
        for i in range(pieces):
            part = i / pieces
            off = 1.4 if 0 < i < pieces else 0.5
            points.append(
                (
                    x0 + (x1 - x0) * part + hand.uniform(-off, off),
                    y0 + (y1 - y0) * part + hand.uniform(-off, off),
                )
            )
    points.append(line[-1])
    canvas.line(points, fill=INK, width=width, joint="curve")


def _hatch(
    canvas: ImageDraw.ImageDraw,
    hand: random.Random,
    width: int,
    height: int,
    left: float,
    right: float,
) -> None:
    """The horizon, and a few level strokes that thin out towards it."""
    _stroke(canvas, hand, [(0, left), (width, right)], 3)
    middle = (left + right) / 2.0
    room = height - middle
    for i in range(1, 9):
        y = middle + room * (i / 9.0) ** 2
        if not 0 < y < height:
            continue
        x = hand.uniform(0, width * 0.7)
        _stroke(canvas, hand, [(x, y), (x + width * hand.uniform(0.08, 0.25), y)], 2)
