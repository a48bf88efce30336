"""How post lays in what was filmed near: by scale, turn and shift, anew at every moment."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..camera import Array, Camera
from ..matching import Similarities, Similarity, fit_similarities
from .plate import Plate
from .shot import Placing, Shot
from .standins import StandIn, body_points, measured_points

#: A thing is looked at, at so many moments of the shot.
MOMENTS = 33
#: What lies farther outside the story's frame than this part of its size is not compared.
EDGE = 0.05


@dataclass(frozen=True)
class Laid:
    """How post lays the filmed picture into the story's at one moment, delivered pixels both, and
    how far the outline then departs at most, at which of its points."""

    move: Similarity
    off_px: float
    name: str


@dataclass(frozen=True)
class Fits:
    """Pictures laid into the story's at p moments, and how far (p, n) each point then departs,
    pixels: NaN where it is not in the picture, and everywhere at a moment that has less than
    three."""

    moves: Similarities
    off_px: Array

    def at(self, moment: int, names: list[str]) -> Laid | None:
        """One moment of them; None where it is not in the picture."""
        off = self.off_px[moment]
        if np.isnan(off).all():
            return None
        worst = int(np.nanargmax(off))
        return Laid(self.moves.move(moment), float(off[worst]), names[worst])


def fitted(filmed: Array, there: Array, size: Array) -> Fits:
    """What was filmed (p, n, 2) laid where the story's picture of `size` has it (p, n, 2), each
    moment for itself, by the points that are in it."""
    with np.errstate(invalid="ignore"):
        near = (there >= -EDGE * size) & (there <= (1.0 + EDGE) * size) & np.isfinite(filmed)
    use = np.asarray(near.all(axis=2))
    moves = fit_similarities(filmed, there, use)
    enough = use & (use.sum(axis=1) >= 3)[:, None]
    off = np.where(enough, np.hypot(*np.moveaxis(moves.moved - there, 2, 0)), np.nan)
    return Fits(moves, off)


def laid(shot: Shot, camera: Camera, part: float, plate: Plate | None = None) -> Laid | None:
    """How post lays in what `camera` films of a shot that is `placed`, after a part (0..1) of the
    screen time; None where less than three of its points are in the story's picture. The camera is
    the stage's own of `plate`, or stands in the story's metres."""
    placing = shot.placing
    assert placing is not None
    at = np.array([part])
    there = there_px(placing.story, asked(placing.own), at)
    return _fits(shot, camera, at, there, plate).at(0, names_of(placing))


def worst_laid(shot: Shot, camera: Camera, plate: Plate | None = None) -> tuple[float, Laid] | None:
    """The moment (a part of the screen time) at which the outline departs most, and how it is laid
    then; None where it is never in the picture."""
    placing = shot.placing
    assert placing is not None
    parts, there = watched(placing)
    fits = _fits(shot, camera, parts, there, plate)
    if np.isnan(fits.off_px).all():
        return None
    worst = int(np.nanargmax(np.where(np.isnan(fits.off_px), -1.0, fits.off_px).max(axis=1)))
    found = fits.at(worst, names_of(placing))
    return None if found is None else (float(parts[worst]), found)


def watched(placing: Placing) -> tuple[Array, Array]:
    """The moments (p,) at which a piece is looked at, and where the story has its points
    (p, n, 2) then: the same from wherever it is filmed."""

    def make() -> tuple[Array, Array]:
        parts = moments(placing)
        return parts, there_px(placing.story, asked(placing.own), parts)

    return placing.story.once(f"placed there {placing.key}", make)


def names_of(placing: Placing) -> list[str]:
    """What its points are."""
    return [name for thing in asked(placing.own) for name in points(thing)[1]]


def _fits(shot: Shot, camera: Camera, parts: Array, there: Array, plate: Plate | None) -> Fits:
    """What a camera films laid in after each of `parts` (p,), where the story has its points
    `there` (p, n, 2)."""
    placing = shot.placing
    assert placing is not None
    times = shot.time.at(parts[:1] if placing.carried else parts)
    # A mirrored plate has the story's left shoulder at its right.
    filmed_things = asked(shot.stand_ins)
    if shot.flopped:
        filmed_things = tuple(thing.mirrored() for thing in filmed_things)
    spots = points_at(filmed_things, times)
    if shot.flopped:
        spots = spots * (-1.0, 1.0, 1.0)
    flat = spots.reshape(-1, 3)
    flat = flat if plate is None else plate.on_stage(flat)
    filmed = camera.project(flat, shot.delivery.width_px, shot.delivery.height_px)
    if shot.flopped:
        filmed[:, 0] = shot.delivery.width_px - filmed[:, 0]
    filmed = np.broadcast_to(filmed.reshape(*spots.shape[:2], 2), there.shape)
    return fitted(filmed, there, size_px(placing.story))


def moments(placing: Placing) -> Array:
    """The moments (p,) of the story at which it is looked at, the largest among them."""
    story = placing.story
    if story.move.still and not any(s.speed_m_s for s in placing.own):
        return np.array([placing.part])
    return np.union1d(np.linspace(0.0, 1.0, min(story.frames, MOMENTS)), [placing.part])


def there_px(story: Shot, things: tuple[StandIn, ...], parts: Array) -> Array:
    """Where the points (p, n, 2) of things are in the story's picture after parts (p,) of the
    time; NaN for those behind the camera."""
    path = story.move.along(story.world.camera(story.delivery), parts)
    spots = points_at(things, story.time.at(parts))
    pixels, _ = path.project(spots, story.delivery.width_px, story.delivery.height_px)
    return pixels


def size_px(story: Shot) -> Array:
    return np.array([story.delivery.width_px, story.delivery.height_px], dtype=np.float64)


def asked(things: tuple[StandIn, ...]) -> tuple[StandIn, ...]:
    return tuple(s for s in things if s.kind != "ground" and s.matters != "none")


def points(thing: StandIn) -> tuple[Array, tuple[str, ...]]:
    """Points (n, 3) of a thing that its outline hangs on, and what they are."""
    measured, body = measured_points(thing), body_points(thing)
    return np.concatenate([measured.points, body.points]), measured.names + body.names


def points_at(things: tuple[StandIn, ...], seconds: Array) -> Array:
    """The points (p, n, 3) of things after seconds (p,) of the story."""
    spots, speeds = [], []
    for thing in things:
        own = points(thing)[0]
        turn = math.radians(thing.course_deg)
        way = thing.speed_m_s * np.array([math.sin(turn), math.cos(turn), 0.0])
        spots.append(own)
        speeds.append(np.broadcast_to(way, own.shape))
    found: Array = np.concatenate(spots) + seconds[:, None, None] * np.concatenate(speeds)
    return found
