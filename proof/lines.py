"""What haze and thin lines look like."""

from __future__ import annotations

import random
from collections.abc import Iterator

import numpy as np

from jungoptic.core import haze
from jungoptic.core.lockoff.rigs.seen import left_of, wire_px
from jungoptic.core.stage.case import Case
from jungoptic.render.air import hazed
from jungoptic.render.engine import Stage
from jungoptic.render.scene import Eye, Pose, Scene, Shining, Solid
from jungoptic.render.shapes import box, quad

from .looks import WHITE, brightness
from .reading import FAINT, HAZE, THREAD, Reading

AIR = (0.3, 0.3, 0.3)
BLACK = (0.0, 0.0, 0.0)
AHEAD = Pose((0.0, 0.0, 0.0))


def airs(plan: int, case: Case) -> Iterator[Reading]:
    """The contrast of a white and a black card that is left through the story's haze."""
    clear = case.shot.visibility_m
    if clear is None:
        return
    far = clear * random.Random(plan).uniform(0.02, 0.8)
    eye = Eye(AHEAD, AHEAD, (10.0, 10.0), 200.0)
    face = quad(*((x * far, far, z * far) for x, z in ((-1, -1), (1, -1), (1, 1), (-1, 1))))
    both = []
    for tone in (1.0, 0.0):
        scene = Scene((), (Shining("card", *face, (tone, tone, tone)),), eye)
        layers = Stage(scene, 4, 4, bounces=0).seen(64)
        both.append(brightness(hazed(layers.light, layers.depth_m, clear, AIR)).mean())
    yield Reading(HAZE, plan, haze.transmission(far, clear), float(both[0] - both[1]))


def threads(plan: int, case: Case) -> Iterator[Reading]:
    """How thick a thread is in the picture, and how much of it is left when it moves sideways."""
    dice = random.Random(plan)
    width = case.shot.delivery.width_px
    focal_px = case.stage.camera.focal_px(width)
    eye = Eye(AHEAD, AHEAD, (case.stage.camera.sensor_width_mm,) * 2, case.stage.camera.focal_mm)
    far, thick = dice.uniform(0.6, 5.0), dice.uniform(0.0002, 0.006)
    told = wire_px(thick, far, focal_px)
    if not 0.05 < told < 8.0:
        return
    pixel = far / focal_px
    back = quad(*((x * far, far + 1.0, z * far) for x, z in ((-2, -2), (2, -2), (2, 2), (-2, 2))))
    glow = Shining("back", *back, WHITE)
    moved = dice.uniform(0.3, 4.0)
    reach = 16
    middle = width // 2
    part = (middle - reach, middle - 4, 2 * reach, 8)

    def dark(gone_px: float) -> np.ndarray:
        # Half way through it stands before the middle of a pixel.
        x = (0.5 - gone_px / 2.0) * pixel
        low, high = (x - thick / 2.0, far, -far), (x + thick / 2.0, far + 1e-6, far)
        line = Solid("line", *box(low, high), BLACK, carried_m=(gone_px * pixel, 0.0, 0.0))
        stage = Stage(Scene((line,), (glow,), eye), width, width, 0, part, aside=False)
        seen = brightness(
            stage.seen(8192 if gone_px else 2304, plan, moments=32, passes=1).light
        ).mean(axis=0)
        return np.asarray(1.0 - seen)

    yield Reading(THREAD, plan, told, float(dark(0.0).sum()))
    left = left_of(told, moved)
    if left > 0.03:
        yield Reading(FAINT, plan, left, float(dark(moved).max()))
