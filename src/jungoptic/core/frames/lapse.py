"""A plate photographed at intervals, from one place or along a path: how long it takes, what it
fills, how far each thing steps in the picture, and what is left after steadying."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..camera import Array, CameraPath, axes_along
from ..checks_on_input import positive
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.kit import Mode
from ..plan.plate import Plate
from ..plan.sheet import Held, Lapse
from ..plan.shot import Shot
from ..plan.standins import StandIn, measured_points
from ..stage.in_frame import own_things
from ..stage.spots import velocities
from ..stage.tolerance import relaxed
from ..timelapse import crop_left, photo_count
from ..words.quantities import length, percent, pixels, seconds
from .timing import rows_of

#: How far from its place a picture lies at the worst, as a part of its width, before it is steadied
#: (judgement, by how the camera is held).
SCATTER: dict[Held, float] = {"hand": 0.03, "marks": 0.01, "tripod": 0.002}
#: The farthest that a thing may step from one photograph to the next and still seem to glide, and
#: where it surely jumps, as parts of the picture's width (judgement).
GLIDES, JUMPS = 0.015, 0.04
#: Movement joins to a flow where the shutter is open for half of the interval (common practice);
#: under a tenth things flit (judgement).
FLOWS, FLITS = 0.5, 0.1
#: What a camera needs to write a photograph away before the next (judgement), seconds.
WRITES_S = 0.5


@dataclass(frozen=True)
class Gone:
    """A thing at its farthest step: pixels from photograph to photograph, at which (from 1), and
    how far away it is at its nearest, stage metres."""

    thing: StandIn
    step_px: float
    photo: int
    away_m: float


@dataclass(frozen=True)
class LapseReport:
    """What a time-lapse comes to. `faster`: times that life runs faster on the screen; `open_part`:
    of the interval the shutter is open; `step_m` along the path from photograph to photograph,
    `turn_deg` the most that the camera turns between two, `glides_m` the longest step at which
    everything seems to glide (None: nothing steps); `left`: the part of the picture left after
    steadying, `left_px` pixels across of it; `guide`: where the aim stands in the picture, parts
    from the left and the top, at the first photograph and the last."""

    photos: int
    lasts_s: float
    faster: float
    open_part: float
    storage_gb: float
    cards: int
    path_m: float
    step_m: float
    turn_deg: float
    glides_m: float | None
    pace_m_min: float
    left: float
    left_px: float
    guide: tuple[tuple[float, float], ...]
    gone: tuple[Gone, ...]
    places_m: tuple[float, ...]
    findings: tuple[Finding, ...]


def lapse_report(shot: Shot, plate: Plate, lapse: Lapse, mode: Mode | None = None) -> LapseReport:
    """What a plate comes to that is photographed at intervals; `shot` as its own view has it,
    `mode` what records it (None: the delivered pixels are taken).

    Raises Impossible for an interval, an exposure or sizes that are not above zero, and for a shot
    too long for a sheet.
    """
    interval = positive("interval", lapse.interval_s, "interval_s")
    exposed = positive("exposure", lapse.exposure_s, "exposure_s")
    fps = shot.delivery.fps
    photos = photo_count(rows_of(shot) / fps, fps)
    steps = max(photos - 1, 1)
    path = math.hypot(lapse.path_right_m, lapse.path_ahead_m)
    storage = photos * positive("megabytes", lapse.photo_mb, "photo_mb") / 1000.0
    camera, turned = _walked(shot, plate.scale, lapse, photos)
    gone = _gone(shot, plate, camera, interval)
    fastest = max((g.step_px for g in gone), default=0.0)
    wide = float(shot.delivery.width_px)
    step = path / steps
    across = wide if mode is None else float(mode.width_px)
    scatter = SCATTER[lapse.held]
    left = crop_left([(scatter, scatter)], 1.0, 1.0)
    glides = step * GLIDES * relaxed(shot) * wide / fastest if step and fastest else None
    return LapseReport(
        photos=photos,
        lasts_s=lasts_s(lapse, photos),
        faster=interval * fps,
        open_part=exposed / interval,
        storage_gb=storage,
        cards=math.ceil(storage / positive("gigabytes", lapse.card_gb, "card_gb") - 1e-9),
        path_m=path,
        step_m=step,
        turn_deg=turned,
        glides_m=glides,
        pace_m_min=step / interval * 60.0,
        left=left,
        left_px=left * across,
        guide=_guide(shot, lapse, camera),
        gone=tuple(gone),
        places_m=tuple(step * i for i in range(photos)),
        findings=tuple(worst_first(_judged(shot, lapse, gone, glides, left * across))),
    )


def lasts_s(lapse: Lapse, photos: int) -> float:
    """How long so many photographs take, seconds."""
    return max(photos - 1, 0) * lapse.interval_s + lapse.exposure_s


def _aim(shot: Shot, lapse: Lapse) -> Array | None:
    """What is kept in its place: the middle of the thing aimed at."""
    thing = next((s for s in shot.stand_ins if s.id == lapse.aim_id), None)
    return None if thing is None else measured_points(thing).points.mean(axis=0)


@dataclass(frozen=True)
class Walk:
    """Where the camera is at every photograph: world metres (n, 3), degrees (n,)."""

    positions_m: Array
    pan_deg: Array
    tilt_deg: Array


def walk(shot: Shot, scale: float, lapse: Lapse, photos: int) -> Walk:
    """The camera at every one of so many photographs, in even steps along its path, turned so that
    the aim stays in its place."""
    camera = shot.world.camera(shot.delivery)
    part = np.linspace(0.0, 1.0, photos) if photos > 1 else np.zeros(1)
    ahead = np.radians(camera.pan_deg)
    way = lapse.path_right_m * np.array([np.cos(ahead), -np.sin(ahead), 0.0])
    way = way + lapse.path_ahead_m * np.array([np.sin(ahead), np.cos(ahead), 0.0])
    positions = np.asarray(camera.position_m) + part[:, None] * way * scale
    pan = np.full(photos, camera.pan_deg)
    tilt = np.full(photos, camera.tilt_deg)
    aim = _aim(shot, lapse)
    if aim is not None:
        to = aim - positions
        bearing = np.degrees(np.unwrap(np.arctan2(to[:, 0], to[:, 1])))
        rise = np.degrees(np.arctan2(to[:, 2], np.hypot(to[:, 0], to[:, 1])))
        pan = pan + bearing - bearing[0]
        tilt = np.clip(tilt + rise - rise[0], -89.0, 89.0)
    return Walk(positions, pan, tilt)


def _walked(shot: Shot, scale: float, lapse: Lapse, photos: int) -> tuple[CameraPath, float]:
    """The camera at every photograph, and the most that it turns from one to the next, degrees."""
    camera, gone = shot.world.camera(shot.delivery), walk(shot, scale, lapse, photos)
    turned = np.hypot(np.diff(gone.pan_deg), np.diff(gone.tilt_deg)).max(initial=0.0)
    axes = axes_along(gone.pan_deg, gone.tilt_deg, camera.roll_deg)
    zooms = shot.move.zooms(np.linspace(0.0, 1.0, photos))
    return CameraPath(camera, gone.positions_m, axes, zooms), float(turned)


def _gone(shot: Shot, plate: Plate, camera: CameraPath, interval_s: float) -> list[Gone]:
    """How far each thing of the plate steps, nearest first; what moves goes on at its own speed."""
    wide, high = float(shot.delivery.width_px), float(shot.delivery.height_px)
    times = np.arange(len(camera.positions_m)) * interval_s
    found = []
    for thing in own_things(shot, plate):
        points = measured_points(thing).points
        placed = points + (times[:, None] * velocities([thing])[0])[:, None, :]
        at, depth = camera.project(placed, wide, high)
        x, y = at[..., 0], at[..., 1]
        with np.errstate(invalid="ignore"):
            there = (x >= 0.0) & (x <= wide) & (y >= 0.0) & (y <= high)
        if not there.any():
            continue
        way = np.diff(at, axis=0)
        step = np.where(there[1:], np.hypot(way[..., 0], way[..., 1]), 0.0)
        each = np.nan_to_num(step).max(axis=1)
        photo = int(each.argmax()) + 2 if len(each) else 1
        near = float(np.where(there, depth, np.inf).min()) / plate.scale
        found.append(Gone(thing, float(each.max(initial=0.0)), photo, near))
    return sorted(found, key=lambda g: g.away_m)


def _guide(shot: Shot, lapse: Lapse, camera: CameraPath) -> tuple[tuple[float, float], ...]:
    aim = _aim(shot, lapse)
    if aim is None:
        return ()
    at, _ = camera.project(aim[None, :], 1.0, 1.0)
    ends = at[[0, -1], 0]
    return tuple((float(x), float(y)) for x, y in ends if math.isfinite(x + y))


def _judged(
    shot: Shot, lapse: Lapse, gone: list[Gone], glides: float | None, left_px: float
) -> list[Finding]:
    interval, exposed = lapse.interval_s, lapse.exposure_s
    found = []
    room = interval - exposed
    verdict = banded(-room, -WRITES_S, 0.0)
    found.append(
        Finding(
            "lapse-time",
            "Time between photographs",
            verdict,
            f"{seconds(exposed)} open in every {seconds(interval)}"
            + (
                "."
                if verdict is Verdict.HOLDS
                else ": the camera has no time to write a photograph away. A longer interval, or a "
                "shorter exposure."
            ),
        )
    )
    if any(thing.speed_m_s for thing in shot.stand_ins):
        part = exposed / interval
        verdict = banded(-part, -FLOWS, -FLITS)
        found.append(
            Finding(
                "lapse-flow",
                "Flow",
                verdict,
                f"The shutter is open for {percent(part)} of the interval"
                + (
                    ": what moves flows."
                    if verdict is Verdict.HOLDS
                    else f": what moves flits from place to place. {seconds(interval * FLOWS)} open"
                    ", with a grey filter by day, joins it."
                ),
            )
        )
    fastest = max(gone, key=lambda g: g.step_px, default=None)
    if fastest is not None and fastest.step_px > 0.0:
        width = shot.delivery.width_px * relaxed(shot)
        part = fastest.step_px / width
        verdict = banded(part, GLIDES, JUMPS)
        longest = "" if glides is None else f" Steps of {length(glides)} or shorter glide."
        found.append(
            Finding(
                "lapse-step",
                "Steps in the picture",
                verdict,
                f"{fastest.thing.name}, {length(fastest.away_m)} away, goes "
                f"{pixels(fastest.step_px)} from photograph to photograph"
                + ("." if verdict is Verdict.HOLDS else f": it jumps.{longest}"),
                (
                    Working(
                        "s = step / width",
                        (
                            Quantity(
                                "step", "from photograph to photograph", fastest.step_px, "px"
                            ),
                            Quantity("width", "of the picture", float(width), "px"),
                        ),
                        Quantity("s", "part of the width", part, ""),
                        "Projection from both places; a part of 0.015 is a judgement.",
                    ),
                ),
            )
        )
    verdict = banded(shot.delivery.width_px, left_px, left_px * 1.1)
    found.append(
        Finding(
            "lapse-crop",
            "After steadying",
            verdict,
            f"{left_px:.0f} px across are left of each photograph for {shot.delivery.width_px} "
            "delivered"
            + (
                "."
                if verdict is Verdict.HOLDS
                else ": photograph larger, or steadier. Over marks, on a tripod, least is lost."
            ),
        )
    )
    return found
