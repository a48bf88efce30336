"""The keep-out strip between two halves: in the Frame, on the floor, and as marks for the tape."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from ..camera import Array
from ..plan.shot import Shot
from ..plan.standins import StandIn
from ..plan.tricks import Split
from ..polyline import dense
from ..stage.case import Case
from ..stage.clip import NEAREST_M
from ..stage.coverage import at_distance
from ..stage.in_frame import frame_at, part_at
from ..stage.marks import mark_at
from .divider import key_frames, over_px, shown_at
from .extent import Extent, Part, blur_m, extents
from .silhouette import outline

#: Depths at which the strip is drawn.
DEPTHS = 7
#: What moves is looked at at so many frames first, and at every frame about the worst.
MOMENTS = 17


@dataclass(frozen=True)
class Nearness:
    """How one part of a performer lies to the divider at its worst frame: over it by `over_px`
    (negative: clear) and by `over_m` at its distance, stage metres."""

    stand_in_id: str
    name: str
    part: Part
    over_px: float
    over_m: float
    frame: int
    #: Height in the picture at which that is, pixels from the top.
    at_y_px: float
    #: How many of the frames looked at it is over, as a part.
    share: float


@dataclass(frozen=True)
class StripAt:
    """The strip at one distance ahead of the stage's origin, stage metres: nobody of the first half
    goes right of `left_m`, nobody of the second left of `right_m`."""

    y_m: float
    left_m: float
    right_m: float


@dataclass(frozen=True)
class FloorMark:
    """One end of a line of tape on the floor: along the view from the sensor mark, aside, and from
    the two fixed points."""

    name: str
    x_m: float
    y_m: float
    from_sensor_m: float
    aside_m: float
    from_left_m: float
    from_right_m: float


def side_of(split: Split, plate_id: str | None) -> bool | None:
    """True: the first side, False: the second, None: neither."""
    if plate_id is None:
        return None
    if plate_id == split.first_id:
        return True
    return False if plate_id == split.second_id else None


def _moments(shot: Shot, split: Split) -> Array:
    moving = not shot.move.still or any(s.speed_m_s for s in shot.stand_ins)
    own = key_frames(split, shot.frames)
    if not moving:
        return own
    even = np.linspace(1, shot.frames, min(MOMENTS, shot.frames))
    return np.unique(np.concatenate([own, np.round(even)]))


def crossings(case: Case, split: Split) -> tuple[Nearness, ...]:
    """Every part of every performer of this plate against the divider, worst first; empty where the
    plate is on neither side of it, and for a still: a painting or a sky is cut along it as it is
    made. Parts outside the picture are not seen."""
    first = side_of(split, case.plate.id)
    if first is None or not split.keys or case.plate.kind == "still":
        return ()
    found = [
        crossing
        for stand_in in case.shot.stand_ins_of(case.plate)
        if stand_in.kind != "ground"
        for crossing in of_one(case, split, stand_in, first)
    ]
    return tuple(sorted(found, key=lambda c: -c.over_px))


def of_one(case: Case, split: Split, stand_in: StandIn, first: bool) -> list[Nearness]:
    """Every part of one performer of the first or the second side against the divider."""
    shot = case.shot
    frames = _seen_at(shot, split, first)
    by_part: dict[Part, dict[float, _Row]] = {}
    still = shot.move.still and not stand_in.speed_m_s
    _look(case, split, stand_in, first, frames, by_part)
    if not still:
        # Between two of those nothing turns round: the worst frame lies beside the worst of them.
        worst = {max(rows.values()).frame for rows in by_part.values()}
        step = max(float(np.diff(frames).max(initial=1.0)), 1.0)
        about = [np.arange(max(w - step, frames[0]), min(w + step, frames[-1]) + 1) for w in worst]
        more = np.setdiff1d(np.concatenate(about), frames) if about else np.empty(0)
        _look(case, split, stand_in, first, more, by_part)
    found = []
    for part, rows in by_part.items():
        row = max(rows.values())
        found.append(
            Nearness(
                stand_in.id,
                stand_in.name,
                part,
                round(row.over_px, 2),
                round(row.over_m, 4),
                round(row.frame),
                round(row.at_y_px, 1),
                sum(rows[f].over_px > 0 for f in frames if f in rows) / len(frames),
            )
        )
    return found


class _Row(NamedTuple):
    """One part at one frame, where it is worst."""

    over_px: float
    over_m: float
    frame: float
    at_y_px: float


def _look(
    case: Case,
    split: Split,
    stand_in: StandIn,
    first: bool,
    frames: Array,
    by_part: dict[Part, dict[float, _Row]],
) -> None:
    """Every part at these frames, put into `by_part`."""
    shot, plate = case.shot, case.plate
    w, h = shot.delivery.width_px, shot.delivery.height_px
    still = shot.move.still and not stand_in.speed_m_s
    parts: list[Extent] = []
    for frame in map(float, frames):
        time = part_at(shot, frame)
        camera = shot.move.moved(case.stage.camera, time, plate.scale)
        if not parts or not still:
            there = stand_in.after(shot.time.after(time))
            parts = extents(shot, plate, there, split.shine_m)
        line, feather = shown_at(shot, split, frame, w, h)
        rows = line[:, 1 if split.upright else 0]
        for extent in parts:
            near = NEAREST_M / plate.scale
            pixels, away = outline(camera, extent.corners, w, h, rows, near, split.upright)
            if not len(pixels):
                continue
            over = over_px(pixels, line, first, split.upright, feather)
            worst = int(over.argmax())
            per_px = away[worst] * camera.sensor_width_mm / camera.focal_mm / w
            by_part.setdefault(extent.part, {})[frame] = _Row(
                float(over[worst]),
                float(over[worst] * per_px),
                frame,
                float(pixels[worst, 1]),
            )


def _seen_at(shot: Shot, split: Split, first: bool) -> Array:
    """The frames at which one side of a split is looked at. Who lands what was thrown stays out of
    the picture until then."""
    frames = _moments(shot, split)
    throw = split.throw
    if throw is None or split.upright is False:
        return frames
    to_second = throw.to_x_m >= throw.from_x_m
    if to_second is first:
        return frames
    later = frames[frames > throw.frame + throw.frames]
    return later if len(later) else np.array([float(shot.frames)])


def strip_at(
    case: Case, split: Split, y_m: float, low_m: float, high_m: float, margin_m: float = 0.0
) -> StripAt | None:
    """Where the divider, with half its feather and `margin_m` to each side, runs on the upright
    plane `y_m` ahead of the origin between two heights, stage metres; None where it is not seen.

    Every frame of a moving divider counts. Inverse of the pinhole projection.
    """
    shot = case.shot
    w, h = shot.delivery.width_px, shot.delivery.height_px
    lefts, rights = [], []
    # Between keys every point goes straight, so that the line is farthest aside at one of them.
    for frame in sorted({k.frame for k in split.keys}):
        part = part_at(shot, frame)
        camera = shot.move.moved(case.stage.camera, part, case.plate.scale)
        ahead = y_m - camera.position_m[1]
        if ahead <= 0.02:
            continue
        line, feather = shown_at(shot, split, float(frame), w, h)
        # On upright beyond its ends, as in the picture.
        order = line[np.argsort(line[:, 1], kind="stable")]
        ends = np.array([(order[0, 0], -4.0 * h), (order[-1, 0], 5.0 * h)])
        fine = dense(np.concatenate([ends[:1], line, ends[1:]]), 6.0, least=2, most=200)
        at = at_distance(camera, fine, ahead, w, h)
        heights = at[:, 2]
        use = np.isfinite(at).all(axis=1) & (heights >= low_m - 0.02) & (heights <= high_m + 0.02)
        if not use.any():
            continue
        half = feather / 2.0 * ahead * camera.sensor_width_mm / camera.focal_mm / w
        lefts.append(float(at[use, 0].min()) - half - margin_m)
        rights.append(float(at[use, 0].max()) + half + margin_m)
    return StripAt(y_m, min(lefts), max(rights)) if lefts else None


def own_of(case: Case, split: Split) -> list[StandIn]:
    """What stands on either side of a split, whichever plate it is in."""
    ids = {split.first_id, split.second_id}
    return [s for s in case.shot.stand_ins if s.plate_id in ids and s.kind != "ground"]


def strip(case: Case, split: Split) -> tuple[StripAt, ...]:
    """The strip on this stage's floor from in front of the nearest performer to behind the
    farthest, as high as they are, with what a gesture smears."""
    if not split.upright or not split.keys:
        return ()
    own = own_of(case, split)
    if not own:
        return ()
    scale = case.plate.scale
    ys = [s.after(t).y_m / scale for s in own for t in (0.0, case.shot.time.whole_s)]
    near, far = max(min(ys) - 0.5 / scale, 0.15 / scale), max(ys) + 0.5 / scale
    feet = min((s.z_m - case.plate.ground_m) / scale for s in own)
    tops = max((s.z_m + s.height_m - case.plate.ground_m) / scale for s in own)
    margin = max(blur_m(case.shot, s) for s in own) / scale
    found = [
        strip_at(case, split, float(y), feet, tops, margin) for y in np.linspace(near, far, DEPTHS)
    ]
    return tuple(s for s in found if s is not None)


def floor_marks(case: Case, split: Split) -> tuple[FloorMark, ...]:
    """Tape for the strip: both edges at its nearest and farthest depth, and beside each performer
    how near the feet may come with arms out."""
    drawn = strip(case, split)
    if not drawn:
        return ()
    found = []
    for where, one in (("near", drawn[0]), ("far", drawn[-1])):
        found.append(_mark(case, f"Strip, left edge, {where}", one.left_m, one.y_m))
        found.append(_mark(case, f"Strip, right edge, {where}", one.right_m, one.y_m))
    for stand_in in own_of(case, split):
        first = side_of(split, stand_in.plate_id)
        if first is None or stand_in.kind != "figure":
            continue
        y = stand_in.y_m / case.plate.scale
        near = feet_clear_m(case, split, stand_in, first, OWN)
        if near is not None:
            found.append(_mark(case, f"{stand_in.name}: feet no nearer", near, y))
        far = feet_clear_m(case, split, stand_in, first, THROWN)
        if (
            far is not None
            and near is not None
            and (far < near - 0.01 if first else far > near + 0.01)
        ):
            found.append(_mark(case, f"{stand_in.name}: with shadow and reflection", far, y))
    return tuple(found)


#: What is somebody's own, and what light makes of it.
OWN: frozenset[Part] = frozenset({"body", "reach"})
THROWN: frozenset[Part] = frozenset({"shadow", "reflection"})
#: A feet mark this near the line is near enough, pixels.
NEAR_ENOUGH_PX = 0.3
#: How far from the line feet are looked for, world metres.
ASIDE_M = 8.0


def feet_clear_m(
    case: Case, split: Split, stand_in: StandIn, first: bool, parts: frozenset[Part]
) -> float | None:
    """How near the line the feet may come, stage metres aside, with these parts of the performer
    just clear of it at every frame; None where they are clear anywhere, or nowhere within reach."""
    side = -1.0 if first else 1.0
    scale = case.plate.scale
    line = strip_at(case, split, stand_in.y_m / scale, 0.0, stand_in.height_m / scale)
    start = 0.0 if line is None else (line.left_m + line.right_m) / 2.0 * scale

    def over(aside: float) -> float:
        there = replace(stand_in, x_m=start + side * aside)
        worst = -math.inf
        for crossing in of_one(case, split, there, first):
            if crossing.part in parts:
                worst = max(worst, crossing.over_px)
        return worst

    low, high = 0.0, ASIDE_M
    at_low = over(low)
    if at_low <= 0.0 or over(high) > 0.0:
        return None
    # Sideways steps move the picture almost in proportion, so the slope of the last step leads
    # there in a few; half-way where it does not.
    slope = (at_low - over(0.1)) / 0.1
    for _ in range(24):
        guess = low + at_low / slope + 1e-4 if slope > 0.0 else high
        middle = guess if low < guess < high else (low + high) / 2.0
        now = over(middle)
        if now > 0.0:
            slope = (at_low - now) / (middle - low)
            low, at_low = middle, now
        else:
            high = middle
            if now > -NEAR_ENOUGH_PX:
                break
            slope = 0.0 if not math.isfinite(now) else (at_low - now) / (middle - low)
    return (start + side * high) / scale


def _mark(case: Case, name: str, x: float, y: float) -> FloorMark:
    taped = mark_at(case, "", name, x, y)
    return FloorMark(
        name, x, y, taped.from_sensor_m, taped.aside_m, taped.from_left_m, taped.from_right_m
    )


def divider_px(
    shot: Shot, split: Split, part: float
) -> tuple[tuple[tuple[float, float], ...], float]:
    """The divider in the picture at `part` of the screen time and its feather, pixels."""
    w, h = shot.delivery.width_px, shot.delivery.height_px
    line, feather = shown_at(shot, split, float(frame_at(shot, part)), w, h)
    return tuple((round(float(x), 1), round(float(y), 1)) for x, y in line), feather
