"""A chrome and a grey ball, held up before a simulated camera where the action is."""

from __future__ import annotations

import numpy as np

from jungoptic.core.impossible import Impossible
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.picked.seen import BallKind, PickedBall
from jungoptic.core.stage.case import Case
from jungoptic.render.scene import Solid

#: How far before the action they are held, from each other, and how large they are, metres: garden
#: balls and what models are made of.
BEFORE_M, APART_M, RADIUS_M = 0.5, 0.19, 0.075
#: What they give back: polished steel, and grey paint.
CHROME, GREY = 0.6, 0.18
KINDS: tuple[BallKind, ...] = ("chrome", "grey")


def held_up(case: Case, radius_m: float = RADIUS_M) -> tuple[Solid, ...]:
    """Both, the chrome one at the left, between the lens and the action of a plate that is lit.
    Raises Impossible where no lamp shines."""
    light = lighting(case)
    if light is None:
        raise Impossible("no lamp shines on this stage: a ball has nothing to show.", "lamps")
    camera = case.stage.camera
    ahead = camera.to_camera([light.at_m])[0]
    near = ahead * (1.0 - BEFORE_M / max(float(ahead[2]), 2.0 * BEFORE_M))
    found = []
    for kind, aside in zip(KINDS, (-0.5, 0.5), strict=True):
        there = near + np.array([aside * APART_M, 0.0, 0.0])
        at = np.asarray(camera.position_m) + there @ camera.axes
        level = CHROME if kind == "chrome" else GREY
        none = np.zeros((0, 3), dtype=np.intp)
        grey = (level, level, level)
        mirror = kind == "chrome"
        found.append(Solid(kind, at[None, :], none, grey, ball_m=radius_m, mirror=mirror))
    return tuple(found)


def outlined(case: Case, balls: tuple[Solid, ...]) -> list[PickedBall]:
    """Where a hand that does not tremble would trace them in all that the plate's camera records:
    the mean of the oval that a ball is there."""
    camera, mode = case.stage.camera, case.choice.mode
    focal = case.stage.pinhole_mm / mode.sensor_width_mm * mode.width_px
    found = []
    for ball, kind in zip(balls, KINDS, strict=True):
        middle = camera.to_camera(ball.vertices)[0]
        far = float(np.linalg.norm(middle))
        way, half = middle / far, np.arcsin(ball.ball_m / far)
        one = np.cross(way, (0.0, 1.0, 0.0))
        one /= np.linalg.norm(one)
        turn = np.linspace(0.0, 2.0 * np.pi, 180, endpoint=False)[:, None]
        rim = np.cos(turn) * one + np.sin(turn) * np.cross(way, one)
        rays = way * np.cos(half) + rim * np.sin(half)
        places = rays[:, :2] / rays[:, 2:] * focal
        low, high = places.min(axis=0), places.max(axis=0)
        x, y = (low + high) / 2.0
        radius = float(np.mean(np.hypot(*(places - (x, y)).T)))
        parts = x / mode.width_px + 0.5, y / mode.height_px + 0.5, radius / mode.width_px
        found.append(PickedBall(kind, *(float(v) for v in parts)))
    return found
