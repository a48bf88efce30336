"""Every rule asked of every candidate at once: NumPy arrays that span only the axes they need.

The axes are, in order: setup, scale, slowdown, shutter, stop, ISO, passes. The rules and their
limits are those of `judging`; a test compares the two on random plans.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .. import exposure, optics
from ..camera import Array
from ..impossible import Impossible
from ..judging import OF_A_PLACE, breathing, light, loan, position, rate, sharpness, shutter, view
from ..judging import backing as backing_rule
from ..judging import room as room_rule
from ..judging.move import CLEAR_M, Walk, follow
from ..lighting.lamps import light_there
from ..lighting.on_stage import lighting
from ..lighting.stage_light import StageLight
from ..plan.findings import Verdict
from ..plan.mirrored import seen_by
from ..plan.plate import TIMELESS, Plate
from ..plan.shot import Shot
from ..screens import codecs
from ..stage.case import Case
from ..stage.derive import Choice, depth_range_m, derive, floor_axis_m, pupil_to_front_m
from ..stage.motion import Motion, image_motion
from ..stage.rooms import RoomFit, room_fit
from ..stage.tolerance import allowed, relaxed
from .space import Setup, Space

#: Where each axis lies in a full array.
SETUP, SCALE, SLOW, SHUTTER, STOP, ISO, PASSES = range(7)
Ranks = NDArray[np.int8]


def along(axis: int, values: ArrayLike) -> Array:
    """A 1-D list of values laid along one axis of a full array."""
    flat = np.asarray(values, dtype=np.float64)
    shape = [1] * 7
    shape[axis] = len(flat)
    return flat.reshape(shape)


def _square(values: ArrayLike) -> Array:
    """A (setups, scales) table laid along its two axes."""
    flat = np.asarray(values, dtype=np.float64)
    return flat.reshape((*flat.shape, 1, 1, 1, 1, 1))


def _rank(value: Array, holds_to: float, strains_to: float) -> Ranks:
    """0 holds, 1 strains, 2 breaks, as `findings.banded`; NaN breaks."""
    with np.errstate(invalid="ignore"):
        found: Ranks = (~(value <= holds_to)).astype(np.int8)
        found += ~(value <= strains_to)
    return found


@dataclass(frozen=True)
class Rule:
    """One rule over all candidates: its ranks, and how far each is from holding, in its own
    measure (0 or less: it holds); both broadcast over the axes they do not depend on."""

    key: str
    ranks: Ranks
    short: Array


@dataclass(frozen=True)
class Place:
    """What follows from where the camera stands: shared by all lenses that reach as low."""

    ideal_m: float
    axis_m: float
    near_m: float
    far_m: float
    fitted_px: float
    walk: Walk | None
    lux: float
    fit: RoomFit | None
    backing: Verdict | None
    #: Ranks of the rules that hang on the place alone, by their key.
    of_place: Mapping[str, int]
    case: Case


class Table:
    """The candidates of `space` for `plate`, with every rule's ranks."""

    def __init__(
        self,
        shot: Shot,
        plate: Plate,
        space: Space,
        motion: Motion | None = None,
        columns: dict[str, Array] | None = None,
    ) -> None:
        #: Numbers of the setups by name: shared by tables that have the same ones.
        self._columns: dict[str, Array] = {} if columns is None else columns
        self.shot = shot = seen_by(shot, plate)
        self.plate = plate
        self.space = space
        self.motion = image_motion(shot, plate) if motion is None else motion
        self.relaxed = relaxed(shot)
        self.tolerance_px = allowed(shot, self.motion).px
        self._places: dict[tuple[float, float], Place | None] = {}
        self._at_scale: dict[float, Plate] = {}
        self._lit: dict[float, tuple[StageLight | None, Mapping[str, int]]] = {}

    # --- lists along the axes ------------------------------------------------------------------

    def _column(self, name: str, of: Callable[[Setup], float]) -> Array:
        """A number of every setup; laid out once for all plates that share the setups."""
        if name not in self._columns:
            self._columns[name] = along(SETUP, [of(s) for s in self.space.setups])
        return self._columns[name]

    @cached_property
    def scale(self) -> Array:
        """Scale denominators."""
        return along(SCALE, self.space.scales)

    @cached_property
    def stop(self) -> Array:
        """f-numbers."""
        return along(STOP, self.space.stops)

    @cached_property
    def shutter(self) -> Array:
        """Shutter angles, degrees."""
        return along(SHUTTER, self.space.shutters)

    @cached_property
    def iso(self) -> Array:
        """ISO values."""
        return along(ISO, self.space.isos)

    @cached_property
    def count(self) -> Array:
        """Focus passes asked for."""
        return along(PASSES, self.space.passes)

    # --- where the camera stands ---------------------------------------------------------------

    def place(self, setup: Setup, scale: float) -> Place | None:
        """The place for a setup at a scale; None where its optics are impossible there."""
        tried = self._at_scale.get(scale)
        if tried is None:
            tried = self._at_scale[scale] = replace(self.plate, scale=scale)
        floor = floor_axis_m(self.shot, tried, Choice(setup.body, setup.mode, setup.lens))
        ideal = (self.shot.world.height_m - tried.ground_m) / scale
        if self.shot.move.still and floor <= ideal:
            # Whatever reaches lower than it must stands in the same place.
            floor = -math.inf
        key = (round(floor, 9), scale)
        if key not in self._places:
            self._places[key] = self._place(tried, setup)
        return self._places[key]

    def _place(self, plate: Plate, setup: Setup) -> Place | None:
        # The place does not ask for focus: a lens that cannot focus there is judged for itself.
        plate = replace(
            plate,
            body_id=setup.body.id,
            mode_id=setup.mode.id,
            lens_id=setup.lens.id,
            focus_passes=1,
            focus_world_m=1e6,
            f_number=max(plate.f_number, setup.lens.widest_stop),
        )
        try:
            stage = derive(self.shot, plate, Choice(setup.body, setup.mode, setup.lens))
        except Impossible:
            return None
        near_far = depth_range_m(self.shot, plate, stage.camera)
        near, far = near_far if near_far is not None else (math.nan, math.nan)
        stage = replace(stage, near_m=None if near_far is None else near, far_m=far)
        case = Case(self.shot, plate, stage, True, {plate.id: self.motion})
        derived = (
            abs(stage.axis_m - stage.ideal_axis_m) < 1e-12
            and plate.tilt_deg is None
            and plate.setback_m == 0.0
        )
        fitted = 0.0 if derived else case.matched[1].max_px
        moving = not self.shot.move.still
        depth = 0.0 if near_far is None else far - near
        light, ranks = self._lit_at(case)
        found = light_there(self.shot, plate, depth, light)
        return Place(
            stage.ideal_axis_m,
            stage.axis_m,
            near,
            far,
            fitted,
            follow(self.shot, plate, stage.camera, 0.0) if moving else None,
            math.nan if found is None else found[0],
            room_fit(case),
            backing_rule.backing_verdict(case),
            ranks,
            case,
        )

    def _lit_at(self, case: Case) -> tuple[StageLight | None, Mapping[str, int]]:
        """The light of a place and the ranks of the rules that hang on the place alone. Without a
        screen both hang on its scale: the lamps stand where they stand, and the set between them
        shrinks or grows."""
        scale = case.plate.scale
        if self.plate.kind != "screen" and scale in self._lit:
            return self._lit[scale]
        ranks = {f.key: f.verdict.rank for judge in OF_A_PLACE if (f := judge(case)) is not None}
        self._lit[scale] = lighting(case), ranks
        return self._lit[scale]

    @cached_property
    def places(self) -> list[list[Place | None]]:
        """Places by setup and scale."""
        return [[self.place(s, scale) for scale in self.space.scales] for s in self.space.setups]

    def _from_places(self, value: str) -> Array:
        return _square(
            [[math.nan if p is None else getattr(p, value) for p in row] for row in self.places]
        )

    # --- optics --------------------------------------------------------------------------------

    @cached_property
    def near_m(self) -> Array:
        """Nearest distance that must be sharp; NaN when nothing must."""
        return self._from_places("near_m")

    @cached_property
    def far_m(self) -> Array:
        """Farthest distance that must be sharp."""
        return self._from_places("far_m")

    @cached_property
    def focus_m(self) -> Array:
        """Object distance in focus with one pass; inf when nothing must be sharp."""
        if self.plate.focus_world_m is not None:
            return self.plate.focus_world_m / self.scale
        near, far = self.near_m, self.far_m
        with np.errstate(invalid="ignore"):
            best = 2.0 * near * far / (near + far)
        return np.where(np.isfinite(near), best, np.inf)

    @cached_property
    def focal_mm(self) -> Array:
        """Focal length in use: a zoom takes the one that matches, or the one decided."""
        low, high = self.lens("focal_min_mm"), self.lens("focal_max_mm")
        world = self.shot.world
        pinhole = world.focal_mm * self.mode("sensor_width_mm") / world.sensor_width_mm
        wanted: Array = 1.0 / (1.0 / pinhole + 1.0 / (self.focus_m * 1000.0))
        if self.plate.focal_mm:
            wanted = np.full_like(wanted, self.plate.focal_mm)
        return np.clip(wanted, low, high)

    def mode(self, name: str) -> Array:
        """A number of every setup's mode."""
        return self._column(f"mode {name}", lambda s: float(getattr(s.mode, name)))

    def lens(self, name: str) -> Array:
        """A number of every setup's lens."""
        return self._column(f"lens {name}", lambda s: float(getattr(s.lens, name)))

    @cached_property
    def magnification(self) -> Array:
        """Image over object size at the focus; NaN inside the focal length."""
        u = self.focus_m * 1000.0
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.where(u > self.focal_mm, self.focal_mm / (u - self.focal_mm), np.nan)

    @cached_property
    def pinhole_mm(self) -> Array:
        """Image distance f (1 + m)."""
        return self.focal_mm * (1.0 + self.magnification)

    @cached_property
    def crop_across(self) -> Array:
        """Part of the mode's width that the delivered view takes."""
        world = self.shot.world
        used = world.sensor_width_mm * self.pinhole_mm / world.focal_mm
        return used / self.mode("sensor_width_mm")

    @cached_property
    def crop_down(self) -> Array:
        """Part of the mode's height that it takes."""
        world = self.shot.world
        used = world.sensor_width_mm * self.pinhole_mm / world.focal_mm
        return used / self.shot.delivery.aspect / self.mode("sensor_height_mm")

    @cached_property
    def pixels(self) -> Array:
        """Pixels left across the delivered frame."""
        return self.mode("width_px") * np.minimum(self.crop_across, 1.0)

    @cached_property
    def coc_mm(self) -> Array:
        """Largest unnoticed blur disc at the sensor."""
        world = self.shot.world
        used = world.sensor_width_mm * self.pinhole_mm / world.focal_mm
        return 2.0 * used / self.shot.delivery.width_px

    @cached_property
    def effective_stop(self) -> Array:
        """Working f-number close up."""
        return self.stop * (1.0 + self.magnification / self.lens("pupil_ratio"))

    @cached_property
    def sensor_to_pupil_m(self) -> Array:
        """From the sensor mark to the entrance pupil."""
        known = self._column(
            "sensor to pupil",
            lambda s: (
                math.nan
                if s.lens.pupil_from_mount_mm is None
                else s.body.flange_mm + s.lens.pupil_from_mount_mm
            ),
        )
        found: Array = np.where(np.isnan(known), self.pinhole_mm, known) / 1000.0
        return found

    @cached_property
    def pass_count(self) -> Array:
        """Fewest passes that cover what must be sharp, at each stop."""
        span, k = self._span, self.coc_mm * self.stop / self.focal_mm
        with np.errstate(divide="ignore", invalid="ignore"):
            one = np.where(k < 1.0, np.log((1.0 + k) / (1.0 - k)), np.inf)
            found: Array = np.maximum(1.0, np.ceil(span / one - 1e-9))
        return found

    @cached_property
    def _q_near(self) -> Array:
        with np.errstate(invalid="ignore"):
            found: Array = 1.0 - self.focal_mm / (self.near_m * 1000.0)
        return found

    @cached_property
    def _span(self) -> Array:
        with np.errstate(divide="ignore", invalid="ignore"):
            q_far = 1.0 - self.focal_mm / (self.far_m * 1000.0)
            found: Array = np.log(q_far / self._q_near)
        return found

    @cached_property
    def pass_focus_m(self) -> tuple[Array, Array]:
        """Focus of the nearest and of the farthest pass."""
        single = self.count <= 1.0
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            covered = self.pass_count <= self.count
            ratio = np.exp(self._span / self.pass_count)
            q_first = self._q_near * (1.0 + ratio) / 2.0
            q_last = q_first * ratio ** (self.pass_count - 1.0)
            lens_m = self.focal_mm / 1000.0
            near_d, far_d = 1.0 / self.near_m, 1.0 / self.far_m
            half = (far_d - near_d) * 0.5 / self.count
            first = np.where(covered, lens_m / (1.0 - q_first), 1.0 / (near_d + half))
            last = np.where(covered, lens_m / (1.0 - q_last), 1.0 / (far_d - half))
        nothing = np.isnan(self.near_m)
        return (
            np.where(single | nothing, self.focus_m, first),
            np.where(single | nothing, self.focus_m, last),
        )

    # --- time and light ------------------------------------------------------------------------

    @cached_property
    def needed_fps(self) -> Array:
        """Rate that the motion asks for."""
        fps = self.shot.delivery.fps
        if self.plate.motion == "gravity":
            found: Array = fps * np.sqrt(self.scale)
            return found
        return np.full_like(self.scale, fps)

    @cached_property
    def capture_fps(self) -> Array:
        """Rate recorded: as needed up to the mode's fastest, or slower to save light."""
        if self.space.capture_fps is not None:
            return np.full_like(self.needed_fps, self.space.capture_fps)
        derived = np.minimum(self.needed_fps, self.mode("max_fps"))
        found: Array = derived * along(SLOW, self.space.slowdowns)
        return found

    @cached_property
    def exposure_s(self) -> Array:
        """Exposure time of a frame."""
        return self.shutter / 360.0 / self.capture_fps

    @cached_property
    def lux_needed(self) -> Array:
        """Light for the level of the story's key against a normal exposure (ISO 2720)."""
        darker = self.plate.nd_stops + self.shot.key_level_stops
        stop = self.effective_stop * self.lens("t_over_f") * 2.0 ** (darker / 2.0)
        # Split so that only the last product spans all the axes.
        per_stop = exposure.FLAT_RECEPTOR_LUX_S * stop * stop
        found: Array = per_stop / self.exposure_s / self.iso
        return found

    @cached_property
    def stops_short(self) -> Array:
        """Stops of light missing (negative: to spare); NaN where nothing is known."""
        with np.errstate(divide="ignore", invalid="ignore"):
            there = np.log2(self._from_places("lux"))
            stop = self.effective_stop * self.lens("t_over_f")
            needed = (
                math.log2(exposure.FLAT_RECEPTOR_LUX_S)
                + 2.0 * np.log2(stop)
                + self.plate.nd_stops
                + self.shot.key_level_stops
                - there
            )
        found: Array = needed + (-np.log2(self.exposure_s)) + (-np.log2(self.iso))
        return found

    # --- rules ---------------------------------------------------------------------------------

    @cached_property
    def rules(self) -> list[Rule]:
        """Every rule that has something to say, as `judging.JUDGES`."""
        return [
            rule
            for make in (
                self._optics,
                self._view,
                self._floor,
                self._mismatch,
                self._move,
                self._close_focus,
                self._depth,
                self._breathing,
                self._diffraction,
                self._rate,
                self._blur,
                self._step,
                self._skew,
                self._light,
                self._flicker,
                self._backing,
                self._room,
                self._loan,
                self._recording,
            )
            if (rule := make()) is not None
        ] + self._of_place()

    def _of_place(self) -> list[Rule]:
        """Light, sun and screen: what hangs on the place alone."""
        there = [[{} if p is None else p.of_place for p in row] for row in self.places]
        keys = dict.fromkeys(key for row in there for cell in row for key in cell)
        found = []
        for key in keys:
            ranks = _square([[cell.get(key, 0) for cell in row] for row in there])
            found.append(Rule(key, ranks.astype(np.int8), ranks))
        return found

    def _recording(self) -> Rule | None:
        if self.plate.kind != "screen":
            return None
        step = self._column(
            "chroma step", lambda s: float(max(codecs.CHROMA_STEP[s.mode.subsampling]))
        )
        with np.errstate(divide="ignore", invalid="ignore"):
            pitch = step * self.shot.delivery.width_px / self.pixels
        ranks = _rank(pitch, codecs.PITCH_HOLDS, codecs.PITCH_STRAINS)
        return Rule("recording", ranks, pitch - codecs.PITCH_HOLDS)

    def _optics(self) -> Rule | None:
        """What cannot be built at all: focus inside the lens, or settings it does not have."""
        bad = np.isnan(self.magnification) | np.isnan(self._from_places("axis_m"))
        if not np.isnan(self.near_m).all():
            with np.errstate(invalid="ignore"):
                inside = self.near_m * 1000.0 <= self.focal_mm
            bad = bad | inside
        stop = (self.stop < self.lens("widest_stop") * 0.999) | (
            self.stop > self.lens("smallest_stop") * 1.001
        )
        iso = (self.iso < self.mode("min_iso") * 0.999) | (self.iso > self.mode("max_iso") * 1.001)
        if self.space.shape == (1,) * 7:
            # A plate judged as it stands keeps its settings; only a search may not propose them.
            stop, iso = np.zeros_like(stop), np.zeros_like(iso)
        # Ranks of their own, so that no such candidate is ever offered or called a near miss.
        ranks = bad.astype(np.int8) * 6 + (stop | iso).astype(np.int8) * 6
        return Rule("impossible", ranks.astype(np.int8), ranks.astype(np.float64))

    def _view(self) -> Rule:
        kept = 1.0 + 2.0 * self.shot.padding
        crop = np.maximum(self.crop_across, self.crop_down) * kept
        share = self.pixels / self.shot.delivery.width_px
        with np.errstate(invalid="ignore"):
            wide = _rank(crop, view.COVERED_TO, view.SHORT_STRAINS_TO)
            sharp = _rank(-share, -view.HOLDS_FROM, -view.STRAINS_FROM)
            short = np.where(
                crop > view.COVERED_TO,
                crop / view.SHORT_STRAINS_TO - 1.0,
                view.STRAINS_FROM / share - 1.0,
            )
        return Rule("view", np.where(crop > view.COVERED_TO, wide, sharp), short)

    def _floor(self) -> Rule:
        rows = [
            [(2, math.nan) if p is None else self._floor_of(p) for p in row] for row in self.places
        ]
        ranks = _square([[r for r, _ in row] for row in rows]).astype(np.int8)
        return Rule("floor", ranks, _square([[s for _, s in row] for row in rows]))

    def _floor_of(self, place: Place) -> tuple[int, float]:
        stage, plate = place.case.stage, place.case.plate
        short = stage.floor_axis_m - stage.ideal_axis_m
        if plate.table_m is not None and plate.drop_m > plate.table_m + 1e-9:
            return 2, plate.drop_m - plate.table_m
        if short <= 1e-6:
            return 0, short
        fitted = place.fitted_px
        if plate.axis_height_m is not None:
            at_floor = place.case.tried({"axis_height_m": None})
            fitted = at_floor.matched[1].max_px if at_floor is not None else math.nan
        return (1 if fitted <= self.tolerance_px else 2), short

    def _mismatch(self) -> Rule | None:
        off = self._from_places("fitted_px")
        if not len(self.shot.world_view.points.names):
            return None
        ranks = _rank(off, self.tolerance_px, self.tolerance_px * position.STRAINS_TO)
        return Rule("mismatch", ranks, off - self.tolerance_px * position.STRAINS_TO)

    def _move(self) -> Rule | None:
        if self.shot.move.still:
            return None
        rows: list[list[tuple[float, float, float, float]]] = []
        for setup, row in zip(self.space.setups, self.places, strict=True):
            front = pupil_to_front_m(setup.lens)
            found = []
            for p in row:
                if p is None or p.walk is None:
                    found.append((math.nan,) * 4)
                    continue
                found.append(
                    (
                        float(p.walk.off_px.max()),
                        p.case.stage.floor_axis_m - float(p.walk.axis_m.min()),
                        float(p.walk.clear_m.min()),
                        front,
                    )
                )
            rows.append(found)
        off, low, clear, front_m = (
            _square([[cell[i] for cell in row] for row in rows]) for i in range(4)
        )
        # Without a known pupil the front lies a fixed way before the thin lens.
        ranks = _rank(off, self.tolerance_px, self.tolerance_px * position.STRAINS_TO)
        ranks = np.maximum(ranks, _rank(low, 1e-6, 1e-6))
        ranks = np.maximum(ranks, _rank(front_m - clear, -CLEAR_M, -CLEAR_M))
        return Rule("move", ranks, np.maximum(low, front_m - clear + CLEAR_M))

    def _close_focus(self) -> Rule:
        limit = self.lens("close_focus_m") * 0.999
        with np.errstate(invalid="ignore"):
            # A deeper stop moves the nearest pass; it is the nearest of all that counts.
            short = limit - (self.pass_focus_m[0] + self.sensor_to_pupil_m)
        return Rule("close_focus", _rank(short, 0.0, 0.0), short)

    def _depth(self) -> Rule | None:
        if np.isnan(self.near_m).all():
            return None
        # One pass: the disc at each end, for any focus. Several: their own even spacing.
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            single = np.maximum(self._disc(self.near_m), self._disc(self.far_m))
            k = self.coc_mm * self.stop / self.focal_mm
            even = np.tanh(self._span / (2.0 * self.pass_count)) / k
            first = self.pass_focus_m[0]
            ends = self._disc(self.near_m, first)
            several = np.where(self.pass_count <= self.count, even, ends)
        ratio = np.where(self.count <= 1.0, single, several) / self.relaxed
        return Rule("depth", _rank(ratio, 1.001, sharpness.STRAINS_TO), ratio)

    def _disc(self, at_m: Array, focus_m: Array | None = None) -> Array:
        """Blur disc at a distance as a multiple of the allowed one."""
        u = (self.focus_m if focus_m is None else focus_m) * 1000.0
        x = at_m * 1000.0
        aperture = self.focal_mm * self.focal_mm / self.coc_mm / self.stop
        with np.errstate(divide="ignore", invalid="ignore"):
            near = np.abs(1.0 - u / x) / (u - self.focal_mm)
            far = np.where(np.isinf(u), 1.0 / x, near)
        found: Array = aperture * far
        return found

    def _breathing(self) -> Rule | None:
        if max(self.space.passes) < 2 or np.isnan(self.near_m).all():
            return None
        first, last = (u * 1000.0 for u in self.pass_focus_m)
        with np.errstate(divide="ignore", invalid="ignore"):
            near = 1.0 + self.focal_mm / (first - self.focal_mm)
            far = 1.0 + self.focal_mm / (last - self.focal_mm)
            change = near / far - 1.0
        one = (self.count <= 1.0) | ((self.pass_count <= 1.0) & (self.count > 1.0))
        change = np.where(one, 0.0, change) / self.relaxed
        limit = breathing.STRAINS_TO
        return Rule("passes", _rank(change, limit, 3 * limit), change - 3 * limit)

    def _diffraction(self) -> Rule:
        airy = 2.44 * optics.MID_VISIBLE_NM * 1e-6 * self.effective_stop
        ratio = airy / self.coc_mm / self.relaxed
        return Rule("diffraction", _rank(ratio, 1.0, sharpness.AIRY_STRAINS_TO), ratio)

    def _rate(self) -> Rule | None:
        if self.plate.kind in TIMELESS:
            return None
        capture, needed = self.capture_fps, self.needed_fps
        off = (np.maximum(needed / capture, capture / needed) - 1.0) / self.relaxed
        ranks = _rank(off, rate.HOLDS_TO - 1.0, rate.STRAINS_TO - 1.0)
        slowed = along(SLOW, self.space.slowdowns) != 1.0
        decided = slowed if self.space.capture_fps is None else np.ones_like(slowed)
        beyond = decided & (
            (capture < self.mode("min_fps") * 0.999) | (capture > self.mode("max_fps") * 1.001)
        )
        return Rule("rate", np.where(beyond, np.int8(2), ranks).astype(np.int8), off)

    @cached_property
    def _fastest(self) -> int | None:
        return None if self.motion.still else int(np.argmax(self.motion.fastest_px))

    @cached_property
    def _blur_ratio(self) -> Array:
        if self.plate.kind in TIMELESS:
            return np.zeros((1,) * 7)
        found: Array = (
            self.shutter / self.shot.world.shutter_deg * self.needed_fps / self.capture_fps
        )
        return found

    def _blur(self) -> Rule | None:
        if self._fastest is None:
            return None
        step = float(self.motion.fastest_px[self._fastest])
        world = step * self.shot.world.shutter_deg / 360.0
        ratio = self._blur_ratio
        seen = shutter.BLUR_SEEN_PX * self.shot.delivery.width_px / 1920.0
        hidden = np.abs(world * ratio - world) <= seen
        if self.plate.kind in TIMELESS:
            ranks = np.where(hidden, 0, 1).astype(np.int8)
            return Rule("blur", ranks, ranks.astype(np.float64))
        off = (np.maximum(ratio, 1.0 / ratio) - 1.0) / self.relaxed
        ranks = _rank(off, shutter.BLUR_HOLDS_TO - 1.0, shutter.BLUR_STRAINS_TO - 1.0)
        return Rule("blur", np.where(hidden, np.int8(0), ranks).astype(np.int8), off)

    def _step(self) -> Rule | None:
        if self._fastest is None:
            return None
        step = float(self.motion.fastest_px[self._fastest])
        width = float(self.motion.widths_px[self._fastest])
        blur = step * self.shot.world.shutter_deg / 360.0 * self._blur_ratio
        gap = np.maximum(step - blur, 0.0) / width if width > 0 else np.full_like(blur, np.inf)
        return Rule("step", _rank(gap / self.relaxed, shutter.GAP_TO_WIDTH, math.inf), gap)

    def _skew(self) -> Rule | None:
        readouts = [s.mode.readout_ms for s in self.space.setups]
        if self._fastest is None or self.plate.kind in TIMELESS or not any(readouts):
            return None
        readout = self._column("readout", lambda s: s.mode.readout_ms or 0.0) / 1000.0
        speed = float(self.motion.fastest_px[self._fastest]) * self.needed_fps
        skew = readout * np.minimum(self.crop_down, 1.0) * speed
        lean = np.degrees(np.arctan(skew / self.shot.delivery.height_px)) / self.relaxed
        return Rule("skew", _rank(lean, shutter.LEAN_HOLDS_DEG, shutter.LEAN_STRAINS_DEG), lean)

    def _light(self) -> Rule | None:
        short = self.stops_short
        if np.isnan(short).all():
            return None
        known = np.isnan(self._from_places("lux"))
        ranks = _rank(short / self.relaxed, light.HOLDS_TO, light.STRAINS_TO)
        if known.any():
            ranks = np.where(known, np.int8(0), ranks).astype(np.int8)
        return Rule("light", ranks, short)

    def _flicker(self) -> Rule | None:
        room = self.shot.kit.room(self.plate.room_id)
        lamps = (self.shot.kit.lamp(p.lamp_id) for p in self.plate.lamps)
        if room is None or room.mains_hz is None or all(x is None or x.flicker_free for x in lamps):
            return None
        pulses = self.exposure_s * 2.0 * room.mains_hz
        whole = np.maximum(np.round(pulses), 1.0)
        off = np.abs(pulses - whole) / whole
        ranks = _rank(off, shutter.PULSE_HOLDS, shutter.PULSE_STRAINS)
        ranks = np.where(pulses >= shutter.MANY_PULSES, np.minimum(ranks, 1), ranks)
        few = pulses < 1.0 - shutter.PULSE_STRAINS
        return Rule("flicker", np.where(few, 2, ranks).astype(np.int8), off)

    def _backing(self) -> Rule | None:
        rows = [[None if p is None else p.backing for p in row] for row in self.places]
        if all(v is None for row in rows for v in row):
            return None
        ranks = _square([[0 if v is None else v.rank for v in row] for row in rows])
        return Rule("backing", ranks.astype(np.int8), ranks)

    def _room(self) -> Rule | None:
        if self.shot.kit.room(self.plate.room_id) is None:
            return None
        cosine = math.cos(
            math.radians(
                self.shot.world.tilt_deg if self.plate.tilt_deg is None else self.plate.tilt_deg
            )
        )
        rows = [[(math.nan,) * 3 if p is None else _room_of(p) for p in row] for row in self.places]
        short, other, back = (
            _square([[cell[i] for cell in row] for row in rows]) for i in range(3)
        )
        # The place was worked out for one lens; another moves the wall behind by its own length.
        short = short + (self.sensor_to_pupil_m - back) * cosine
        worst = np.maximum(short, other)
        return Rule("room", _rank(worst, 1e-9, room_rule.STRAINS_TO_M), worst)

    def _loan(self) -> Rule | None:
        fixed = list(loan.stage_loans(self.shot, self.plate).values())
        day = self.plate.film_on
        ranks = self._column(
            f"loan {day} {fixed}",
            lambda s: loan.loan_verdict([s.body.loan, s.lens.loan, *fixed], day).rank,
        )
        return Rule("loan", ranks.astype(np.int8), ranks)


