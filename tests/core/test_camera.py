"""The camera against OpenCV's projectPoints, and matching of scaled worlds."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.camera import Camera
from jungoptic.core.matching import distances, fit_similarity, mismatch

RNG = np.random.default_rng(20261123)
POINTS = RNG.uniform([-6, 4, 0], [6, 60, 9], (40, 3))


def opencv_pixels(camera: Camera, points, width, height):
    """The reference: OpenCV's pinhole, fed with a rotation built another way (Rodrigues)."""
    base = np.array([[1, 0, 0], [0, 0, -1], [0, 1, 0]], float)  # looking along +y, z up
    pan, _ = cv2.Rodrigues(np.array([0, 0, math.radians(camera.pan_deg)]))
    # In camera axes (x right, y down, z ahead): tilting up turns about x, rolling about z.
    tilt, _ = cv2.Rodrigues(np.array([-math.radians(camera.tilt_deg), 0, 0]))
    roll, _ = cv2.Rodrigues(np.array([0, 0, -math.radians(camera.roll_deg)]))
    rotation = roll @ tilt @ base @ pan
    translation = -rotation @ np.array(camera.position_m)
    matrix = np.array(
        [
            [camera.focal_mm / camera.sensor_width_mm * width, 0, width / 2],
            [0, camera.focal_mm / camera.sensor_height_mm * height, height / 2],
            [0, 0, 1],
        ]
    )
    pixels, _ = cv2.projectPoints(points, cv2.Rodrigues(rotation)[0], translation, matrix, None)
    return pixels.reshape(-1, 2)


angles = st.floats(-25, 25)


@given(st.floats(12, 120), angles, angles, angles, st.floats(0, 3))
def test_projection_agrees_with_opencv(focal, pan, tilt, roll, height):
    camera = Camera(24.9, 10.4, focal, (0.4, -0.3, height), pan, tilt, roll)
    ahead = camera.to_camera(POINTS)[:, 2] > 0.5
    ours = camera.project(POINTS, 1920, 804)[ahead]
    theirs = opencv_pixels(camera, POINTS[ahead], 1920, 804)
    assert np.allclose(ours, theirs, atol=1e-5 * np.maximum(1, np.abs(theirs)))


class TestSigns:
    """Which way each angle turns, as the docstring says."""

    ahead = np.array([[0.0, 10.0, 1.0]])

    def pixel(self, **turn):
        return Camera(36, 24, 50, (0, 0, 1), **turn).project(self.ahead, 3600, 2400)[0]

    def test_straight_ahead_is_the_centre(self):
        assert self.pixel() == pytest.approx([1800, 1200])

    def test_pan_right_moves_the_picture_left(self):
        # tan(10 deg) * 50 mm at 100 px per mm
        assert self.pixel(pan_deg=10)[0] == pytest.approx(1800 - 881.6, abs=0.1)

    def test_tilt_up_moves_the_picture_down(self):
        assert self.pixel(tilt_deg=10)[1] == pytest.approx(1200 + 881.6, abs=0.1)

    def test_rolling_clockwise_turns_the_picture_the_other_way(self):
        camera = Camera(36, 24, 50, (0, 0, 1), roll_deg=10)
        above = camera.project([[0.0, 10.0, 2.0]], 3600, 2400)[0]
        assert above[0] < 1800
        assert above[1] < 1200

    def test_behind_is_no_answer(self):
        assert np.isnan(Camera(36, 24, 50).project([[0.0, -5.0, 1.0]], 100, 100)).all()

    def test_a_wrong_shape_is_refused(self):
        with pytest.raises(ValueError, match=r"\(n, 3\)"):
            Camera(36, 24, 50).project([1.0, 2.0, 3.0], 100, 100)

    @pytest.mark.parametrize("bad", [0, -1, math.nan, math.inf])
    def test_an_impossible_camera_is_refused(self, bad):
        with pytest.raises(ValueError, match="focal length"):
            Camera(36, 24, bad)

    def test_the_horizon_is_where_far_ground_ends(self):
        camera = Camera(36, 24, 35, (0, 0, 1.6), tilt_deg=-7, roll_deg=4)
        left, right = camera.horizon_px(1920, 1280)
        far = camera.project([[-3e5, 8e5, 0.0], [3e5, 8e5, 0.0]], 1920, 1280)
        on_line = left + (right - left) * far[:, 0] / 1920
        assert far[:, 1] == pytest.approx(on_line, abs=0.05)

    def test_no_horizon_straight_down(self):
        assert Camera(36, 24, 35, (0, 0, 2), tilt_deg=-90).horizon_px(100, 100) is None


