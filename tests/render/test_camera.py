"""The simulated camera as a device: the same protocol as a real one, with faults whose truth is
known."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from jungoptic.core.plan.plate import PlacedLamp
from jungoptic.core.plan.standins import StandIn
from jungoptic.devices.camera import Camera, SimulatedCamera
from jungoptic.devices.faults import Faults
from proof.plans import random_case

pytestmark = pytest.mark.usefixtures("engine")


def camera(faults: Faults | None = None, width: int = 160, **plate) -> SimulatedCamera:
    case = random_case(0)
    level = replace(case.shot.world, height_m=1.4, pan_deg=0.0, tilt_deg=0.0, roll_deg=0.0)
    things = tuple(
        StandIn(f"b{i}", f"Box {i}", "box", x, y, 0.0, 0.9, h, 0.8, turn, "plate")
        for i, (x, y, h, turn) in enumerate(
            ((-1.2, 5.0, 1.2, 10.0), (0.4, 6.0, 2.0, -15.0), (1.6, 5.5, 0.8, 30.0))
        )
    )
    values = {
        "kind": "live",
        "scale": 1.0,
        "axis_height_m": None,
        "f_number": 5.6,
        "iso": 3200.0,
        "nd_stops": 0.0,
        "lamps": (PlacedLamp("panel", 1.0, 1.0, 2.0), PlacedLamp("panel", -2.0, 2.0, 2.0)),
        **plate,
    }
    own = replace(case.plate, **values)
    shot = replace(
        case.shot,
        world=level,
        stand_ins=things,
        plates=(own,),
        move=type(case.shot.move)(),
        screen_time_s=1.0,
    )
    return SimulatedCamera(shot, own, width, faults=faults or Faults())


def grey(picture: np.ndarray) -> np.ndarray:
    return (picture @ np.array([0.2126, 0.7152, 0.0722])).astype(np.float32)


def shift(a: np.ndarray, b: np.ndarray) -> tuple[float, float]:
    """How far `b` lies from `a`, by phase correlation."""
    window = cv2.createHanningWindow(a.shape[::-1], cv2.CV_32F)
    (dx, dy), _ = cv2.phaseCorrelate(grey_ready(a), grey_ready(b), window)
    return dx, dy


def grey_ready(picture: np.ndarray) -> np.ndarray:
    return picture if picture.ndim == 2 else grey(picture)


def test_it_takes_pictures_as_the_protocol_says():
    one: Camera = camera()
    still = one.still()
    assert still.dtype == np.float32
    assert still.shape == (round(160 / one.shot.delivery.aspect), 160, 3)
    assert 0.0 <= still.min() <= still.max() <= 1.0
    assert len(list(one.sequence([1, 2]))) == 2


def test_the_same_frame_is_the_same_picture_and_noise_is_new_on_the_next():
    one, again = camera(), camera()
    assert (one.still(3) == again.still(3)).all()
    assert (one.still(3) != one.still(4)).any()


def test_a_bump_moves_the_picture_by_as_much_as_the_camera_turned():
    """A pan of a few hundredths of a degree: f tan(angle) in pixels, to the left for a pan to the
    right."""
    one = camera(Faults(since=2, bump_deg=(0.5, 0.0)), width=480)
    focal_px = one.shot.world.focal_mm / one.shot.world.sensor_width_mm * 480
    dx, dy = shift(grey(one.still(1)), grey(one.still(2)))
    assert dx == pytest.approx(-focal_px * np.tan(np.radians(0.5)), rel=0.12)
    assert abs(dy) < 0.3


def test_a_stop_too_wide_is_a_stop_brighter():
    plain, wide = camera(), camera(Faults(stops=1.0))
    levels = [grey(c.still()) for c in (plain, wide)]
    # In the part of the curve that is a power of 0.45 (ITU-R BT.709), away from its knee.
    inside = (levels[0] > 0.15) & (levels[1] < 0.7)
    assert inside.sum() > 50
    light = [((v[inside] + 0.099) / 1.099) ** (1 / 0.45) for v in levels]
    assert np.log2(light[1].mean() / light[0].mean()) == pytest.approx(1.0, abs=0.08)


def test_a_drifted_focus_is_softer():
    steepest = []
    for faults in (Faults(), Faults(focus_m=0.4)):
        one = camera(faults, width=320, f_number=2.0)
        across = cv2.Sobel(cv2.GaussianBlur(grey(one.still()), (3, 3), 0), cv2.CV_32F, 1, 0)
        steepest.append(np.percentile(np.abs(across), 99.5))
    assert steepest[1] < steepest[0] * 0.8


def test_flicker_is_what_it_says_it_is():
    one = camera(Faults(flicker=0.3))
    pair = max(
        ((a, b) for a in range(1, 9) for b in range(1, 9)),
        key=lambda ab: one.level(ab[0]) / one.level(ab[1]),
    )
    bright, dark = (grey(one.still(f)).mean() for f in pair)
    assert one.level(pair[0]) / one.level(pair[1]) > 1.2
    assert bright > dark * 1.05
    assert camera().level(5) == 1.0


def test_a_dropped_frame_is_the_one_before():
    one = camera(Faults(dropped=frozenset({3, 4})))
    assert (one.still(4) == one.still(2)).all()
    assert (one.still(5) != one.still(2)).any()


def test_an_elbow_reaches_in_from_the_left_as_far_as_told():
    plain, crossed = camera(width=320), camera(Faults(elbow_px=80.0), width=320)
    gap = np.abs(grey(plain.still()) - grey(crossed.still())) > 0.08
    columns = np.flatnonzero(gap[gap.shape[0] // 2 - 2 : gap.shape[0] // 2 + 3].any(axis=0))
    assert columns.max() == pytest.approx(80, abs=8)


def test_half_a_lamp_is_seen_on_its_side():
    plain, weak = camera(), camera(Faults(uneven=1))
    assert grey(weak.still()).mean() < grey(plain.still()).mean()
    assert (camera(Faults(uneven=9)).still() == plain.still()).all()