def _room_of(place: Place) -> tuple[float, float, float]:
    """(how much too short, the worse of too narrow and too low, sensor to pupil) of one place."""
    fit = place.fit
    if fit is None:
        return -math.inf, -math.inf, 0.0
    return fit.short_m, max(fit.narrow_m, fit.low_m), place.case.stage.sensor_to_pupil_m


def at_index(values: NDArray[Any], index: tuple[int, ...]) -> float:
    """The value of a candidate in an array that spans only some of the axes."""
    # A list rather than a generator: this is asked for every number of every answer.
    at = [0 if size == 1 else i for i, size in zip(index, values.shape, strict=True)]
    return float(values[tuple(at)])


def changes_of(table: Table, index: tuple[int, ...]) -> dict[str, Any]:
    """The decisions of one candidate as fields of a plate, those that differ from now."""
    space, plate = table.space, table.plate
    setup = space.setups[index[0]]
    slow = space.slowdowns[index[2]]
    capture = at_index(table.capture_fps, index)
    wanted: dict[str, Any] = {
        "body_id": setup.body.id,
        "mode_id": setup.mode.id,
        "lens_id": setup.lens.id,
        "scale": space.scales[index[1]],
        "capture_fps": space.capture_fps if slow == 1.0 else round(capture, 3),
        "shutter_deg": space.shutters[index[3]],
        "f_number": space.stops[index[4]],
        "iso": space.isos[index[5]],
        "focus_passes": space.passes[index[6]],
    }
    return {name: value for name, value in wanted.items() if getattr(plate, name) != value}
