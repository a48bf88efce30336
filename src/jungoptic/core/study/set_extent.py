"""How large the set has to be, and what the frame shows beyond it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..camera import Array, Camera
from ..plan.plate import BUILT
from ..plan.standins import StandIn
from ..slabs import through_box
from ..stage.backing import backing
from ..stage.case import Case
from ..stage.coverage import covered, rays

#: The frame is looked through at this many places across and down.
ACROSS, DOWN = 96, 40
#: The move is followed at this many of its moments; sizes change slowly.
MOMENTS = 9


@dataclass(frozen=True)
class Surface:
    """An upright part of the set or a screen: how much this lens, move and padding take in at its
    distance, and how large it is; stage metres. `backs`: it is flat, there to fill the frame, and
    too small when the frame takes in more."""

    name: str
    backs: bool
    distance_m: float
    needed_width_m: float
    needed_height_m: float
    width_m: float
    height_m: float
    #: Part of the padded frame that it fills, 0..1, where it fills least.
    share: float


@dataclass(frozen=True)
class SetExtent:
    """The set against the frame. The parts (0..1 of the padded frame, at its worst) that show
    neither set nor screen: in all, and in the left, right, upper and lower half. `drawn`: there is
    a set or a screen to show."""

    surfaces: tuple[Surface, ...]
    bare: float
    bare_left: float
    bare_right: float
    bare_top: float
    bare_bottom: float
    advice: str
    drawn: bool = True


def _cameras(case: Case) -> list[Camera]:
    """The stage camera over its move, its picture widened by the padding."""
    stage, move = case.stage, case.shot.move
    kept = 1.0 + 2.0 * case.shot.padding
    wide = replace(
        stage.camera,
        sensor_width_mm=stage.camera.sensor_width_mm * kept,
        sensor_height_mm=stage.camera.sensor_height_mm * kept,
    )
    parts = [0.0] if move.still else np.linspace(0.0, 1.0, MOMENTS)
    return [move.moved(wide, float(p), case.plate.scale) for p in parts]


def set_extent(case: Case) -> SetExtent:
    """What the set of this plate has to cover and what it leaves bare. Ray geometry."""
    plate = case.plate
    cameras = _cameras(case)
    own = [s for s in case.shot.stand_ins_of(plate) if s.kind != "figure"]
    screen = _screen(case)
    things = [*own, screen] if screen is not None else own
    hits = [_hits(case, camera, things) for camera in cameras]
    surfaces = []
    for i, thing in enumerate(things):
        if thing.kind == "ground":
            continue
        found = _surface(case, cameras, thing)
        if found is not None:
            share = min(float(h[i].mean()) for h in hits)
            surfaces.append(replace(found, share=share))
    empty = [~np.logical_or.reduce(h, axis=0) for h in hits]
    worst = max(empty, key=lambda e: float(e.mean()))
    half_w, half_h = ACROSS // 2, DOWN // 2
    return SetExtent(
        tuple(surfaces),
        float(worst.mean()),
        float(worst[:, :half_w].mean()),
        float(worst[:, half_w:].mean()),
        float(worst[:half_h].mean()),
        float(worst[half_h:].mean()),
        _advice(case, float(worst.mean())) if things else _undrawn(case.plate.kind),
        bool(things),
    )


def _undrawn(kind: str) -> str:
    """What to do where there is neither set nor screen to judge."""
    if kind in BUILT:
        return (
            "No set is drawn in this plate yet: add what it shows, walls and ground too, and it is "
            "told how large they have to be."
        )
    if kind == "screen":
        return "Give the screen its size, and it is told what lies beyond it."
    if kind == "element":
        return "All that the frame takes in must stay black: nothing lit, nothing shiny."
    return "The frame takes in whatever stands there: look for what must not be seen."


def _advice(case: Case, bare: float) -> str:
    kind = case.plate.kind
    if bare < 0.005:
        return "Set or screen fills the frame, padding included."
    if kind == "screen":
        return "What lies beyond the screen is garbage matte: nothing of the action may reach it."
    if kind == "element":
        return "What lies beyond must stay black: nothing lit, nothing shiny."
    if kind in BUILT:
        return (
            "What lies beyond the set is extended by another plate: keep it one even colour that "
            "keys or mattes, or hang a backing of the needed size."
        )
    return "What lies beyond is whatever stands there: look for what must not be seen."


def _screen(case: Case) -> StandIn | None:
    """The screen as an upright card, in world metres like the stand-ins."""
    needed, plate = backing(case), case.plate
    if needed is None or plate.screen_width_m <= 0 or plate.screen_height_m <= 0:
        return None
    return StandIn(
        "screen",
        "Screen",
        "card",
        needed.centre_x_m * plate.scale,
        needed.distance_m * plate.scale,
        plate.ground_m + plate.screen_foot_m * plate.scale,
        plate.screen_width_m * plate.scale,
        plate.screen_height_m * plate.scale,
    )


def _surface(case: Case, cameras: list[Camera], thing: StandIn) -> Surface | None:
    scale = case.plate.scale
    at = thing.y_m / scale
    needed = covered(cameras, at)
    if needed is None:
        return None
    return Surface(
        thing.name,
        thing.kind == "card",
        at,
        needed.width_m,
        needed.height_m,
        thing.width_m / scale,
        thing.height_m / scale,
        0.0,
    )


def _hits(case: Case, camera: Camera, things: list[StandIn]) -> NDArray[np.bool_]:
    """Which of `things` the picture shows at each place: (things, DOWN, ACROSS)."""
    u, v = np.meshgrid((np.arange(ACROSS) + 0.5) / ACROSS, (np.arange(DOWN) + 0.5) / DOWN)
    way = rays(camera, np.stack([u.ravel(), v.ravel()], axis=1), 1.0, 1.0)
    start = np.asarray(camera.position_m)
    found = np.zeros((len(things), DOWN, ACROSS), dtype=bool)
    for i, thing in enumerate(things):
        found[i] = _meets(thing, case, start, way).reshape(DOWN, ACROSS)
    return found


def _meets(thing: StandIn, case: Case, start: Array, way: Array) -> NDArray[np.bool_]:
    """Which rays meet the stand-in, by slabs in its own axes."""
    scale, ground = case.plate.scale, case.plate.ground_m
    turn = math.radians(thing.heading_deg)
    c, s = math.cos(turn), math.sin(turn)
    # Rows: the stand-in's own right, away and up in stage axes.
    axes = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    foot = np.array([thing.x_m, thing.y_m, thing.z_m - ground]) / scale
    at, along = axes @ (start - foot), way @ axes.T
    thin = 1e-6
    size = np.array([thing.width_m, max(thing.depth_m, thin), max(thing.height_m, thin)]) / scale
    if thing.kind == "card":
        size[1] = thin
    if thing.kind == "ground":
        size[2] = thin
    low = np.array([-size[0] / 2.0, 0.0, 0.0])
    high = low + size
    near, far = through_box(at, along, low, high)
    hit: NDArray[np.bool_] = (near <= far) & (far > 0)
    return hit
