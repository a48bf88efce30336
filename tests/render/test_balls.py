"""Balls in pictures of the simulated camera: the lamps that lit them are found where they were, by
an engine that follows light and knows nothing of the core's formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest

from jungoptic.core.picked.balls import by_balls
from jungoptic.core.picked.seen import PickedBall
from jungoptic.core.pictures.tone import to_record
from jungoptic.devices.balls import held_up, outlined
from jungoptic.render.engine import Stage
from jungoptic.render.scene import FLOOR, Eye, Pose, Scene, Shining, Solid
from jungoptic.render.shapes import quad
from proof.plans import random_case

W, H, FOCAL, WIDE = 960, 540, 50.0, 24.0
NONE = np.zeros((0, 3), dtype=np.intp)
POSE = Pose((0.0, 0.0, 1.4), pan_deg=4.0, tilt_deg=-3.0)
BALL_M, KEY, FILL = (0.2, 1.2, 1.36), (-1.5, 0.8, 2.4), (1.8, 0.5, 1.6)
pytestmark = pytest.mark.usefixtures("engine")


def lamp(at: tuple[float, float, float], radius: float, candela: float) -> Shining:
    level = candela / (math.pi * radius**2)
    return Shining("lamp", np.array([at]), NONE, (level, level, level), radius_m=radius)


def in_camera(to: tuple[float, float, float]) -> np.ndarray:
    way = np.subtract(to, BALL_M)
    return np.array([way @ axis for axis in POSE.axes]) / np.linalg.norm(way)


def pictured(mirror: bool, lamps: list[Shining], exposed: float) -> tuple[np.ndarray, PickedBall]:
    """A ball over a floor, as recorded, and its outline."""
    floor = Solid(FLOOR, *quad((-3, -3, 0), (3, -3, 0), (3, 5, 0), (-3, 5, 0)), (0.1,) * 3)
    level = 0.9 if mirror else 0.18
    ball = Solid("ball", np.array([BALL_M]), NONE, (level,) * 3, ball_m=0.06, mirror=mirror)
    scene = Scene((floor, ball), tuple(lamps), Eye(POSE, POSE, (WIDE, WIDE * H / W), FOCAL))
    seen = np.subtract(BALL_M, POSE.at_m)
    right, down, ahead = (seen @ axis for axis in POSE.axes)
    far, focal = float(np.linalg.norm(seen)), FOCAL / WIDE * W
    x, y = W / 2 + right / ahead * focal, H / 2 + down / ahead * focal
    radius = math.tan(math.asin(0.06 / far)) * focal
    part = round(x - 100), round(y - 100), 200, 200
    cut = Stage(scene, W, H, part=part).seen(36).light
    whole = np.zeros((H, W, 3), np.float32)
    whole[part[1] : part[1] + 200, part[0] : part[0] + 200] = cut
    recorded = np.clip(to_record(whole * np.float32(exposed)), 0.0, 1.0)
    kind = "chrome" if mirror else "grey"
    return recorded, PickedBall(kind, x / W, y / H, radius / W)


def angle_deg(a, b) -> float:
    return math.degrees(math.acos(float(np.clip(np.dot(a, b), -1.0, 1.0))))


def test_a_chrome_ball_shows_both_lamps_their_width_and_their_share():
    lamps = [lamp(KEY, 0.1, 1000.0), lamp(FILL, 0.2, 250.0)]
    picture, ball = pictured(True, lamps, 1.0 / 40_000.0)
    (found,) = by_balls(picture, [ball], FOCAL / WIDE)
    assert found.problem == ""
    for light, at, radius in zip(found.lights, (KEY, FILL), (0.1, 0.2), strict=True):
        far = math.dist(at, BALL_M)
        # A lamp near by shows from where it meets the ball, not from its middle.
        beside = math.degrees(math.asin(0.06 / far))
        assert angle_deg(light.towards, in_camera(at)) < light.off_deg + beside
        assert light.size_deg == pytest.approx(2.0 * math.degrees(math.asin(radius / far)), rel=0.2)
    under = math.log2(1000.0 / math.dist(KEY, BALL_M) ** 2 / (250.0 / math.dist(FILL, BALL_M) ** 2))
    assert found.lights[1].stops == pytest.approx(under, abs=0.3)


def test_a_grey_ball_shows_key_fill_and_what_lies_between():
    lamps = [lamp(KEY, 0.1, 1000.0), lamp(FILL, 0.2, 250.0)]
    picture, ball = pictured(False, lamps, 0.06)
    (found,) = by_balls(picture, [ball], FOCAL / WIDE)
    key, fill = found.lights
    assert angle_deg(key.towards, in_camera(KEY)) < key.off_deg
    assert angle_deg(fill.towards, in_camera(FILL)) < 12.0
    under = math.log2(1000.0 / math.dist(KEY, BALL_M) ** 2 / (250.0 / math.dist(FILL, BALL_M) ** 2))
    assert fill.stops == pytest.approx(under, abs=0.3)


def test_balls_are_held_where_the_hand_traces_them():
    case = random_case(0)
    balls = held_up(case)
    camera, mode = case.stage.camera, case.choice.mode
    for ball, traced in zip(balls, outlined(case, balls), strict=True):
        (place,) = camera.to_camera(ball.vertices)
        focal = case.stage.pinhole_mm / mode.sensor_width_mm
        assert traced.x == pytest.approx(0.5 + place[0] / place[2] * focal, abs=0.003)
        assert traced.radius == pytest.approx(ball.ball_m / place[2] * focal, rel=0.1)
    assert [one.mirror for one in balls] == [True, False]
