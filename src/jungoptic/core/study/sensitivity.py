"""Which numbers are worth a tape measure at this framing, and which are not."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from .. import thin_lens
from ..camera import Camera
from ..matching import Mismatch, plain_and_fitted
from ..stage.case import Case

Advice = Literal["tape", "care", "ignore"]
#: A usual slip that uses up half of the tolerance is worth a tape; a tenth is not worth a thought
#: (judgement).
TAPE_FROM = 0.5
CARE_FROM = 0.1


@dataclass(frozen=True)
class Sensitivity:
    """What one number does to the picture.

    `px_per_unit`: largest movement of a compared point per `unit`, and `fitted_px_per_unit` what
    remains after the best reframe; `slip`: what is usually missed by when set by hand, in `unit`
    (judgement); `allowed`: how far off it may be until the tolerance is used up (inf: never).
    """

    key: str
    name: str
    unit: str
    px_per_unit: float
    fitted_px_per_unit: float
    slip: float
    allowed: float
    advice: Advice


@dataclass(frozen=True)
class _Knob:
    key: str
    name: str
    unit: str
    slip: float
    #: One unit in the camera's own numbers, and how the camera takes it.
    turn: Callable[[Camera, float], Camera]


def _shift(axis: int) -> Callable[[Camera, float], Camera]:
    def turned(camera: Camera, units: float) -> Camera:
        position = list(camera.position_m)
        position[axis] += units / 100.0
        return replace(camera, position_m=(position[0], position[1], position[2]))

    return turned


_KNOBS = (
    _Knob("height", "Height of the lens axis", "cm", 1.0, _shift(2)),
    _Knob("distance", "Distance to the action", "cm", 1.0, _shift(1)),
    _Knob("aside", "Camera to the side", "cm", 1.0, _shift(0)),
    _Knob("tilt", "Tilt", "°", 0.5, lambda c, u: replace(c, tilt_deg=c.tilt_deg + u)),
    _Knob("pan", "Pan", "°", 0.5, lambda c, u: replace(c, pan_deg=c.pan_deg + u)),
    _Knob("roll", "Roll", "°", 0.5, lambda c, u: replace(c, roll_deg=c.roll_deg + u)),
)


def sensitivities(case: Case) -> tuple[Sensitivity, ...]:
    """px per cm of height, distance and aside, per degree of tilt, pan and roll, per mm of focal
    length and per cm of focus, worst first after the best reframe.

    Differences are taken a hundredth of a unit to each side of the stage camera as built. Source:
    pinhole projection; the focus acts through the thin lens's breathing.
    """
    stage = case.stage
    found = [
        _measured(case, k.key, k.name, k.unit, k.slip, lambda u, k=k: k.turn(stage.camera, u))  # type: ignore[misc]
        for k in _KNOBS
    ]
    ratio = stage.choice.lens.pupil_ratio

    def focused(focal_mm: float, focus_mm: float) -> Camera:
        m = thin_lens.magnification(focal_mm, focus_mm, ratio)
        return replace(stage.camera, focal_mm=thin_lens.pinhole(focal_mm, m, ratio))

    focal, focus = stage.focal_mm, stage.focus_m * 1000.0
    # The same focus with another focal length: on a table top the picture grows by more than it.
    found.append(
        _measured(
            case, "focal", "Focal length", "mm", 0.02 * focal, lambda u: focused(focal + u, focus)
        )
    )
    if stage.focus_m < 1e4:
        found.append(
            _measured(
                case,
                "focus",
                "Focus distance",
                "cm",
                1.0,
                lambda u: focused(focal, focus + u * 10.0),
            )
        )
    return tuple(sorted(found, key=lambda s: -s.fitted_px_per_unit * s.slip))


def _measured(
    case: Case, key: str, name: str, unit: str, slip: float, turned: Callable[[float], Camera]
) -> Sensitivity:
    step = 0.01
    shot = case.shot
    points = case.once("first compared", case.compared.first)
    before, after = (points.through(shot, case.plate, turned(u)) for u in (-step, step))
    plain, fitted = plain_and_fitted(before, after)
    per_unit, left = (_largest(m) / (2.0 * step) for m in (plain, fitted))
    tolerance = case.tolerance.px
    allowed = tolerance / left if left > 1e-9 else float("inf")
    share = left * slip / tolerance
    advice: Advice = "tape" if share >= TAPE_FROM else "care" if share >= CARE_FROM else "ignore"
    return Sensitivity(key, name, unit, per_unit, left, slip, allowed, advice)


def _largest(found: Mismatch) -> float:
    return 0.0 if np.isnan(found.max_px) else found.max_px
