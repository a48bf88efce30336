"""The numbers of every candidate at once: arrays that span only the axes they need."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .. import exposure, thin_lens
from ..camera import Array
from ..plan.mirrored import seen_by
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.derive import depth_range_m
from ..stage.focal import matching_pinhole_mm
from ..stage.motion import image_motion
from ..stage.rates import needed_fps
from ..stage.tolerance import allowed, relaxed
from .axes import ISO, PASSES, SCALE, SETUP, SHUTTER, SLOW, STOP, along
from .places import Positions
from .space import Setup, Space


def _or_nan(value: float | None) -> float:
    return math.nan if value is None else value


class Candidates:
    """The candidates of `space` for `plate`, as the rules measure them: see `rule.Numbers`."""

    def __init__(
        self,
        shot: Shot,
        plate: Plate,
        space: Space,
        columns: dict[str, Array] | None = None,
    ) -> None:
        #: Numbers of the setups by name: shared by tables that have the same ones.
        self._columns: dict[str, Array] = {} if columns is None else columns
        self.shot = shot = seen_by(shot, plate)
        self.plate = plate
        self.space = space
        self.motion = image_motion(shot, plate)
        self.relaxed = relaxed(shot)
        self.tolerance_px = allowed(shot, self.motion).px
        self.places = Positions(shot, plate, space)

    # --- lists along the axes ------------------------------------------------------------------

    @cached_property
    def scale(self) -> Array:
        """Scale denominators."""
        return along(SCALE, self.space.scales)

    @cached_property
    def f_number(self) -> Array:
        """f-numbers."""
        return along(STOP, self.space.stops)

    @cached_property
    def shutter_deg(self) -> Array:
        """Shutter angles, degrees."""
        return along(SHUTTER, self.space.shutters)

    @cached_property
    def iso(self) -> Array:
        """ISO values."""
        return along(ISO, self.space.isos)

    @cached_property
    def passes(self) -> Array:
        """Focus passes asked for."""
        return along(PASSES, self.space.passes)

    # --- where the camera stands ---------------------------------------------------------------

    def of_place(self, name: str, of: Callable[[Case], float]) -> Array:
        """A number of where the camera stands, asked once for each place."""
        return self.places.laid_out(lambda place: of(place.case))

    def of_setup(self, name: str, of: Callable[[Setup], float]) -> Array:
        """A number of every setup; laid out once for all plates that share the setups."""
        # A camera on its side has its modes turned.
        name = f"{name}, on its side" if self.plate.on_side else name
        if name not in self._columns:
            self._columns[name] = along(SETUP, [of(s) for s in self.space.setups])
        return self._columns[name]

    def of_place_with(self, name: str, of: Callable[..., float], *values: Array) -> Array:
        """A number of every place and of values that hang on setup and scale."""
        return self.places.laid_out_with(of, *values)

    # --- optics --------------------------------------------------------------------------------

    @cached_property
    def near_m(self) -> Array:
        """Nearest distance that must be sharp; NaN when nothing must."""
        return self._sharp("near", 0)

    @cached_property
    def far_m(self) -> Array:
        """Farthest distance that must be sharp."""
        return self._sharp("far", 1)

    def _sharp(self, name: str, end: int) -> Array:
        """The nearest (0) or farthest (1) that must be sharp. Of a shot that zooms it hangs on the
        focus that is decided, which a place does not ask for."""

        def found(case: Case) -> float:
            if self.shot.move.zoom == 1.0:
                return _or_nan((case.stage.near_m, case.stage.far_m)[end])
            plate = replace(case.plate, focus_world_m=self.plate.focus_world_m)
            ends = case.once(
                "sharp as decided", lambda: depth_range_m(case.shot, plate, case.stage.camera)
            )
            return math.nan if ends is None else ends[end]

        return self.of_place(name, found)

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
        low = self.of_setup("shortest", lambda s: s.lens.worth_mm(s.lens.focal_min_mm))
        high = self.of_setup("longest", lambda s: s.lens.worth_mm(s.lens.focal_max_mm))
        sensor = self.mode("sensor_width_mm"), self.mode("sensor_height_mm")
        pinhole = matching_pinhole_mm(self.shot, *sensor)
        wanted: Array = thin_lens.matching_focal(pinhole, self.focus_m * 1000.0, self.pupil_ratio)
        if self.plate.focal_mm:
            decided: float = self.plate.focal_mm
            # Columns are kept for all plates: what this plate decides is part of the name.
            wanted = self.of_setup(f"worth of {decided}", lambda s: s.lens.worth_mm(decided))
        return np.clip(wanted, low, high)

    def mode(self, name: str) -> Array:
        """A number of every setup's mode."""
        return self.of_setup(f"mode {name}", lambda s: float(getattr(s.mode, name)))

    def lens(self, name: str) -> Array:
        """A number of every setup's lens."""
        return self.of_setup(f"lens {name}", lambda s: float(getattr(s.lens, name)))

    @cached_property
    def pupil_ratio(self) -> Array:
        """Exit over entrance pupil."""
        return self.lens("pupil_ratio")

    @cached_property
    def magnification(self) -> Array:
        """Image over object size at the focus; NaN inside the focal length."""
        u = self.focus_m * 1000.0
        with np.errstate(divide="ignore", invalid="ignore"):
            m = thin_lens.magnification(self.focal_mm, u, self.pupil_ratio)
            return np.where(u > self.focal_mm / self.pupil_ratio, m, np.nan)

    @cached_property
    def pinhole_mm(self) -> Array:
        """How far behind the entrance pupil the picture would be as large, f (1 + m / P)."""
        return thin_lens.pinhole(self.focal_mm, self.magnification, self.pupil_ratio)

    @cached_property
    def crop_across(self) -> Array:
        """Part of the mode's width that the delivered view takes."""
        return self._widest_mm / self.mode("sensor_width_mm")

    @cached_property
    def _widest_mm(self) -> Array:
        """Sensor width that the widest of the story's views takes."""
        world = self.shot.world
        return world.sensor_width_mm * self.pinhole_mm / world.focal_mm / self.shot.move.widest

    @cached_property
    def crop_down(self) -> Array:
        """Part of the mode's height that it takes."""
        return self._widest_mm / self.shot.delivery.aspect / self.mode("sensor_height_mm")

    @cached_property
    def pixels(self) -> Array:
        """Pixels left across the delivered frame, at its tightest."""
        return self.mode("width_px") * np.minimum(self.crop_across, 1.0) / self.shot.move.closes

    @cached_property
    def coc_mm(self) -> Array:
        """Largest unnoticed blur disc at the sensor."""
        return 2.0 * self._widest_mm / self.shot.move.closes / self.shot.delivery.width_px

    @cached_property
    def working_stop(self) -> Array:
        """Working f-number close up."""
        return thin_lens.working_stop(self.f_number, self.magnification, self.pupil_ratio)

    @cached_property
    def sensor_to_pupil_m(self) -> Array:
        """From the sensor mark to the entrance pupil."""
        known = self.of_setup(
            "sensor to pupil",
            lambda s: (
                math.nan
                if s.lens.pupil_from_mount_mm is None
                else s.body.flange_mm + s.lens.pupil_from_mount_mm
            ),
        )
        thin = self.focal_mm * (2.0 + self.magnification - 1.0 / self.pupil_ratio)
        found: Array = np.where(np.isnan(known), thin, known) / 1000.0
        return found

    @cached_property
    def passes_needed(self) -> Array:
        """Fewest passes that cover what must be sharp, at each stop."""
        k = thin_lens.spread(self.focal_mm, self.f_number, self.coc_mm, self.pupil_ratio)
        with np.errstate(divide="ignore", invalid="ignore"):
            return thin_lens.passes_needed(self._span, k)

    @cached_property
    def _q_near(self) -> Array:
        with np.errstate(invalid="ignore"):
            found: Array = 1.0 - self.focal_mm / self.pupil_ratio / (self.near_m * 1000.0)
        return found

    @cached_property
    def _span(self) -> Array:
        with np.errstate(divide="ignore", invalid="ignore"):
            near, far = self.near_m * 1000.0, self.far_m * 1000.0
            return thin_lens.depth_span(self.focal_mm, near, far, self.pupil_ratio)

    @property
    def first_focus_m(self) -> Array:
        """Focus of the nearest pass."""
        return self._pass_focus_m[0]

    @property
    def last_focus_m(self) -> Array:
        """Focus of the farthest pass."""
        return self._pass_focus_m[1]

    @cached_property
    def _pass_focus_m(self) -> tuple[Array, Array]:
        """Focus of the nearest and of the farthest pass."""
        single = self.passes <= 1.0
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            covered = self.passes_needed <= self.passes
            ratio = np.exp(self._span / self.passes_needed)
            q_first = self._q_near * (1.0 + ratio) / 2.0
            q_last = q_first * ratio ** (self.passes_needed - 1.0)
            lens_m = self.focal_mm / self.pupil_ratio / 1000.0
            near_d, far_d = 1.0 / self.near_m, 1.0 / self.far_m
            half = (far_d - near_d) * 0.5 / self.passes
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
        slowest = self.shot.time.slowest
        if self.plate.motion == "gravity":
            found: Array = fps * np.sqrt(self.scale) / slowest
            return found
        if self.plate.motion == "still":
            return np.full_like(self.scale, needed_fps(self.shot, self.plate))
        # What is pulled on a scaled set is pulled slower; life runs at its own speed.
        return np.where(self.scale == 1.0, fps / slowest, fps)

    @cached_property
    def capture_fps(self) -> Array:
        """Rate recorded: as needed up to the mode's fastest, or slower to save light."""
        if self.space.capture_fps is not None:
            return np.full_like(self.needed_fps, self.space.capture_fps)
        derived = np.minimum(self.needed_fps, self.mode("max_fps"))
        found: Array = derived * along(SLOW, self.space.slowdowns)
        return found

    @cached_property
    def rate_decided(self) -> NDArray[np.bool_]:
        """Whether the rate is somebody's choice rather than what follows."""
        slowed = along(SLOW, self.space.slowdowns) != 1.0
        return slowed if self.space.capture_fps is None else np.ones_like(slowed)

    @cached_property
    def exposure_s(self) -> Array:
        """Exposure time of a frame."""
        return self.shutter_deg / 360.0 / self.capture_fps

    @cached_property
    def lux_needed(self) -> Array:
        """Light for the level of the story's key against a normal exposure (ISO 2720)."""
        darker = self.plate.nd_stops + self.shot.key_level_stops
        stop = self.working_stop * self.lens("t_over_f") * 2.0 ** (darker / 2.0)
        # Split so that only the last product spans all the axes.
        per_stop = exposure.FLAT_RECEPTOR_LUX_S * stop * stop
        found: Array = per_stop / self.exposure_s / self.iso
        return found

    @cached_property
    def stops_short(self) -> Array:
        """Stops of light missing (negative: to spare); NaN where nothing is known."""
        with np.errstate(divide="ignore", invalid="ignore"):
            there = np.log2(self.places.laid_out(lambda place: place.lux))
            stop = self.working_stop * self.lens("t_over_f")
            needed = (
                math.log2(exposure.FLAT_RECEPTOR_LUX_S)
                + 2.0 * np.log2(stop)
                + self.plate.nd_stops
                + self.shot.key_level_stops
                - there
            )
        found: Array = needed + (-np.log2(self.exposure_s)) + (-np.log2(self.iso))
        return found
