"""Taking the grain of few samples out of a picture: an edge-avoiding wavelet filter on the light
alone, led by which way each pixel faces, how far away it is, and how grainy it was.

Source: Dammertz and others 2010, Edge-avoiding a-trous wavelet transform; Schied and others 2017,
Spatiotemporal variance-guided filtering.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import uniform_filter

from .lamps import LUMA
from .scene import Layers

Numbers = NDArray[np.float32]
_KERNEL = np.array([1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16], dtype=np.float32)
#: How much brightness (in deviations of the grain), facing, depth and colour may differ.
BRIGHT, FACING, DEEP, COLOUR = 3.0, 64.0, 0.02, 25.0
LEAST = np.float32(0.02)


def cleaned(layers: Layers, levels: int = 4) -> Numbers:
    """The light (h, w, 3) of a picture without its grain."""
    colour: Numbers = np.maximum(layers.colour, LEAST)
    luma = LUMA.astype(np.float32)
    light: Numbers = (layers.light / colour).astype(np.float32)
    grain: Numbers = (layers.noise / (colour @ luma) ** 2).astype(np.float32)
    tone = layers.colour @ luma
    for level in range(levels):
        light, grain = _once(light, grain, layers, tone, 1 << level)
    found: Numbers = (light * colour).astype(np.float32)
    return found


def _once(
    light: Numbers, grain: Numbers, layers: Layers, tone: Numbers, step: int
) -> tuple[Numbers, Numbers]:
    luma = LUMA.astype(np.float32)
    bright = light @ luma
    spread = np.sqrt(np.maximum(uniform_filter(grain, 3), 1e-12)) * BRIGHT + 1e-6
    reach = 2 * step
    tall, wide = bright.shape

    def wider(values: Numbers) -> Numbers:
        rest = ((0, 0),) * (values.ndim - 2)
        return np.pad(values, ((reach, reach), (reach, reach), *rest), mode="edge")

    near = [wider(v) for v in (light, grain, layers.facing, layers.depth_m, bright, tone)]
    total, total_grain = np.zeros_like(light), np.zeros_like(grain)
    weight = np.zeros_like(grain)
    deep = DEEP * layers.depth_m * np.sqrt(np.float32(step)) + 1e-6
    for i in range(-2, 3):
        for j in range(-2, 3):
            at = (
                slice(reach + i * step, reach + i * step + tall),
                slice(reach + j * step, reach + j * step + wide),
            )
            lights, grains, facing, depth, brights, tones = (v[at] for v in near)
            apart = np.abs(brights - bright) / spread
            apart += ((facing - layers.facing) ** 2).sum(axis=-1) / 2.0 * FACING
            apart += np.abs(depth - layers.depth_m) / deep
            apart += np.abs(tones - tone) * COLOUR
            w = _KERNEL[i + 2] * _KERNEL[j + 2] * np.exp(-apart)
            total += w[..., None] * lights
            total_grain += w * w * grains
            weight += w
    return total / weight[..., None], total_grain / (weight * weight)
