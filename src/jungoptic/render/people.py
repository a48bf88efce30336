"""What stands in the story as solids: people of rounded parts, boxes, cards and ground.

Proportions of a standing adult as figure drawing teaches them: eight heads tall, the eyes at 0.936
of the height, shoulders a quarter of it wide (common practice). Tones are judgement: each part of a
person told from the next in black and white.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from jungoptic.core.plan.standins import StandIn

from .scene import Array, Rgb, Solid
from .shapes import Shape, ball, joined, limb, quad
from .shapes import box as plain_box

SKIN: Rgb = (0.46, 0.34, 0.27)
TOP: Rgb = (0.22, 0.235, 0.26)
TROUSERS: Rgb = (0.13, 0.135, 0.15)
HAIR: Rgb = (0.05, 0.042, 0.038)
SHOES: Rgb = (0.06, 0.055, 0.05)
GROUND: Rgb = (0.28, 0.27, 0.25)
#: Boxes and cards take turns with these, so that one is told from the next.
TINTS: tuple[Rgb, ...] = (
    (0.42, 0.38, 0.33),
    (0.34, 0.36, 0.38),
    (0.45, 0.43, 0.40),
    (0.30, 0.33, 0.30),
    (0.40, 0.33, 0.29),
)
#: Ground drawn on the floor lies this much above it, so that neither hides in the other.
ABOVE_M = 0.002


@lru_cache(maxsize=64)
def person(reach: float = 0.0) -> tuple[tuple[Rgb, Shape], ...]:
    """A standing person of height 1 who faces the camera, weight on one leg, arms a little off the
    body or held out by `reach` of the height."""
    parts: list[tuple[Rgb, Shape]] = [
        (TOP, ball((0, 0.004, 0.715), (0.100, 0.060, 0.113))),
        (TOP, limb((-0.074, 0.006, 0.785), (0.074, 0.006, 0.785), 0.043, 0.043)),
        (TOP, ball((0, 0.002, 0.600), (0.085, 0.056, 0.105))),
        (TOP, limb((0, 0.010, 0.80), (0, 0.006, 0.838), 0.046, 0.034)),
        (TROUSERS, ball((0, 0.006, 0.515), (0.091, 0.062, 0.064))),
        (SKIN, limb((0, 0.008, 0.825), (0, 0.002, 0.89), 0.028, 0.027)),
        (SKIN, ball((0, -0.002, 0.928), (0.045, 0.053, 0.057))),
        (SKIN, limb((0, -0.028, 0.894), (0, -0.018, 0.912), 0.022, 0.031)),
        (SKIN, limb((0, -0.052, 0.938), (0, -0.060, 0.917), 0.006, 0.010)),
        (HAIR, ball((0, 0.013, 0.9465), (0.051, 0.053, 0.0535))),
        (HAIR, limb((-0.030, -0.044, 0.947), (0.030, -0.044, 0.947), 0.006, 0.006)),
    ]
    for side, x, y in ((-1, -0.066, -0.012), (1, 0.075, 0.020)):
        out = side * reach
        elbow = (side * 0.128 + out * 0.5, 0.018, 0.632 + abs(out) * 0.3)
        hand = (side * 0.122 + out, -0.022, 0.505 + abs(out) * 0.6)
        palm = (side * 0.118 + out * 1.05, -0.032, 0.460 + abs(out) * 0.66)
        parts += [
            (TOP, limb((side * 0.106, 0.008, 0.780), elbow, 0.037, 0.029)),
            (TOP, limb(elbow, hand, 0.028, 0.020)),
            (SKIN, limb(hand, palm, 0.019, 0.015)),
            (SKIN, limb((side * 0.046, 0.004, 0.925), (side * 0.046, 0.006, 0.94), 0.008, 0.011)),
            (
                TROUSERS,
                limb((side * 0.048, 0.004, 0.50), (x * 0.95, y - 0.006, 0.28), 0.053, 0.038),
            ),
            (TROUSERS, limb((x * 0.95, y - 0.006, 0.28), (x, y + 0.008, 0.05), 0.039, 0.028)),
            (SHOES, limb((x, y + 0.012, 0.0215), (x * 1.14, y - 0.075, 0.0175), 0.0215, 0.0165)),
        ]
    tones = dict.fromkeys(tone for tone, _ in parts)
    return tuple((tone, joined([s for t, s in parts if t == tone])) for tone in tones)


def _turned(thing: StandIn, local: Array) -> Array:
    """Points told from the thing's foot (right, away, up), in the story's metres."""
    turn = math.radians(thing.heading_deg)
    right = np.array([math.cos(turn), -math.sin(turn), 0.0])
    away = np.array([math.sin(turn), math.cos(turn), 0.0])
    up = np.array([0.0, 0.0, 1.0])
    foot = np.array([thing.x_m, thing.y_m, thing.z_m])
    placed: Array = foot + local[:, :1] * right + local[:, 1:2] * away + local[:, 2:] * up
    return placed


def solids_of(thing: StandIn, number: int = 0) -> list[Solid]:
    """A stand-in as solids in the story's metres; `number`: which one of the shot it is."""
    if thing.kind == "figure":
        reach = thing.reach_m / max(thing.height_m, 1e-6)
        return [
            Solid(thing.id, _turned(thing, points * thing.height_m), faces, tone, smooth=True)
            for tone, (points, faces) in person(round(reach, 3))
        ]
    half, deep, high = thing.width_m / 2.0, thing.depth_m, thing.height_m
    tone = TINTS[number % len(TINTS)]
    if thing.kind == "card":
        shape = quad((-half, 0, 0), (half, 0, 0), (half, 0, high), (-half, 0, high))
    elif thing.kind == "ground":
        z = ABOVE_M
        shape = quad((-half, 0, z), (half, 0, z), (half, deep, z), (-half, deep, z))
        tone = GROUND
    else:
        shape = plain_box((-half, 0, 0), (half, deep, high))
    return [Solid(thing.id, _turned(thing, shape[0]), shape[1], tone)]
