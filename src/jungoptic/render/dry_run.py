"""Every plate of a picture filmed in simulation and put together, beside the story as it should
look."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jungoptic.core.impossible import Impossible
from jungoptic.core.lockoff.pieces import air_of, nearest_m, pieces, side_matte
from jungoptic.core.pictures.composite import Layer, laid
from jungoptic.core.plan.mirrored import as_told
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.in_frame import part_at
from jungoptic.core.stage.told import centred, to_story

from .air import hazed
from .clean import cleaned
from .compared import Compared, compared
from .engine import Stage, matte
from .film import coded, curved, linear, noisy
from .memory import Memory
from .picture import Tell, filmable, lit_by
from .scene import ROOM, Layers, Scene
from .staged import film_of, on_sensor, staged
from .world import FILM, filmed_world

#: Rays a pixel of a plate and of a matte.
SAMPLES, MATTE_SAMPLES = 8, 16
#: What no plate shows is this bright, so that it is seen as missing.
MISSING = 0.35
#: What is placed in post is rendered so many times as fine as it is shown, and no smaller than so
#: many pixels wide.
FINER, LEAST_LAID_PX = 2.0, 96
#: Less of a room than this is not worth a word, part of the picture.
LEAST_STRAY = 0.005
NOT_LIT = "has no lamps yet: it is shown in even light, and its brightness says nothing."


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


@dataclass(frozen=True)
class _Looked:
    """Both pictures at a moment, light (h, w, 3); the part that no plate shows; the story's
    scene; the plates, and what a person should know."""

    composite: NDArray[np.float32]
    story: NDArray[np.float32]
    hole: float
    world: Scene
    cases: tuple[Case, ...]
    remarks: tuple[str, ...]


@dataclass(frozen=True)
class _Look:
    """How a moment is looked at: the size of the picture, what the dice of light and of grain
    begin with, and what is kept of the moment before."""

    width: int
    height: int
    seed: int
    grain: int
    memory: Memory


def run(
    shot: Shot, part: float = 0.0, width: int = 640, seed: int = 0, tell: Tell | None = None
) -> DryRun:
    """Film all plates of one view of a shot at a part (0..1) of it and put them together.

    `tell` hears how many of how many steps are done and may raise to stop. Raises Impossible where
    no plate can be filmed yet, NoEngine where the engine is not installed.
    """
    height = max(round(width / shot.delivery.aspect), 2)
    seen = _looked(shot, part, _Look(width, height, seed, seed, Memory()), tell)
    unlit = {case.plate.id: case.plate.name for case in seen.cases if not lit_by(case)}
    remarks = (*seen.remarks, *(f"{name} {NOT_LIT}" for name in unlit.values()))
    things = compared(shot, seen.world, seen.composite, seen.story, frozenset(unlit))
    return DryRun(_shown(seen.composite), _shown(seen.story), seen.hole, things, remarks)


def moments(
    shot: Shot, frames: Sequence[int], width: int = 480, seed: int = 0
) -> Iterator[tuple[NDArray[np.uint8], NDArray[np.uint8]]]:
    """Both pictures (h, w, 3), 0..255, at each of some frames (from 1) of a view of a shot, as
    `run` makes them; both sides are even, as clips must be. What stands still from one to the next
    is filmed once; the grain is new in each.

    Raises Impossible where no plate can be filmed yet, NoEngine where the engine is not installed.
    """
    height = max(2 * round(width / shot.delivery.aspect / 2.0), 2)
    memory = Memory()
    for frame in frames:
        look = _Look(width, height, seed, frame, memory)
        seen = _looked(shot, part_at(shot, frame), look, None)
        yield _shown(seen.composite), _shown(seen.story)


def _looked(shot: Shot, part: float, look: _Look, tell: Tell | None) -> _Looked:
    """All plates at a moment, put together, and the story beside them."""
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
        filmed.append(_film(case, part, look))
    filmed.sort(key=lambda f: -f.near_m)
    whole = next((o for o in filmed if not (o.plate.cut_out or o.case.shot.placing)), None)
    laid_in: list[Layer] = []
    for one in filmed:
        step()
        laid_in += _layers_of(shot, one, one is whole, part, look)
    if whole is not None:
        remarks += _stray(whole, look)
    found = laid(laid_in, MISSING)
    step()
    world = filmed_world(shot, part)
    size = look.width, look.height
    story_layers, story_light = look.memory.of(
        "story", (world.key, size), lambda: _seen(world, *size, look.seed)
    )
    air = world.sky
    if shot.visibility_m is not None and air is not None:
        story_light = hazed(story_light, story_layers.depth_m, shot.visibility_m, air)
    story = linear(story_light, FILM).astype(np.float32)
    step()
    return _Looked(found.picture, story, found.hole, world, tuple(cases), tuple(remarks))


def _seen(scene: Scene, width: int, height: int, seed: int) -> tuple[Layers, NDArray[np.float32]]:
    """What an engine gives back of a scene, and its light without the noise of too few rays."""
    layers = Stage(scene, width, height).seen(SAMPLES, seed)
    return layers, cleaned(layers)


def _filmable(shot: Shot) -> tuple[list[Case], list[str]]:
    """The plates that make the picture, and why some cannot be filmed."""
    cases, remarks = [], []
    for plate in pieces(shot):
        try:
            cases.append(filmable(shot, plate))
        except Impossible as why:
            remarks.append(f"{plate.name} is left out: {why}")
    return cases, remarks


def _film(case: Case, part: float, look: _Look) -> _Filmed:
    scene = staged(case, part)
    size = look.width, look.height
    if case.shot.placing is not None:
        size = _own_size(case, look.width)
    layers, clean = look.memory.of(
        f"plate {case.plate.id}", (scene.key, size), lambda: _seen(scene, *size, look.seed)
    )
    film = film_of(case, part)
    light = noisy(linear(clean, film), film, look.grain).astype(np.float32)
    near = nearest_m(as_told(case.shot), case.plate, part)
    return _Filmed(case.plate, case, light, scene, layers, near)


def _layers_of(shot: Shot, one: _Filmed, base: bool, part: float, look: _Look) -> list[Layer]:
    """A plate as post cuts it: all of it behind, one side of a divider, or what stands in it."""
    plate, width, height = one.plate, look.width, look.height
    own = frozenset(s.id for s in shot.stand_ins_of(plate))
    light, depth = one.light, one.layers.depth_m * np.float32(plate.scale)
    high, wide = depth.shape
    keep = look.memory.of(
        f"matte {plate.id}",
        (one.scene.key, own, wide, high),
        lambda: np.asarray(matte(one.scene, own, wide, high, MATTE_SAMPLES), dtype=np.float32),
    )
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


def _stray(one: _Filmed, look: _Look) -> list[str]:
    """What a plate that is kept whole shows of the room it is filmed in. Of a live one that room is
    the place of the story itself: its walls belong."""
    if one.plate.kind == "live":
        return []
    room = frozenset({ROOM})
    part = look.memory.of(
        "stray",
        (one.plate.id, one.scene.key),
        lambda: float(np.asarray(matte(one.scene, room, look.width, look.height, 4)).mean()),
    )
    if part < LEAST_STRAY:
        return []
    return [
        f"{one.plate.name} is the picture behind all else, and shows the walls it is filmed between"
        f" over {part:.0%} of it: hang a backing there, or say how post cuts it."
    ]


def _shown(picture: NDArray[np.float32]) -> NDArray[np.uint8]:
    found = coded(curved(picture.astype(np.float64)), FILM)
    return (found * 255.0 + 0.5).astype(np.uint8)
