"""Cameras found from points and from edges, in pictures that a known camera made (the projection is
tested against OpenCV elsewhere)."""

from __future__ import annotations

import math

import numpy as np
import pytest

from jungoptic.core.camera import Camera
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures import lines, resect

W, H, SENSOR = 1920, 804, 24.9


def a_camera(dice, focal=None):
    focal = dice.uniform(16, 85) if focal is None else focal
    x, y, z = dice.uniform((-2, -2, 0.3), (2, 1, 2.0))
    turns = dice.uniform((-40, -20, -8), (40, 12, 8))
    return Camera(SENSOR, SENSOR * H / W, focal, (x, y, z), *turns)


def solid(dice, camera, count):
    """Points in view of a camera, 2 to 8 m away."""
    right, down, ahead = camera.axes
    slopes = (dice.uniform((60, 60), (W - 60, H - 60), (count, 2)) - (W / 2, H / 2)) * SENSOR / W
    slopes = slopes / camera.focal_mm
    ways = ahead + slopes[:, :1] * right + slopes[:, 1:] * down
    return np.array(camera.position_m) + dice.uniform(2, 8, (count, 1)) * ways


def test_a_camera_that_is_exact_is_found_exactly():
    dice = np.random.default_rng(1)
    for count in (4, 5, 9):
        camera = a_camera(dice)
        points = solid(dice, camera, count)
        found = resect.camera(points, camera.project(points, W, H), W, H, SENSOR, camera.focal_mm)
        assert found.rms_px < 1e-3
        assert found.camera.position_m == pytest.approx(camera.position_m, abs=1e-4)
        for name in ("pan_deg", "tilt_deg", "roll_deg", "focal_mm", "sensor_height_mm"):
            told = getattr(camera, name)
            assert getattr(found.camera, name) == pytest.approx(told, abs=1e-3), name


def test_without_a_focal_length_it_is_found_too():
    dice = np.random.default_rng(2)
    for _ in range(8):
        camera = a_camera(dice)
        points = solid(dice, camera, 8)
        found = resect.camera(points, camera.project(points, W, H), W, H, SENSOR)
        assert found.camera.focal_mm == pytest.approx(camera.focal_mm, rel=1e-4)
        assert found.camera.position_m == pytest.approx(camera.position_m, abs=1e-3)


def test_marks_in_one_plane_at_a_slant_are_enough_for_both():
    camera = Camera(SENSOR, SENSOR * H / W, 28.0, (0.2, -0.5, 1.4), 8.0, -18.0, 1.0)
    floor = np.array([[x, y, 0.0] for x in (-0.8, 0.0, 0.9) for y in (2.5, 3.5, 5.0)])
    found = resect.camera(floor, camera.project(floor, W, H), W, H, SENSOR)
    assert found.camera.focal_mm == pytest.approx(28.0, rel=1e-3)
    assert found.camera.position_m == pytest.approx(camera.position_m, abs=2e-3)


def test_nine_errors_of_ten_lie_within_what_is_said():
    dice = np.random.default_rng(3)
    held = []
    for _ in range(120):
        camera = a_camera(dice)
        points = solid(dice, camera, int(dice.integers(6, 14)))
        pixels = camera.project(points, W, H) + dice.normal(0, 0.4, (len(points), 2))
        known = dice.random() < 0.5
        found = resect.camera(points, pixels, W, H, SENSOR, camera.focal_mm if known else None)
        off = np.abs(np.array(found.camera.position_m) - camera.position_m)
        held += list(off <= 1.65 * np.array(found.sigma.position_m))
        held.append(abs(found.camera.tilt_deg - camera.tilt_deg) <= 1.65 * found.sigma.tilt_deg)
    assert np.mean(held) > 0.86


def test_a_lens_that_bends_lines_is_told():
    camera = Camera(SENSOR, SENSOR * H / W, 20.0, (0.0, 0.0, 1.5), 0.0, 0.0, 0.0)
    points = solid(np.random.default_rng(4), camera, 10)
    seen = camera.project(points, W, H)
    # Brown 1966: radius times 1 + k1 r^2, r as a slope to the axis.
    slopes = (seen - (W / 2, H / 2)) * SENSOR / W / 20.0
    k1 = -0.12
    bent = (W / 2, H / 2) + (seen - (W / 2, H / 2)) * (1 + k1 * (slopes**2).sum(1))[:, None]
    straight = resect.camera(points, bent, W, H, SENSOR, 20.0)
    told = resect.camera(points, bent, W, H, SENSOR, 20.0, [k1])
    assert straight.rms_px > 5.0
    assert told.rms_px < 1e-3
    assert told.camera.position_m == pytest.approx(camera.position_m, abs=1e-4)


def test_a_small_board_far_away_says_that_it_cannot_tell_the_focal_length():
    camera = Camera(SENSOR, SENSOR * H / W, 35.0, (0.0, 0.0, 1.0), 0.0, 0.0, 0.0)
    board = np.array([[x, 6.0, 1.0 + z] for x in (-0.1, 0.0, 0.1) for z in (-0.14, 0.0, 0.14)])
    pixels = camera.project(board, W, H) + np.random.default_rng(5).normal(0, 0.1, (9, 2))
    assert resect.camera(board, pixels, W, H, SENSOR).focal_unsure
    assert not resect.camera(board, pixels, W, H, SENSOR, 35.0).focal_unsure


