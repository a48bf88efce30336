"""What makes a recipe's trick work beside its plates: lines between them, throws, beats, what
carries a thing, markers, the marks of a crowd."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ...plan.shot import Shot
from ...plan.standins import StandIn, measured_points
from ...plan.tricks import Beat, Crowd, DividerKey, Markers, Rig, Split, Throw
from .model import Between, Happens, Pass, Recipe
from .placing import unit_distance_m

#: Where a line runs when nothing says where: parts of the picture.
MIDDLE = 0.5
#: A line stays this far from the edges of the picture, as a part of it.
EDGE = 0.06
#: A lying line runs this far above what must stay under it, as a part of the picture (judgement).
CLEAR = 0.04
#: A throw leaves and is caught at this part of a person's height (judgement: chest and hands).
HANDS = 0.72
#: A camera that looks farther aside than this has no rows of a crowd before it, degrees.
ASIDE_DEG = 20.0


@dataclass(frozen=True)
class Placed:
    """A pass as it stands in a shot: its plate's id, and what it films there."""

    plate_id: str
    things: tuple[StandIn, ...]


@dataclass(frozen=True)
class Tricks:
    """What is decided beside the plates: lines and beats of the view and what it zooms to (1: as it
    does), rigs and markers by pass; `words` tell it."""

    splits: tuple[Split, ...]
    beats: tuple[Beat, ...]
    rigs: Mapping[str, Rig]
    markers: Mapping[str, Markers]
    words: tuple[str, ...]
    zoom: float = 1.0


def tricks_for(
    shot: Shot,
    recipe: Recipe,
    placed: Mapping[str, Placed],
    new: Sequence[str],
    make_id: Callable[[], str],
) -> Tricks:
    """What the recipe decides for `placed` (by the key of the pass) beside what `shot` has: nothing
    between plates that a line lies between already, nothing for passes that are not `new`."""
    splits, names = [], []
    for between in recipe.lines:
        pair = [placed.get(between.first), placed.get(between.second)]
        if None in pair or not {between.first, between.second} & set(new):
            continue
        first, second = (p for p in pair if p is not None)
        if any({s.first_id, s.second_id} == {first.plate_id, second.plate_id} for s in shot.splits):
            continue
        splits.append(_line(shot, between, first, second, make_id()))
        passes = [recipe.pass_of(key) for key in (between.first, between.second)]
        names.append("a line between " + " and ".join(p.name for p in passes if p is not None))
        if between.thrown_frames:
            names.append(f"a throw of {between.thrown_frames} frames across it")
    beats = _beats(shot, recipe, placed, new, make_id)
    names += [f"beat “{b.name}”" for b in beats]
    rigs, markers = {}, {}
    for key in new:
        one, here = recipe.pass_of(key), placed.get(key)
        if one is None or here is None or not here.things:
            continue
        thing = here.things[0]
        if one.carried is not None:
            rigs[key] = Rig(thing_id=thing.id, kind=one.carried)
            names.append(f"{thing.name}: carried by a {one.carried}")
        if one.replaced:
            markers[key] = Markers(surface_id=thing.id, insert=True, size_mm=8.0, spacing_m=0.1)
            names.append(f"markers round {thing.name}")
    zooms = bool(new) and recipe.zoom != 1.0 and shot.move.zoom == 1.0
    if zooms:
        names.append(f"a zoom of {recipe.zoom:g} times, made in post")
    return Tricks(tuple(splits), beats, rigs, markers, tuple(names), recipe.zoom if zooms else 1.0)


def _line(shot: Shot, between: Between, first: Placed, second: Placed, made: str) -> Split:
    at = _gap(shot, first.things, second.things, between.upright)
    ends = ((at, 0.0), (at, 1.0)) if between.upright else ((0.0, at), (1.0, at))
    throw = None
    if between.thrown_frames and first.things and second.things:
        frame = _throw_frame(shot, between.thrown_frames)
        a, b = first.things[0], second.things[0]
        throw = Throw(
            round(a.x_m, 2), round(a.y_m, 2), round(a.z_m + HANDS * a.height_m, 2),
            round(b.x_m, 2), round(b.y_m, 2), round(b.z_m + HANDS * b.height_m, 2),
            frame, between.thrown_frames,
        )  # fmt: skip
    return Split(
        made,
        "Line",
        first.plate_id,
        second.plate_id,
        between.upright,
        keys=(DividerKey(1, ends),),
        throw=throw,
    )


