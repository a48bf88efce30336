"""Where the people of a crowd stand, and which pass films which of them, so that no two passes
overlap."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from ...camera import Array
from ...impossible import Impossible
from ...plan.shot import Shot
from ...plan.tricks import Crowd
from ...stage.case import Case

#: Height and shoulder width of a person, with room for a step to each side, metres.
TALL_M, WIDE_M = 1.7, 0.6
#: Feet, elbows and heads, above the ground: what of a person may lie farthest out.
LEVELS_M = (0.0, 0.6 * TALL_M, TALL_M)
#: Between two passes stays this much of the picture, pixels at 1920 wide: room for a soft edge.
GAP_PX = 10.0
#: More places than this are not laid out.
MOST = 1500


@dataclass(frozen=True)
class CrowdPlace:
    """One person of the crowd: world metres, where it is in the picture (foot, and the top), its
    left and right edge there, its row from the front and its pass from 0."""

    x_m: float
    y_m: float
    row: int
    tile: int
    foot_px: tuple[float, float]
    top_px: float
    left_px: float
    right_px: float


@dataclass(frozen=True)
class CrowdRow:
    """One row: its distance in the story, how many stand there, how tall a person is in the
    picture, and how much of a head shows over the row before it, as a part of that head."""

    y_m: float
    count: int
    tall_px: float
    head_shows: float


@dataclass(frozen=True)
class CrowdTile:
    """One pass: its people and its part of the picture, pixels from the left; between this and the
    next nobody stands."""

    number: int
    people: int
    left_px: float
    right_px: float


@dataclass(frozen=True)
class Laid:
    """A crowd laid out. `lost` were left out because they would stand across two passes; `outside`
    because the picture does not show them."""

    places: tuple[CrowdPlace, ...]
    rows: tuple[CrowdRow, ...]
    tiles: tuple[CrowdTile, ...]
    lost: int
    outside: int


def check_crowd(crowd: Crowd) -> None:
    """Refuse an area that is none (Impossible)."""
    if crowd.left_m >= crowd.right_m:
        raise Impossible(
            "The crowd's area runs from left to right: make left the smaller number.", "left_m"
        )
    if crowd.near_m > crowd.far_m:
        raise Impossible(
            "The crowd runs away from the camera: make near the smaller number.", "near_m"
        )
    wide = (crowd.right_m - crowd.left_m) / crowd.spacing_m
    deep = (crowd.far_m - crowd.near_m) / crowd.row_m + 1
    if wide * deep > MOST:
        raise Impossible(f"This area holds more than {MOST} people: space them wider.", "spacing_m")


def grid(crowd: Crowd) -> list[tuple[float, float, int]]:
    """Every place (x, y, row) of the area in staggered rows, front row first."""
    rows = math.floor((crowd.far_m - crowd.near_m) / crowd.row_m + 1e-9) + 1
    found = []
    for row in range(rows):
        y = crowd.near_m + row * crowd.row_m
        start = crowd.left_m + (crowd.spacing_m / 2.0 if row % 2 else 0.0)
        count = math.floor((crowd.right_m - start) / crowd.spacing_m + 1e-9) + 1
        found += [(start + i * crowd.spacing_m, y, row) for i in range(max(count, 0))]
    return found


def lay_out(shot: Shot, crowd: Crowd) -> Laid:
    """Lay the crowd out: people from left to right fill one pass after the other, at most
    `crowd.people` in each; who would stand across the line to the pass before is left out. Ends
    when `crowd.wanted` stand. The area is told in the story: where the shot stands mirrored, so
    does the area.

    Raises Impossible for an area that is none.
    """
    check_crowd(crowd)
    side = -1.0 if shot.flopped else 1.0
    spots = [(side * x, y, row) for x, y, row in grid(crowd)]
    w, h = shot.delivery.width_px, shot.delivery.height_px
    camera = shot.world.camera(shot.delivery)
    if not spots:
        return Laid((), (), (), 0, 0)
    xy = np.array([(x, y) for x, y, _ in spots])
    half, ground = WIDE_M / 2.0, crowd.ground_m
    corners = ((0, 0.0), (0, TALL_M), *((side, up) for up in LEVELS_M for side in (-half, half)))
    feet, tops, *edges = (
        camera.project(
            np.column_stack([xy[:, 0] + dx, xy[:, 1], np.full(len(xy), ground + up)]), w, h
        )
        for dx, up in corners
    )
    # A camera that looks down or leans lays heads and arms out beyond the feet.
    lefts, rights = np.min(edges, axis=0), np.max(edges, axis=0)
    seen = np.isfinite(feet).all(axis=1) & np.isfinite(tops).all(axis=1)
    seen &= (lefts[:, 0] >= 0) & (rights[:, 0] <= w) & (tops[:, 1] < h) & (feet[:, 1] > 0)
    outside = int((~seen).sum())
    order = [int(i) for i in np.argsort(lefts[:, 0], kind="stable") if seen[i]]
    gap = GAP_PX * w / 1920.0
    # Passes lose people at their edges: as many more are laid out as it takes.
    start = min(crowd.wanted, len(order))
    step = max((len(order) - start) // 60, 1)
    for count in [*range(start, len(order), step), len(order)]:
        chosen, lost = _passes(_thinned(order, count), crowd.people, lefts[:, 0], rights[:, 0], gap)
        if len(chosen) >= crowd.wanted:
            break
    places = tuple(
        CrowdPlace(
            round(spots[i][0], 3),
            round(spots[i][1], 3),
            spots[i][2],
            tile,
            (round(float(feet[i, 0]), 1), round(float(feet[i, 1]), 1)),
            round(float(tops[i, 1]), 1),
            round(float(lefts[i, 0]), 1),
            round(float(rights[i, 0]), 1),
        )
        for i, tile in chosen
    )
    return Laid(places, _rows(places, crowd), _tiles(places, w), lost, outside)


def _thinned(order: list[int], count: int) -> list[int]:
    """`count` of them, evenly over all."""
    if len(order) <= count:
        return order
    at = np.unique(np.round(np.linspace(0, len(order) - 1, count)).astype(int))
    return [order[i] for i in at]


def _passes(
    order: list[int], people: int, lefts: Array, rights: Array, gap: float
) -> tuple[list[tuple[int, int]], int]:
    """Places with their pass, filled from the left, and how many were lost to the lines between."""
    chosen: list[tuple[int, int]] = []
    lost, tile, here = 0, 0, 0
    edge, end = -math.inf, -math.inf
    for i in order:
        if here == people:
            tile, here, edge = tile + 1, 0, end + gap
        if lefts[i] < edge:
            lost += 1
            continue
        end = max(end, float(rights[i]))
        here += 1
        chosen.append((i, tile))
    return chosen, lost


def _rows(places: tuple[CrowdPlace, ...], crowd: Crowd) -> tuple[CrowdRow, ...]:
    found: list[CrowdRow] = []
    before: float | None = None
    for row in sorted({p.row for p in places}):
        own = [p for p in places if p.row == row]
        tall = own[0].foot_px[1] - own[0].top_px
        head = tall / 8.0
        # Farther away than a pixel shows, nobody stands before anybody.
        open_px = head if before is None else before - own[0].top_px
        shows = min(max(open_px / head, 0.0), 1.0) if head > 0.0 else 1.0
        before = own[0].top_px if before is None else min(before, own[0].top_px)
        found.append(CrowdRow(own[0].y_m, len(own), round(tall, 1), round(shows, 3)))
    return tuple(found)


def _tiles(places: tuple[CrowdPlace, ...], width_px: float) -> tuple[CrowdTile, ...]:
    groups = [
        [p for p in places if p.tile == n]
        for n in range(max((p.tile for p in places), default=-1) + 1)
    ]
    edges = [0.0]
    for a, b in itertools.pairwise(groups):
        edges.append((max(p.right_px for p in a) + min(p.left_px for p in b)) / 2.0)
    edges.append(float(width_px))
    return tuple(
        CrowdTile(n, len(group), round(edges[n], 1), round(edges[n + 1], 1))
        for n, group in enumerate(groups)
    )


@dataclass(frozen=True)
class ScreenRow:
    """How one row is filmed before a screen so that its perspective agrees: from how far (at most
    what the room leaves), how high the lens, how much smaller it is laid in, and by how many
    degrees the look at the heads is then still wrong."""

    row: int
    world_m: float
    film_m: float
    lens_m: float
    shrink: float
    off_deg: float


def screen_rows(case: Case, laid: Laid, ground_m: float, most_m: float) -> tuple[ScreenRow, ...]:
    """Every row before a screen that can be at most `most_m` from the lens. The lens is set so that
    feet are looked at under the story's angle: h' = h d' / d. Source: similar triangles."""
    height = case.shot.world.height_m - ground_m
    found = []
    for number, row in enumerate(laid.rows):
        film = min(row.y_m, most_m)
        lens = height * film / row.y_m
        true = math.atan2(height - TALL_M, row.y_m)
        got = math.atan2(lens - TALL_M, film)
        found.append(
            ScreenRow(
                number,
                row.y_m,
                film,
                lens,
                film / row.y_m,
                math.degrees(abs(true - got)),
            )
        )
    return tuple(found)
