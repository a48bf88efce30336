"""A piece filmed near and placed in post: the view that its stage has of it.

What is far away in the story is filmed from near, from the same side and the same height of view,
as large as the frame allows; post makes it smaller and lays it where it belongs. From nearer by the
near parts of it grow against the far ones, and that is all that gives it away.

The stage gets a story of its own: a camera on the line from the story's camera to the thing, its
frame just around the thing, its picture counted in the story's delivered pixels. All rules then
ask of that picture what they ask of any other.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..camera import Array, Camera
from .laid import (
    MOMENTS,
    asked,
    fitted,
    laid,
    moments,
    points,
    points_at,
    size_px,
    there_px,
    watched,
)
from .plate import Plate
from .shot import Placing, Shot
from .standins import StandIn
from .view import View
from .world import Delivery, Move, WorldCamera

#: Picture kept around the thing, as a part of the frame, each side: room for hair and hands
#: (judgement).
KEPT_AROUND = 1.0 / 12.0
#: Nobody is offered to stand nearer to a thing than so many times its size: its outline says
#: nothing of a nose (judgement).
NEAREST_SIZES = 2.0
#: A filmed frame has no fewer delivered pixels than this, however small the thing is.
LEAST_PX = 32
#: It is no more times as high as it is wide, nor as wide as high.
SLIMMEST = 3
#: Distances are offered in steps of this, story metres.
STEP_M = 0.1


def placed(story: Shot, plate: Plate) -> Shot:
    """The story as the stage of a plate has it that is placed in post; the story itself where it is
    not, or where nothing of it is ever in the picture."""
    lead, key = _lead(story, plate), key_of(story, plate)
    if lead is None or key is None:
        return story
    return story.once(f"placed {key}", lambda: _placed(story, lead, key))


def is_placed(story: Shot, plate: Plate) -> bool:
    """Whether a plate is to be placed in post, itself or with its lock-off."""
    return _lead(story, plate) is not None


def key_of(story: Shot, plate: Plate) -> tuple[object, ...] | None:
    """The decisions that its placing follows from; None where it is not placed."""
    lead = _lead(story, plate)
    if lead is None:
        return None
    return lead.id, lead.placed_from_m, lead.walks_on_set, *sorted(_filmed_with(story, lead))


def _filmed_with(story: Shot, lead: Plate) -> set[str]:
    """The plates that one camera films together with it: its lock-off."""
    if not lead.lock_group:
        return {lead.id}
    return {lead.id, *(p.id for p in story.plates if p.lock_group == lead.lock_group)}


def deeper_m(shot: Shot, part: float) -> float:
    """How much farther from the camera the story has it than it is filmed, after a part of the
    screen time, along either lens axis, story metres."""
    placing = shot.placing
    assert placing is not None
    story = placing.story
    camera = _camera(story, part)
    middle = _middle(asked(placing.own), story.time.after(part))
    return float(camera.to_camera(middle[None])[0, 2]) - placing.from_m


def nearest_m(placing: Placing) -> float:
    """How near the camera may come before the outline shows more than nobody notices, story metres:
    no nearer than twice the size of the thing, no farther than the story's camera."""
    most = placing.story.base_tolerance_px
    spots = np.concatenate([points(thing)[0] for thing in asked(placing.own)])
    size = float(np.linalg.norm(np.ptp(spots, axis=0)))
    low, high = min(max(NEAREST_SIZES * size, STEP_M), placing.story_m), placing.story_m

    middle, eye = _sight(placing)
    ahead = (middle - eye) / placing.story_m
    parts, there = watched(placing)
    gone = placing.story.time.at(np.array([placing.part]) if placing.carried else parts)
    own = points_at(asked(placing.own), gone)
    plain = _camera(placing.story, placing.part)

    def holds(from_m: float) -> bool:
        # Any focal length: what is laid in is made as large as the story has it.
        camera = replace(
            plain,
            position_m=tuple((middle - from_m * ahead).tolist()),
            pan_deg=math.degrees(math.atan2(ahead[0], ahead[1])),
            tilt_deg=math.degrees(math.asin(ahead[2])),
            roll_deg=0.0,
        )
        delivery = placing.story.delivery
        filmed = camera.project(own.reshape(-1, 3), delivery.width_px, delivery.height_px)
        filmed = np.broadcast_to(filmed.reshape(*own.shape[:2], 2), there.shape)
        off = fitted(filmed, there, size_px(placing.story)).off_px
        return not (np.nan_to_num(off) > most).any()

    found = low if holds(low) else _least(holds, low, high)
    return min(round(math.ceil(found / STEP_M - 1e-9) * STEP_M, 6), placing.story_m)


def _least(holds: Callable[[float], bool], low: float, high: float) -> float:
    """The least between two distances that holds, where `high` does, to a hundredth of itself."""
    while high > low * 1.01:
        middle = math.sqrt(low * high)
        low, high = (low, middle) if holds(middle) else (middle, high)
    return high


def _lead(story: Shot, plate: Plate) -> Plate | None:
    """The plate that decides how this one is placed: itself, or one of its lock-off, which shares
    its camera. A crowd is laid out in the story's own picture."""
    if plate.placed_in_post:
        return plate if plate.crowd is None else None
    if not plate.lock_group:
        return None
    others = (p for p in story.plates if p.lock_group == plate.lock_group and p.id != plate.id)
    return next((p for p in others if p.placed_in_post and p.crowd is None), None)