def test_what_cannot_be_is_said():
    line = np.array([[x, 3.0, 1.0] for x in range(6)])
    with pytest.raises(Impossible, match="one line"):
        resect.camera(line, line[:, :2], W, H, SENSOR, 35.0)
    with pytest.raises(Impossible, match="four points"):
        resect.camera(np.zeros((2, 3)), np.zeros((2, 2)), W, H, SENSOR, 35.0)
    dice = np.random.default_rng(6)
    with pytest.raises(Impossible, match="six points"):
        resect.camera(dice.random((5, 3)), dice.random((5, 2)), W, H, SENSOR)
    with pytest.raises(Impossible, match="place in the picture"):
        resect.camera(np.zeros((5, 3)), np.zeros((4, 2)), W, H, SENSOR)
    with pytest.raises(Impossible, match="sensor width"):
        resect.camera(np.zeros((5, 3)), np.zeros((5, 2)), W, H, 0.0)


def edges(dice, camera, counts):
    """Segments of edges along x, y and z, so many of each."""
    right, down, ahead = camera.axes
    found = [[], [], []]
    for axis, count in enumerate(counts):
        while len(found[axis]) < count:
            slope = (dice.uniform((100, 100), (W - 100, H - 100)) - (W / 2, H / 2)) * SENSOR / W
            slope = slope / camera.focal_mm
            way = ahead + slope[0] * right + slope[1] * down
            at = np.array(camera.position_m) + dice.uniform(3, 9) * way
            half = np.zeros(3)
            half[axis] = dice.uniform(0.4, 1.2)
            ends = camera.project(np.stack([at - half, at + half]), W, H)
            if 100 < np.linalg.norm(ends[1] - ends[0]) < 1500:
                found[axis].append(ends[:: dice.choice([-1, 1])])
    return found


@pytest.mark.parametrize("counts", [(4, 4, 4), (3, 3, 0), (0, 4, 4), (5, 0, 5)])
def test_edges_of_a_room_tell_lens_and_turns(counts):
    dice = np.random.default_rng(7)
    for _ in range(6):
        camera = Camera(
            SENSOR,
            SENSOR * H / W,
            dice.uniform(16, 50),
            (0.0, 0.0, 1.6),
            dice.choice([-1, 1]) * dice.uniform(22, 55),
            dice.uniform(-24, -12),
            dice.uniform(-4, 4),
        )
        found = lines.camera(edges(dice, camera, counts), W, H, 1.6, SENSOR)
        assert found.rms_px < 0.01
        assert found.camera.focal_mm == pytest.approx(camera.focal_mm, rel=2e-3)
        for name in ("pan_deg", "tilt_deg", "roll_deg"):
            told = getattr(camera, name)
            assert getattr(found.camera, name) == pytest.approx(told, abs=0.05), name
        assert found.camera.position_m == (0.0, 0.0, 1.6)


def test_the_less_edges_come_together_the_less_they_tell():
    # Vanishing points far away: a camera that looks straight along the room.
    def unsure(pan, tilt):
        dice = np.random.default_rng(8)
        camera = Camera(SENSOR, SENSOR * H / W, 32.0, (0.0, 0.0, 1.6), pan, tilt, 0.0)
        rows = [
            [ends + dice.normal(0, 0.3, (2, 2)) for ends in one]
            for one in edges(dice, camera, (5, 5, 5))
        ]
        found = lines.camera(rows, W, H, sensor_width_mm=SENSOR)
        assert math.isinf(found.sigma.position_m[2])
        return found.sigma.focal_mm / 32.0

    assert unsure(40.0, -20.0) < 0.02 < unsure(1.5, -1.0)


def test_too_few_edges_are_said():
    with pytest.raises(Impossible, match="two directions"):
        lines.camera([[[[0, 0], [100, 0]]], [], []], W, H)
    with pytest.raises(Impossible, match="along x"):
        lines.camera([[], []], W, H)
    with pytest.raises(Impossible, match="two ends"):
        lines.camera([[[0, 1, 2]], [], []], W, H)


@pytest.mark.parametrize("told", [None, 35.0])
def test_slopes_are_those_that_small_steps_find(told):
    """By differences, as anybody would check a derivative; also under a lens that bends lines."""
    dice = np.random.default_rng(6)
    points = dice.uniform(-0.5, 0.5, (9, 3))
    values = np.array([0.3, -0.2, 0.1, 0.1, -0.2, 3.0, math.log(35.0)])
    per_mm, middle = W / SENSOR, np.array([W, H]) / 2.0
    bent = np.array([-0.1, 0.02, 0.0, 0.0])
    seen = resect._Seen(points, np.zeros((9, 2)), per_mm, middle, bent, told)
    slopes = seen.slopes(values)
    assert slopes.shape == (18, 7 if told is None else 6)
    for i in range(seen.free):
        step = np.zeros(7)
        step[i] = 1e-6
        change = seen.off(values + step) - seen.off(values - step)
        assert slopes[:, i] == pytest.approx(change / 2e-6, rel=1e-4, abs=1e-3)