def _throw_frame(shot: Shot, frames: int) -> int:
    """A throw stands in the middle of the shot."""
    return max((shot.frames - frames) // 2, 1)


def _gap(shot: Shot, first: Sequence[StandIn], second: Sequence[StandIn], upright: bool) -> float:
    """Where a line between two sets of things runs: in the middle of the gap between them, or of
    their middles where they overlap; a lying one above all of the second. Parts of the picture."""
    spans = [_span(shot, things, 0 if upright else 1) for things in (first, second)]
    if spans[0] is None or spans[1] is None:
        return MIDDLE
    (a_low, a_high), (b_low, b_high) = spans[0], spans[1]
    if not upright:
        return round(min(max(b_low - CLEAR, EDGE), 1.0 - EDGE), 3)
    gap = (a_high, b_low) if a_high <= b_low else (b_high, a_low)
    if gap[0] > gap[1]:
        gap = ((a_low + a_high) / 2.0, (b_low + b_high) / 2.0)
    return round(min(max((gap[0] + gap[1]) / 2.0, EDGE), 1.0 - EDGE), 3)


def _span(shot: Shot, things: Sequence[StandIn], axis: int) -> tuple[float, float] | None:
    """From where to where things reach across the picture (down it for `axis` 1), parts of it."""
    size = shot.delivery.width_px, shot.delivery.height_px
    camera = shot.world.camera(shot.delivery)
    points = [measured_points(s).points for s in things if s.kind != "ground"]
    if not points:
        return None
    seen = camera.project(np.concatenate(points), *size)[:, axis] / size[axis]
    seen = seen[np.isfinite(seen)]
    return (float(seen.min()), float(seen.max())) if len(seen) else None


def _beats(
    shot: Shot,
    recipe: Recipe,
    placed: Mapping[str, Placed],
    new: Sequence[str],
    make_id: Callable[[], str],
) -> tuple[Beat, ...]:
    made: list[Beat | None] = []
    for one in recipe.beats:
        here = placed.get(one.on)
        led = None if one.after is None else made[one.after]
        if here is None or one.on not in new or (one.after is not None and led is None):
            made.append(None)
            continue
        frame = _frame(shot, one, led)
        made.append(
            Beat(
                make_id(),
                one.name,
                frame,
                here.plate_id,
                None if led is None else led.id,
                0 if led is None else frame - led.frame,
                one.allowed,
                one.cue,
            )
        )
    return tuple(b for b in made if b is not None)


def _frame(shot: Shot, one: Happens, led: Beat | None) -> int:
    wanted = (
        led.frame + one.gap
        if led is not None
        else _throw_frame(shot, one.gap)
        if one.thrown
        else 1 + round(one.at * (shot.frames - 1))
    )
    return min(max(wanted, 1), shot.frames)


def crowd_for(shot: Shot, one: Pass) -> Crowd | None:
    """Marks of a crowd over what this camera sees at the distance of a pass's first thing; None for
    a pass without one, or a camera that looks aside."""
    if not one.crowd or not one.things or abs(shot.world.pan_deg) > ASIDE_DEG:
        return None
    camera = shot.world.camera(shot.delivery)
    plain = Crowd()
    near = round(max(one.things[0].away * unit_distance_m(shot), 2.0), 1)
    half = near * camera.sensor_width_mm / camera.focal_mm / 2.0
    aside = round(max(0.9 * half, 1.5 * plain.spacing_m), 1)
    # Rows until there is room for all of them.
    rows = max(round(plain.wanted * plain.spacing_m / (2.0 * aside) + 0.5), 1)
    far = round(near + rows * plain.row_m, 1)
    return Crowd(left_m=-aside, right_m=aside, near_m=near, far_m=far)