@given(st.floats(1, 100), angles, angles, st.floats(0.1, 4))
def test_a_scaled_world_gives_the_same_picture(scale, pan, tilt, height):
    world = Camera(24.9, 10.4, 32, (0.2, 0.1, height), pan, tilt)
    same = world.scaled(scale)
    result = mismatch(world, same, scale, POINTS, 1920, 804)
    assert result.max_px < 1e-6
    assert result.rms_px <= result.max_px


def test_raising_the_camera_shows_most_on_the_nearest_point():
    world = Camera(24.9, 10.4, 32, (0, 0, 1.2))
    raised = Camera(24.9, 10.4, 32, (0, 0, 1.3))
    points = [[0, 4, 0], [0, 8, 0], [0, 30, 0]]
    result = mismatch(world, raised, 1.0, points, 1920, 804)
    # 0.1 m at 4 m through 32 mm at 804 / 10.4 px per mm, by hand
    assert result.max_px == pytest.approx(0.1 / 4 * 32 * 804 / 10.4, rel=1e-6)
    assert result.worst_index == 0


@given(st.floats(0.5, 2), st.floats(-180, 180), st.floats(-500, 500), st.floats(-500, 500))
def test_a_similarity_is_found_exactly(scale, turn, dx, dy):
    source = POINTS[:, :2] * 100
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    target = scale * source @ np.array([[c, s], [-s, c]]) + [dx, dy]
    moved, found = fit_similarity(source, target)
    assert np.allclose(moved, target, atol=1e-6)
    assert found.scale == pytest.approx(scale)
    assert math.cos(math.radians(found.rotation_deg - turn)) == pytest.approx(1.0)
    assert (found.shift_x_px, found.shift_y_px) == pytest.approx((dx, dy), abs=1e-6)


def test_the_fit_agrees_with_opencv():
    source = POINTS[:, :2] * 50
    target = source * 1.1 + RNG.normal(0, 2, source.shape)
    ours, _ = fit_similarity(source, target)
    # OpenCV's least-squares similarity without outlier rejection.
    matrix, _ = cv2.estimateAffinePartial2D(
        source, target, method=cv2.RANSAC, ransacReprojThreshold=1e9
    )
    theirs = source @ matrix[:, :2].T + matrix[:, 2]
    assert np.sqrt(np.mean((ours - target) ** 2)) <= np.sqrt(np.mean((theirs - target) ** 2)) + 1e-6


def test_fitting_never_makes_it_worse_on_average():
    world = Camera(24.9, 10.4, 32, (0, 0, 1.2), tilt_deg=2)
    stage = Camera(24.9, 10.4, 33, (0.1, -0.2, 1.3), tilt_deg=3, roll_deg=0.5)
    plain = mismatch(world, stage, 1.0, POINTS, 1920, 804)
    fitted = mismatch(world, stage, 1.0, POINTS, 1920, 804, fit=True)
    assert fitted.rms_px < plain.rms_px


def test_nothing_in_front_is_no_answer():
    nothing = np.full((3, 2), np.nan)
    result = distances(nothing, nothing)
    assert math.isnan(result.max_px)
    assert result.worst_index == -1
