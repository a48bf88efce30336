"""What the demo's crew picked in its pictures: marks on the miniature, balls held up where somebody
sits, and the edges of the photograph of 1911, which is drawn here."""

from __future__ import annotations

import tempfile
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image, ImageDraw

from jungoptic.core.camera import Camera
from jungoptic.core.filmed.marks import offered
from jungoptic.core.picked.edges import horizon_of
from jungoptic.core.picked.seen import Direction, Edge, Upright
from jungoptic.core.stage.case import Case
from jungoptic.devices.balls import held_up, outlined

from ..pictures.judging import Plans
from ..pictures.models import Picture
from ..pictures.picked import picked_by
from ..productions.models import Production
from ..takes.files import facts
from .films import hung

#: Of the still of the miniature; a hand picks to about half a pixel.
MARKED, MARKS, HAND_PX = "S002 mill", 6, 0.5
BALLED = "S003 balls"
#: The photograph that the last shot recreates.
OLD = "View over the lock, 1911"
SIZE = 1600, 1200
#: Nobody knows it any more: this is what the edges have to find.
OF_1911 = Camera(36.0, 27.0, 38.0, (0.0, 0.0, 1.55), 22.0, 3.0, 0.6)
#: Middle of the front, width, depth, height (metres), and how light it is: the quay's houses, the
#: lock's wall, a crate.
BOXES = (
    ((-7.0, 16.0), 9.0, 14.0, 6.5, 0.72),
    ((9.5, 22.0), 8.0, 10.0, 9.0, 0.58),
    ((19.0, 26.0), 7.0, 12.0, 7.0, 0.66),
    ((7.0, 11.0), 3.0, 5.0, 0.9, 0.5),
    ((2.2, 9.0), 1.2, 1.0, 0.8, 0.42),
)
#: Somebody 1.70 m tall, with a hat, on the quay.
MAN, TALL = (4.6, 8.2), 1.70
#: Edges that were traced, each from one end to the other: roofs, a row of windows, planks, corners
#: of houses. What lies out of the picture nobody could trace.
TRACED: tuple[tuple[Direction, tuple[float, float, float], tuple[float, float, float]], ...] = (
    ("across", (5.5, 11.0, 0.9), (8.5, 11.0, 0.9)),
    ("across", (1.6, 9.0, 0.8), (2.8, 9.0, 0.8)),
    ("across", (6.6, 22.0, 5.2), (12.4, 22.0, 5.2)),
    ("across", (15.5, 26.0, 7.0), (22.5, 26.0, 7.0)),
    ("ahead", (5.5, 11.0, 0.9), (5.5, 16.0, 0.9)),
    ("ahead", (2.4, 3.5, 0.0), (2.4, 9.0, 0.0)),
    ("ahead", (0.0, 3.5, 0.0), (0.0, 12.0, 0.0)),
    ("ahead", (5.5, 22.0, 9.0), (5.5, 32.0, 9.0)),
    ("up", (5.5, 22.0, 0.0), (5.5, 22.0, 9.0)),
    ("up", (13.5, 22.0, 1.5), (13.5, 22.0, 9.0)),
    ("up", (22.5, 26.0, 0.0), (22.5, 26.0, 7.0)),
)


def _corner(box: Any, right: int, back: int, top: int) -> tuple[float, float, float]:
    (x, y), wide, deep, high, _ = box
    return x + (right - 0.5) * wide, y + back * deep, top * high


def _seen(points: Any) -> Any:
    return OF_1911.project(points, *SIZE)


def photograph() -> Image.Image:
    """The view over the lock as somebody photographed it, brown with age."""
    picture = Image.new("L", SIZE, 205)
    pen = ImageDraw.Draw(picture)

    def face(points: Any, tone: float) -> None:
        places = [tuple(float(v) for v in one) for one in _seen(points)]
        if np.isfinite(places).all():
            pen.polygon(places, fill=round(255 * tone), outline=round(200 * tone))

    left, right = (part * SIZE[1] for part in horizon_of(OF_1911))
    pen.polygon([(0, SIZE[1]), (0, left), (SIZE[0], right), SIZE], fill=118)
    for number in range(-12, 40):
        # Planks of the quay, away from the lens.
        x = number * 0.8
        face([(x, 3.5, 0), (x + 0.06, 3.5, 0), (x + 0.06, 40, 0), (x, 40, 0)], 0.36)
    for box in sorted(BOXES, key=lambda one: -one[0][1]):
        tone = box[4]
        sides = (
            ([(1, 0), (1, 1)], 0.7 * tone) if box[0][0] < 0 else ([(0, 0), (0, 1)], 0.7 * tone),
            ([(0, 0), (1, 0)], tone),
        )
        roof = [_corner(box, r, b, 1) for r, b in ((0, 0), (1, 0), (1, 1), (0, 1))]
        face(roof, 0.85 * tone)
        for ((r1, b1), (r2, b2)), shade in sides:
            face(
                [
                    _corner(box, *ends)
                    for ends in ((r1, b1, 0), (r2, b2, 0), (r2, b2, 1), (r1, b1, 1))
                ],
                shade,
            )
        _windows(box, face)
    x, y = MAN
    for low, high, half in ((0.0, 0.82, 0.14), (0.8, 1.45, 0.24), (1.42, 1.62, 0.1)):
        ends = ((x - half, low), (x + half, low), (x + half, high), (x - half, high))
        face([(a, y, b) for a, b in ends], 0.16)
    face([(x - 0.17, y, 1.6), (x + 0.17, y, 1.6), (x + 0.12, y, TALL), (x - 0.12, y, TALL)], 0.1)
    grain = np.random.default_rng(1911).normal(0.0, 6.0, SIZE[::-1])
    grey = np.clip(np.asarray(picture, float) + grain, 0, 255) / 255.0
    brown = np.stack([grey**0.85, 0.9 * grey, 0.72 * grey**1.1], axis=2)
    return Image.fromarray((255.0 * brown).astype(np.uint8))


