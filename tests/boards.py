"""Boards as a camera sees them, by the stand-in that ships with the product."""

from __future__ import annotations

import numpy as np

from jungoptic.core.camera import Camera
from jungoptic.devices.held_up import Board, with_board


def seen(
    camera: Camera,
    wide: int,
    high: int,
    number: int = 12_345,
    way: str = "lying",
    size: str = "A4",
    noise: float = 0.01,
    seed: int = 0,
    larger: float = 1.0,
    up_m: float = 0.0,
) -> np.ndarray:
    """A picture (high, wide), eight bits, of a board with its lower edge's middle at the origin;
    `larger`: how much larger it was printed than it should be."""
    ground = np.full((high, wide), 0.35, np.float32)
    grey = with_board(ground, Board(camera, number, way, size, larger, up_m))
    grey = grey + np.random.default_rng(seed).normal(0.0, noise, grey.shape)
    return np.clip(grey * 255.0 + 0.5, 0, 255).astype(np.uint8)