def _placed(story: Shot, lead: Plate, key: tuple[object, ...]) -> Shot:
    filmed = _filmed_with(story, lead)
    own = tuple(s for s in story.stand_ins if s.plate_id in filmed)
    # What is never in the picture is no part of the piece.
    own = tuple(s for s in own if s.kind == "ground" or _largest(story, (s,)) is not None)
    part = _largest(story, asked(own))
    if part is None:
        return story
    middle = _middle(asked(own), story.time.after(part))
    eye = np.asarray(_camera(story, part).position_m)
    story_m = float(np.linalg.norm(middle - eye))
    if story_m < STEP_M:
        # Around the camera: from there is no line of sight.
        return story
    placing = Placing(
        story=story,
        own=own,
        part=part,
        story_m=story_m,
        from_m=story_m,
        down_deg=math.degrees(math.asin((eye[2] - middle[2]) / story_m)),
        carried=not lead.walks_on_set,
        key=key,
    )
    wanted = nearest_m(placing) if lead.placed_from_m is None else lead.placed_from_m
    return _from(replace(placing, from_m=wanted))


def _from(placing: Placing) -> Shot:
    """The story as a camera has it that stands `from_m` from the thing on the line of sight."""
    story, part = placing.story, placing.part
    gone = story.time.after(part)
    middle, eye = _sight(placing)
    ahead = (middle - eye) / placing.story_m
    at = middle - placing.from_m * ahead
    turned = math.degrees(math.atan2(ahead[0], ahead[1]))
    here = View("", "", story.world, right_m=float(at[0]), ahead_m=float(at[1]), turned_deg=turned)
    standing = placing.own
    if placing.carried:
        standing = tuple(replace(s.after(gone), speed_m_s=0.0) for s in standing)
    own = tuple(here.from_here(s) for s in standing)
    key = story.key_from_deg
    shot = replace(
        story,
        world=WorldCamera(
            sensor_width_mm=story.world.sensor_width_mm,
            focal_mm=story.world.sensor_width_mm,
            height_m=float(at[2]),
            tilt_deg=math.degrees(math.asin(ahead[2])),
            shutter_deg=story.world.shutter_deg,
        ),
        move=Move(),
        tolerance_px=story.base_tolerance_px,
        padding=0.0,
        stand_ins=own,
        views=(),
        splits=(),
        reframe=None,
        # Air of the story is put on in post; there is next to none before a near camera.
        visibility_m=None,
        key_from_deg=None if key is None else key - turned,
        placing=placing,
    )
    return _framed(shot, placing)


def _framed(shot: Shot, placing: Placing) -> Shot:
    """The same with its frame just around the thing, as large as the story's delivered picture
    shows that much of it."""
    aspect = placing.story.delivery.aspect
    # Sensor as wide as the focal length is long: slopes are parts of a picture one unit wide.
    wide = 1000
    plain = replace(shot, delivery=Delivery(wide, round(wide / aspect), shot.delivery.fps))
    camera = plain.world.camera(plain.delivery)
    laid_in = laid(plain, camera, placing.part)
    grows = 1.0 if laid_in is None else laid_in.move.scale
    parts = np.array([placing.part]) if placing.carried else moments(placing)
    times = plain.time.at(parts)
    spots = points_at(asked(plain.stand_ins), times).reshape(-1, 3)
    pixels = camera.project(spots, wide, plain.delivery.height_px)
    away = np.abs(pixels - (wide / 2.0, plain.delivery.height_px / 2.0))
    half_wide, half_high = np.nanmax(away, axis=0) / (1.0 - 2.0 * KEPT_AROUND)
    wide_px, high_px = (
        math.ceil(max(2.0 * half * grows, LEAST_PX)) for half in (half_wide, half_high)
    )
    wide_px, high_px = max(wide_px, high_px // SLIMMEST), max(high_px, wide_px // SLIMMEST)
    delivery = Delivery(wide_px, high_px, shot.delivery.fps)
    # Focal length in delivered pixels: as the story's picture has what it films.
    focal_px = wide * grows
    world = shot.world
    focal = world.sensor_width_mm * focal_px / delivery.width_px
    return replace(shot, delivery=delivery, world=replace(world, focal_mm=focal))


def _largest(story: Shot, things: tuple[StandIn, ...]) -> float | None:
    """The part of the screen time after which one of the things is largest in the story's picture;
    None where none ever is in it."""
    parts = np.linspace(0.0, 1.0, min(story.frames, MOMENTS))
    if story.move.still and not any(thing.speed_m_s for thing in things):
        parts = parts[:1]
    large = np.zeros(len(parts))
    for thing in things:
        spots = there_px(story, (thing,), parts)
        # What passes the lens, a part of it behind, is not placed from afar.
        low, high = spots.min(axis=1), spots.max(axis=1)
        with np.errstate(invalid="ignore"):
            shown = (high >= 0.0).all(axis=1) & (low <= size_px(story)).all(axis=1)
        large = np.where(shown, np.maximum(large, (high - low).max(axis=1)), large)
    if not large.any():
        return None
    # The first of those that are as large, to rounding.
    return float(parts[np.flatnonzero(large >= large.max() * (1.0 - 1e-9))[0]])


def _camera(story: Shot, part: float) -> Camera:
    """The story's camera after a part of the screen time."""
    return story.move.moved(story.world.camera(story.delivery), part)


def _sight(placing: Placing) -> tuple[Array, Array]:
    """The middle (3,) of a piece and the story's camera (3,), when it is largest."""
    story, part = placing.story, placing.part
    middle = _middle(asked(placing.own), story.time.after(part))
    return middle, np.asarray(_camera(story, part).position_m)


def _middle(things: tuple[StandIn, ...], seconds: float) -> Array:
    """The middle (3,) of what things take up after so many seconds of the story."""
    spots = np.concatenate([points(thing.after(seconds))[0] for thing in things])
    middle: Array = (spots.min(axis=0) + spots.max(axis=0)) / 2.0
    return middle
