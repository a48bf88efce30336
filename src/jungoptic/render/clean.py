"""Taking the grain of few samples out of a picture: an edge-avoiding wavelet filter on the light
alone, led by which way each pixel faces, how far away it is, and how grainy it was.

Source: Dammertz and others 2010, Edge-avoiding a-trous wavelet transform; Schied and others 2017,
Spatiotemporal variance-guided filtering.
"""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .lamps import LUMA
from .scene import Layers

Numbers = NDArray[np.float32]
_KERNEL = np.array([1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16], dtype=np.float32)
#: How much brightness (in deviations of the grain), facing, depth and colour may differ.
BRIGHT, FACING, DEEP, COLOUR = 3.0, 64.0, 0.02, 25.0
LEAST = np.float32(0.02)


#: Rows worked on at once: what they need stays close to the processor.
ROWS = 24


def cleaned(layers: Layers, levels: int = 4) -> Numbers:
    """The light (h, w, 3) of a picture without its grain."""
    colour: Numbers = np.maximum(layers.colour, LEAST)
    luma = LUMA.astype(np.float32)
    light: Numbers = _apart(layers.light / colour)
    grain: Numbers = (layers.noise / (colour @ luma) ** 2).astype(np.float32)
    told = _Told(_apart(layers.facing), layers.depth_m, layers.colour @ luma)
    with ThreadPoolExecutor(os.cpu_count()) as hands:
        for level in range(levels):
            light, grain = _once(light, grain, told, 1 << level, hands)
    found: Numbers = (np.moveaxis(light, 0, 2) * colour).astype(np.float32)
    return found


@dataclass(frozen=True)
class _Told:
    """What leads the filter: facing (3, h, w), depth and tone (h, w)."""

    facing: Numbers
    depth_m: Numbers
    tone: Numbers


def _apart(values: NDArray[np.floating]) -> Numbers:
    """A picture (h, w, 3) as three of one colour each: one after the other is quicker."""
    return np.ascontiguousarray(np.moveaxis(values, 2, 0), dtype=np.float32)


def _about(values: Numbers) -> Numbers:
    """The mean of each pixel (h, w) and the eight around it."""
    wider = np.pad(values, 1, mode="edge")
    rows = wider[:-2] + wider[1:-1] + wider[2:]
    found: Numbers = (rows[:, :-2] + rows[:, 1:-1] + rows[:, 2:]) / np.float32(9.0)
    return found


def _once(
    light: Numbers, grain: Numbers, told: _Told, step: int, hands: ThreadPoolExecutor
) -> tuple[Numbers, Numbers]:
    bright = np.tensordot(LUMA.astype(np.float32), light, 1)
    spread = np.sqrt(np.maximum(_about(grain), 1e-12)) * BRIGHT + 1e-6
    deep = DEEP * told.depth_m * np.sqrt(np.float32(step)) + 1e-6
    reach = 2 * step
    tall, wide = bright.shape

    def wider(values: Numbers) -> Numbers:
        rest = ((0, 0),) * (values.ndim - 2)
        return np.pad(values, (*rest, (reach, reach), (reach, reach)), mode="edge")

    near = [wider(v) for v in (light, grain, told.facing, told.depth_m, bright, told.tone)]
    middle = [v[..., reach : reach + tall, reach : reach + wide] for v in near]
    lighter, calmer = np.empty_like(light), np.empty_like(grain)

    def rows(top: int) -> None:
        end = min(top + ROWS, tall)
        _, _, facing, depth, bright, tone = (v[..., top:end, :] for v in middle)
        a_spread, a_deep = 1.0 / spread[top:end], 1.0 / deep[top:end]
        total, total_grain = np.zeros_like(lighter[:, top:end]), np.zeros_like(calmer[top:end])
        weight = np.zeros_like(total_grain)
        for i in range(-2, 3):
            down = slice(top + reach + i * step, end + reach + i * step)
            for j in range(-2, 3):
                across = slice(reach + j * step, reach + j * step + wide)
                lights, grains, *others = (v[..., down, across] for v in near)
                facings, depths, brights, tones = others
                turned = facings - facing
                apart = np.abs(brights - bright) * a_spread
                apart += (turned * turned).sum(axis=0) * (FACING / 2.0)
                apart += np.abs(depths - depth) * a_deep
                apart += np.abs(tones - tone) * COLOUR
                w = np.exp(-apart)
                w *= _KERNEL[i + 2] * _KERNEL[j + 2]
                total += w * lights
                weight += w
                w *= w
                total_grain += w * grains
        lighter[:, top:end] = total / weight
        calmer[top:end] = total_grain / (weight * weight)

    list(hands.map(rows, range(0, tall, ROWS)))
    return lighter, calmer
