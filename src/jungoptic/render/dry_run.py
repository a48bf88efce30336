"""Every plate of a picture filmed in simulation and put together, beside the story as it should
look."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from jungoptic.core.impossible import Impossible
from jungoptic.core.lockoff.pieces import air_of, nearest_m, pieces, side_matte
from jungoptic.core.pictures.composite import Layer, laid, stops_apart
from jungoptic.core.plan.mirrored import as_told
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.told import centred, to_story

from .air import hazed
from .clean import cleaned
from .engine import Stage, matte
from .film import coded, curved, linear, noisy
from .picture import Tell, filmable, lit_by
from .scene import ROOM, Layers, Scene
from .staged import film_of, on_sensor, staged
from .world import FILM, filmed_world

#: Rays a pixel of a plate and of a matte, and how wide the picture is in which things are compared.
SAMPLES, MATTE_SAMPLES, COMPARED_PX = 8, 16, 240
#: What no plate shows is this bright, so that it is seen as missing.
MISSING = 0.35
#: A thing this small in the picture says nothing, part of the picture.
LEAST_PART = 0.0008
#: What is placed in post is rendered so many times as fine as it is shown, and no smaller than so
#: many pixels wide.
FINER, LEAST_LAID_PX = 2.0, 96
#: Less of a room than this is not worth a word, part of the picture.
LEAST_STRAY = 0.005
NOT_LIT = "has no lamps yet: it is shown in even light, and its brightness says nothing."


@dataclass(frozen=True)
class Compared:
    """A thing in both pictures: how much brighter the composite has it than the story, stops (None
    where that says nothing: too dark, or on a stage that no lamp lights yet), and where it is:
    left, top, right, bottom, parts of the picture."""

    thing_id: str
    name: str
    stops: float | None
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class DryRun:
    """Two pictures (h, w, 3), 0..255; what is left without any plate, 0..1; things compared; and
    what a person should know."""

    composite: NDArray[np.uint8]
    story: NDArray[np.uint8]
    hole: float
    things: tuple[Compared, ...]
    remarks: tuple[str, ...]


@dataclass(frozen=True)
class _Filmed:
    plate: Plate
    case: Case
    light: NDArray[np.float32]
    scene: Scene
    layers: Layers
    near_m: float


def run(
    shot: Shot, part: float = 0.0, width: int = 640, seed: int = 0, tell: Tell | None = None
) -> DryRun:
    """Film all plates of one view of a shot at a part (0..1) of it and put them together.

    `tell` hears how many of how many steps are done and may raise to stop. Raises Impossible where
    no plate can be filmed yet, NoEngine where the engine is not installed.
    """
    height = max(round(width / shot.delivery.aspect), 2)
    cases, remarks = _filmable(shot)
    if not cases:
        raise Impossible("no plate of this shot can be filmed yet: choose body, mode and lens.")
    steps = 2 * len(cases) + 2
    done = 0

    def step() -> None:
        nonlocal done
        if tell is not None:
            tell(done, steps)
        done += 1

    filmed = []
    for case in cases:
        step()
        filmed.append(_film(case, part, width, height, seed))
    filmed.sort(key=lambda f: -f.near_m)
    whole = next((o for o in filmed if not (o.plate.cut_out or o.case.shot.placing)), None)
    laid_in: list[Layer] = []
    for one in filmed:
        step()
        laid_in += _layers_of(shot, one, one is whole, part, width, height)
    if whole is not None:
        remarks += _stray(whole, width, height)
    found = laid(laid_in, MISSING)
    step()
    world = filmed_world(shot, part)
    story_layers = Stage(world, width, height).seen(SAMPLES, seed)
    story_light = cleaned(story_layers)
    air = world.sky
    if shot.visibility_m is not None and air is not None:
        story_light = hazed(story_light, story_layers.depth_m, shot.visibility_m, air)
    story = linear(story_light, FILM).astype(np.float32)
    step()
    unlit = {case.plate.id: case.plate.name for case in cases if not lit_by(case)}
    remarks += [f"{name} {NOT_LIT}" for name in unlit.values()]
    things = _compared(shot, world, found.picture, story, frozenset(unlit))
    return DryRun(_shown(found.picture), _shown(story), found.hole, things, tuple(remarks))


def _filmable(shot: Shot) -> tuple[list[Case], list[str]]:
    """The plates that make the picture, and why some cannot be filmed."""
    cases, remarks = [], []
    for plate in pieces(shot):
        try:
            cases.append(filmable(shot, plate))
        except Impossible as why:
            remarks.append(f"{plate.name} is left out: {why}")
    return cases, remarks


def _film(case: Case, part: float, width: int, height: int, seed: int) -> _Filmed:
    scene = staged(case, part)
    if case.shot.placing is not None:
        width, height = _own_size(case, width)
    layers = Stage(scene, width, height).seen(SAMPLES, seed)
    film = film_of(case, part)
    light = noisy(linear(cleaned(layers), film), film, seed).astype(np.float32)
    near = nearest_m(as_told(case.shot), case.plate, part)
    return _Filmed(case.plate, case, light, scene, layers, near)


def _layers_of(
    shot: Shot, one: _Filmed, base: bool, part: float, width: int, height: int
) -> list[Layer]:
    """A plate as post cuts it: all of it behind, one side of a divider, or what stands in it."""
    plate = one.plate
    own = frozenset(s.id for s in shot.stand_ins_of(plate))
    light, depth = one.light, one.layers.depth_m * np.float32(plate.scale)
    high, wide = depth.shape
    keep = np.asarray(matte(one.scene, own, wide, high, MATTE_SAMPLES), dtype=np.float32)
    seen = on_sensor(one.case, wide, high, part)
    if one.case.shot.placing is not None:
        laid_in = _laid_in(shot, one, light, keep * seen, part, (width, height))
        return [] if laid_in is None else [laid_in]
    if shot.visibility_m is not None:
        fill = air_of(shot)
        light = hazed(light, depth, shot.visibility_m, (fill,) * 3)
    if plate.flop:
        light, depth, keep = light[:, ::-1], depth[:, ::-1], keep[:, ::-1]
    keep = keep * seen
    behind = np.full_like(depth, np.inf)
    if plate.kind == "element":
        return [Layer(plate.name, light, seen, behind, adds=True)]
    side = side_matte(shot, plate, part, width, height)
    things = Layer(plate.name, light, keep if side is None else keep * side, depth)
    if plate.cut_out or (not base and side is None):
        return [things]
    all_of_it = seen if side is None else side * seen
    return [Layer(plate.name, light, all_of_it, behind), things]


def _own_size(case: Case, width: int) -> tuple[int, int]:
    """How large a picture is rendered that post makes smaller and lays in: finer than it is shown,
    as it is filmed, in a story `width` pixels wide."""
    placing, own = case.shot.placing, case.shot.delivery
    assert placing is not None
    wide = round(FINER * width * own.width_px / placing.story.delivery.width_px)
    wide = min(max(wide, LEAST_LAID_PX), 2 * width)
    return wide, max(round(wide / own.aspect), 2)


def _laid_in(
    shot: Shot,
    one: _Filmed,
    light: NDArray[np.float32],
    keep: NDArray[np.float32],
    part: float,
    size: tuple[int, int],
) -> Layer | None:
    """What is placed in post, where the story has it; None where that is not in the picture."""
    wide = keep.shape[1]
    there = to_story(one.case, part)
    if there is None:
        return None
    # Only workers lay pictures: a web process that names a dry run loads no OpenCV.
    from jungoptic.core.pictures.fitting import fitted

    # By pixel centres: story pixels as drawn -> delivered -> filmed -> as rendered.
    into = centred(one.case.shot.delivery.width_px / wide)
    onto = centred(shot.delivery.width_px / size[0])
    place = (np.linalg.inv(into) @ np.linalg.inv(there) @ onto)[:2]
    shown, inside = fitted(np.ascontiguousarray(light), place, *size)
    kept, _ = fitted(np.ascontiguousarray(keep), place, *size)
    far = np.full_like(kept, one.near_m)
    if shot.visibility_m is not None:
        shown = hazed(shown, far, shot.visibility_m, (air_of(shot),) * 3)
    side = side_matte(shot, one.plate, part, *size)
    kept = kept * inside if side is None else kept * inside * side
    return Layer(one.plate.name, shown, kept, far, adds=one.plate.kind == "element")


def _stray(one: _Filmed, width: int, height: int) -> list[str]:
    """What a plate that is kept whole shows of the room it is filmed in. Of a live one that room is
    the place of the story itself: its walls belong."""
    if one.plate.kind == "live":
        return []
    room = matte(one.scene, frozenset({ROOM}), width, height, 4)
    part = float(np.asarray(room).mean())
    if part < LEAST_STRAY:
        return []
    return [
        f"{one.plate.name} is the picture behind all else, and shows the walls it is filmed between"
        f" over {part:.0%} of it: hang a backing there, or say how post cuts it."
    ]


def _shown(picture: NDArray[np.float32]) -> NDArray[np.uint8]:
    found = coded(curved(picture.astype(np.float64)), FILM)
    return (found * 255.0 + 0.5).astype(np.uint8)


def _smaller(picture: NDArray[np.float32], width: int, height: int) -> NDArray[np.float32]:
    planes = [
        np.asarray(Image.fromarray(picture[..., i]).resize((width, height), Image.Resampling.BOX))
        for i in range(3)
    ]
    return np.stack(planes, axis=-1)


def _compared(
    shot: Shot,
    world: Scene,
    composite: NDArray[np.float32],
    story: NDArray[np.float32],
    unlit: frozenset[str],
) -> tuple[Compared, ...]:
    """Everything that a plate films, as the two pictures have it."""
    wide = min(COMPARED_PX, composite.shape[1])
    tall = max(round(wide / shot.delivery.aspect), 2)
    one, two = (_smaller(p, wide, tall) for p in (composite, story))
    found = []
    for thing in shot.stand_ins:
        if thing.kind == "ground" or thing.matters == "none":
            continue
        there = np.asarray(matte(world, frozenset({thing.id}), wide, tall, 8), dtype=np.float32)
        if there.mean() < LEAST_PART:
            continue
        rows, columns = np.nonzero(there > 0.3)
        if not len(rows):
            continue
        box = (
            *(float(columns.min() / wide), float(rows.min() / tall)),
            *(float((columns.max() + 1) / wide), float((rows.max() + 1) / tall)),
        )
        stops = None if thing.plate_id in unlit else stops_apart(one, two, there)
        found.append(Compared(thing.id, thing.name, stops, box))
    return tuple(found)