def _windows(box: Any, face: Any) -> None:
    (x, y), wide, _, high, tone = box
    if high < 2.0:
        return
    for floor in range(int(high / 2.8)):
        for part in (-0.3, 0.0, 0.3):
            left, low = x + part * wide - 0.5, 1.0 + 2.8 * floor
            ends = ((left, low), (left + 1.0, low), (left + 1.0, low + 1.4), (left, low + 1.4))
            face([(a, y - 0.01, b) for a, b in ends], 0.35 * tone)


def edges() -> tuple[list[Edge], list[Upright]]:
    """What was traced in it, by hand: to about a pixel."""
    hand = np.random.default_rng(14)
    found = []
    for direction, one, two in TRACED:
        along = np.linspace(one, two, 200)
        parts = _seen(along) / SIZE
        inside = parts[((parts > 0.005) & (parts < 0.995)).all(axis=1)]
        ends = inside[[0, -1]] + hand.normal(0.0, 0.7, (2, 2)) / SIZE
        found.append(Edge(direction, *(round(float(v), 5) for v in ends.ravel())))
    ends = (_seen([(*MAN, 0.0), (*MAN, TALL)]) + hand.normal(0.0, 0.7, (2, 2))) / SIZE
    return found, [Upright(TALL, *(round(float(v), 5) for v in ends.ravel()))]


def lay(production: Production, user: Any) -> None:
    """Pick the marks and edges, and keep what they say."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "view-over-the-lock-1911.jpg"
        photograph().save(path, "JPEG", quality=80)
        picture = hung(
            production,
            user,
            path,
            OLD,
            "From the museum; nobody knows the camera.",
            shot=production.shots.get(number="14"),
            role="reference",
        )
    traced, uprights = edges()
    picture.edges = [asdict(one) for one in traced]
    picture.uprights = [asdict(one) for one in uprights]
    _keep(picture)
    still = Picture.objects.filter(production=production, name=MARKED).first()
    if still is not None:
        still.marks = _marks(still)
        _keep(still)
    balls = Picture.objects.filter(production=production, name=BALLED).first()
    if balls is not None:
        balls.balls = _balls(balls)
        _keep(balls)


def _keep(picture: Picture) -> None:
    read = facts(picture)
    assert read is not None
    picture.picked = picked_by(picture, read)
    picture.save()


def _marks(picture: Picture) -> list[dict[str, Any]]:
    plan, read = Plans().of(picture), facts(picture)
    case = None if plan is None else Case.of(*plan)
    assert case is not None
    assert read is not None
    hand = np.random.default_rng(2)
    inside = [one for one in offered(case) if one.x is not None and one.y is not None]
    found = []
    for one in inside[:: max(len(inside) // MARKS, 1)][:MARKS]:
        away = hand.normal(0.0, HAND_PX, 2) / (read.width_px, read.height_px)
        found.append(
            {
                **{n: round(getattr(one, n), 4) for n in ("right_m", "ahead_m", "up_m")},
                "name": one.name,
                "x": round(float((one.x or 0.0) + away[0]), 5),
                "y": round(float((one.y or 0.0) + away[1]), 5),
            }
        )
    return found


def _balls(picture: Picture) -> list[dict[str, Any]]:
    plan = Plans().of(picture)
    case = None if plan is None else Case.of(*plan)
    assert case is not None
    hand = np.random.default_rng(3)
    found = []
    for one in outlined(case, held_up(case)):
        x, y, radius = hand.normal(0.0, HAND_PX, 3) / picture.look_width_px
        moved = {"x": one.x + x, "y": one.y + y, "radius": one.radius + radius}
        found.append({"kind": one.kind, **{n: round(float(v), 5) for n, v in moved.items()}})
    return found
