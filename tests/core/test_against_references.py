"""The main road checked against things outside the project: tables, rays traced by brute force,
OpenCV, and facts of the trade."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime
from itertools import pairwise

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from jungoptic.core import exposure, light, optics, scale, sun
from jungoptic.core.plan import standins
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.case import Case

from .examples import ANSA, MILL, with_plate


class TestTables:
    # Horizontal angles of view of a 36 mm wide frame as lens tables print them, to the degree
    # (handbook tables, from memory; they follow from 2 atan(d / 2f)).
    @pytest.mark.parametrize(
        ("focal", "degrees"),
        [(20, 84), (24, 74), (28, 65), (35, 54), (50, 40), (85, 24), (135, 15)],
    )
    def test_angles_of_view(self, focal, degrees):
        assert optics.angle_of_view_deg(36, focal) == pytest.approx(degrees, abs=0.6)

    # Super 35, 24.9 mm wide (common practice): a 25 mm lens sees about 53 degrees.
    def test_angle_of_view_of_super_35(self):
        assert optics.angle_of_view_deg(24.9, 25) == pytest.approx(52.9, abs=0.1)

    # Mired table of filter makers' handbooks (from memory): M = 1e6 / K.
    @pytest.mark.parametrize(
        ("start", "end", "shift"), [(3200, 5500, -131), (5500, 3200, 131), (2800, 3200, -45)]
    )
    def test_mired_shifts(self, start, end, shift):
        assert light.mired_shift(start, end) == pytest.approx(shift, abs=1.0)

    # Froude scaling as model basins use it: time scales with the root, speed with the root.
    @pytest.mark.parametrize(("s", "factor"), [(4, 2), (9, 3), (16, 4), (25, 5), (36, 6)])
    def test_square_scales(self, s, factor):
        assert scale.capture_fps(24, s) == pytest.approx(24 * factor)
        assert scale.set_duration_s(6, scale.capture_fps(24, s), 24) == pytest.approx(6 / factor)

    def test_sunny_sixteen(self):
        # Common practice: in full sun f/16 at 1/ISO s. Full sun is 60,000 to 110,000 lx.
        for iso in (50, 100, 400):
            assert 50_000 < exposure.illuminance_lux(16, 1 / iso, iso) < 110_000

    # ISO 217 / ISO 2720 arithmetic: each full stop doubles the light that is needed.
    def test_a_full_stop_doubles_the_light(self):
        series = [1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0]
        lux = [exposure.illuminance_lux(n, 1 / 48, 400) for n in series]
        for a, b in pairwise(lux):
            assert b / a == pytest.approx(2.0, rel=0.06)  # marked stops are rounded by custom


class TestSunFacts:
    def test_noon_at_the_solstice(self):
        # Astronomy: at the June solstice the noon sun stands at 90 - latitude + 23.44 degrees.
        best = max(
            sun.sun_position(datetime(2026, 6, 21, 12, m, tzinfo=UTC), 52.6, 0.0).elevation_deg
            for m in range(0, 10)
        )
        assert best == pytest.approx(90 - 52.6 + 23.44, abs=0.05)

    def test_the_sun_culminates_in_the_south_and_rises_in_the_east(self):
        noon = sun.sun_position(datetime(2026, 3, 20, 12, 7, tzinfo=UTC), 52.6, 0.0)
        assert noon.azimuth_deg == pytest.approx(180, abs=1.0)
        morning = sun.sun_position(datetime(2026, 3, 20, 6, 8, tzinfo=UTC), 52.6, 0.0)
        assert morning.azimuth_deg == pytest.approx(90, abs=2.0)
        assert abs(morning.elevation_deg) < 1.5

    def test_south_of_the_equator_it_culminates_in_the_north(self):
        noon = sun.sun_position(datetime(2026, 6, 21, 12, 2, tzinfo=UTC), -35.0, 0.0)
        assert min(noon.azimuth_deg, 360 - noon.azimuth_deg) < 2


def traced_blur_mm(focal: float, stop: float, focus_m: float, object_m: float) -> float:
    """Blur disc by tracing the two edge rays of a thin lens to the sensor: no closed form."""
    f, u, x = focal / 1000, focus_m, object_m
    sensor = 1 / (1 / f - 1 / u)
    image = 1 / (1 / f - 1 / x)
    half = f / stop / 2
    # An edge ray leaves the lens at `half` and crosses the axis at `image`.
    at_sensor = half - half / image * sensor
    return abs(2 * at_sensor) * 1000


@given(st.floats(10, 200), st.floats(1.2, 32), st.floats(0.3, 50), st.floats(0.3, 50))
def test_blur_agrees_with_traced_rays(focal, stop, focus, point):
    assume(focus * 1000 > focal * 1.2)
    assume(point * 1000 > focal * 1.2)
    ours = optics.blur_disc_mm(focal, stop, focus, point)
    assert ours == pytest.approx(traced_blur_mm(focal, stop, focus, point), abs=1e-9, rel=1e-6)


@given(st.floats(10, 200), st.floats(1.2, 32), st.floats(0.3, 50), st.floats(0.005, 0.05))
def test_depth_limits_agree_with_traced_rays(focal, stop, focus, disc):
    assume(focus * 1000 > focal * 1.2)
    depth = optics.depth_of_field(focal, stop, focus, disc)
    assert traced_blur_mm(focal, stop, focus, depth.near_m) == pytest.approx(disc, rel=1e-5)
    inside = depth.near_m * 0.3 + focus * 0.7
    assert traced_blur_mm(focal, stop, focus, inside) < disc


def opencv_picture(camera, points, width, height):
    """Stage picture by OpenCV, for a camera that only tilts."""
    t = math.radians(camera.tilt_deg)
    rotation = np.array(
        [[1, 0, 0], [0, math.sin(t), -math.cos(t)], [0, math.cos(t), math.sin(t)]], float
    )
    matrix = np.array(
        [
            [camera.focal_mm / camera.sensor_width_mm * width, 0, width / 2],
            [0, camera.focal_mm / camera.sensor_height_mm * height, height / 2],
            [0, 0, 1],
        ]
    )
    translation = -rotation @ np.array(camera.position_m)
    pixels, _ = cv2.projectPoints(points, cv2.Rodrigues(rotation)[0], translation, matrix, None)
    return pixels.reshape(-1, 2)


@settings(max_examples=40, deadline=None)
@given(
    st.floats(4, 30),
    st.floats(-0.02, 0.03),
    st.floats(-0.1, 0.1),
    st.floats(-2, 2),
)
def test_the_mismatch_of_a_stage_agrees_with_opencv(s, up, back, turn):
    """Plan to verdict, with OpenCV in place of our camera on both sides."""
    plate = replace(
        MILL,
        scale=s,
        lens_id="l20",
        axis_height_m=max(1.5 / s + up, 0.01),
        setback_m=back,
        tilt_deg=3.0 + turn,
    )
    one = with_plate(plate)
    case = Case.of(one, one.plates[0])
    assert case is not None
    points = case.compared.points
    world = opencv_picture(one.world.camera(one.delivery), points, 1920, 804)
    stage = opencv_picture(case.stage.camera, points / s, 1920, 804)
    ahead = case.stage.camera.to_camera(points / s)[:, 2] > 0
    off = np.hypot(*(world - stage)[ahead].T)
    plain, fitted = case.matched
    assert plain.max_px == pytest.approx(off.max(), rel=1e-6, abs=1e-6)
    assert plain.rms_px == pytest.approx(math.sqrt((off**2).mean()), rel=1e-6, abs=1e-6)
    assert fitted.rms_px <= plain.rms_px + 1e-9


@settings(max_examples=25, deadline=None)
@given(st.floats(0.3, 40), st.floats(8, 120))
def test_a_chosen_lens_never_changes_perspective(s, focal):
    """Common practice: perspective depends on where the camera stands, never on the lens."""
    from jungoptic.core.plan import Kit

    from .examples import CINEMA, prime

    lens = prime(focal, close_m=0.05)
    one = replace(
        with_plate(MILL, scale=s, drop_m=1.0, lens_id=lens.id), kit=Kit((CINEMA,), (lens,))
    )
    result = report(one, remedies=False).plates[0]
    if result.stage is None:
        assert result.findings[0].key == "impossible"
        return
    mismatch = next(f for f in result.findings if f.key == "mismatch")
    assert mismatch.workings[0].result.value < 1e-6


@settings(max_examples=25, deadline=None)
@given(st.floats(1.1, 60), st.floats(4, 22))
def test_depth_in_the_story_shrinks_as_the_model_does(s, stop):
    """Common practice: a smaller model at the same stop looks shallower, hence like a toy."""

    def story_depth(scale_now: float) -> float:
        result = report(with_plate(MILL, scale=scale_now, f_number=stop, drop_m=1.0), False)
        stage = result.plates[0].stage
        assert stage is not None
        return min(stage.depth_far_m * scale_now, 1e9) - stage.depth_near_m * scale_now

    assert story_depth(s * 1.2) <= story_depth(s) * 1.0001


def test_light_needed_follows_the_bellows():
    """Ray (from memory): close up the working stop is N (1 + m), so light goes with its square."""
    near = report(with_plate(MILL, scale=60.0, drop_m=1.0), False).plates[0].stage
    far = report(with_plate(ANSA), False).plates[0].stage
    assert near is not None
    assert far is not None
    gain = (near.effective_f_number / 16.0) ** 2
    plain = exposure.illuminance_lux(16, near.exposure_s, 800)
    assert near.lux_needed == pytest.approx(plain * gain)
    assert far.effective_f_number == pytest.approx(5.6, rel=0.01)


def test_the_rim_of_a_figure_is_the_hull_of_its_outline():
    """By scipy, whose loading is spared whoever waits for a picture."""
    outline = np.concatenate([standins._BODY, standins._HEAD])
    assert list(standins._ON_RIM) == ConvexHull(outline).vertices.tolist()
