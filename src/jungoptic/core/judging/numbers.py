"""The numbers of one plate as the rules measure them, read off its stage."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cached_property
from typing import TypeVar

import numpy as np

from .. import thin_lens
from ..lighting.on_stage import lighting
from ..lighting.owned import light_there
from ..stage.case import Case
from ..stage.motion import Motion
from .rule import Chosen, Numbers

M = TypeVar("M")

#: This many stops under is as good as no light at all.
DARK = 40.0


class OnePlate:
    """See `rule.Numbers`: every number is a single one.

    They are NumPy's, so that a rule asked at an extreme (a thing exactly at the focal length) gets
    infinity or NaN here as it does in the planner's arrays, and never an exception.
    """

    def __init__(self, case: Case) -> None:
        stage, plate = case.stage, case.plate
        self.case, self.shot, self.plate = case, case.shot, plate
        self.relaxed = case.relaxed
        near = math.nan if stage.near_m is None else stage.near_m
        far = math.nan if stage.far_m is None else stage.far_m
        self.crop_across, self.crop_down = (
            np.float64(stage.crop_across),
            np.float64(stage.crop_down),
        )
        self.pixels = np.float64(stage.pixels_across)
        self.focal_mm, self.coc_mm = np.float64(stage.focal_mm), np.float64(stage.coc_mm)
        self.f_number = np.float64(plate.f_number)
        self.pupil_ratio = np.float64(stage.choice.lens.pupil_ratio)
        self.working_stop = np.float64(stage.effective_f_number)
        self.sensor_to_pupil_m = np.float64(stage.sensor_to_pupil_m)
        self.near_m, self.far_m = np.float64(near), np.float64(far)
        self.focus_m = np.float64(stage.focus_m)
        self.first_focus_m = np.float64(min(p.focus_m for p in stage.passes))
        self.last_focus_m = np.float64(max(p.focus_m for p in stage.passes))
        self.passes = np.float64(plate.focus_passes)
        self.needed_fps = np.float64(stage.needed_fps)
        self.capture_fps = np.float64(stage.capture_fps)
        self.rate_decided = plate.capture_fps is not None
        self.shutter_deg = np.float64(plate.shutter_deg)
        self.exposure_s = np.float64(stage.exposure_s)

    def of_setup(self, name: str, of: Callable[[Chosen], float]) -> float:
        """A number of the body, mode and lens in hand."""
        return np.float64(of(self.case.choice))

    def of_place(self, name: str, of: Callable[[Case], float]) -> float:
        """A number of where the camera stands."""
        return np.float64(of(self.case))

    def of_place_with(self, name: str, of: Callable[..., float], *values: float) -> float:
        """A number of where the camera stands and of some values."""
        return np.float64(of(self.case, *(float(v) for v in values)))

    @property
    def tolerance_px(self) -> float:
        """Mismatch nobody notices."""
        return self.case.tolerance.px

    @cached_property
    def passes_needed(self) -> float:
        """Fewest passes that cover what must be sharp."""
        near, far = self.near_m * 1000.0, self.far_m * 1000.0
        if self.passes <= 1.0 or not near > self.focal_mm / self.pupil_ratio:
            return 1.0
        span = thin_lens.depth_span(self.focal_mm, near, far, self.pupil_ratio)
        k = thin_lens.spread(self.focal_mm, self.f_number, self.coc_mm, self.pupil_ratio)
        return float(thin_lens.passes_needed(span, k))

    @cached_property
    def stops_short(self) -> float:
        """Stops of light missing; NaN where nothing is known of the light there is."""
        found = light_there(self.case, lighting(self.case))
        if found is None:
            return math.nan
        # A lamp that faces away leaves next to nothing; how much less than that says nothing.
        return min(math.log2(self.case.stage.lux_needed / found[0]), DARK)

    @property
    def motion(self) -> Motion:
        """What moves in the picture."""
        return self.case.motion


def numbers_of(case: Case) -> OnePlate:
    """The numbers of a case, worked out once."""
    return case.once("numbers", lambda: OnePlate(case))


def asked(measure: Callable[[Numbers], M], case: Case) -> M:
    """A rule's measure of a case."""
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        return measure(numbers_of(case))
