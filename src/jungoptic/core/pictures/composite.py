"""Laying plates over each other as post will: by what stands nearer, along dividers, with light
added.

Pictures are linear light, float32 (h, w, 3), 1 for a white surface in normal light. The same is
done with simulated plates and with filmed ones.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .tone import Picture, luma

#: A place is covered when at least this much of it shows a plate.
COVERED = 0.5


@dataclass(frozen=True)
class Layer:
    """A plate ready to be laid in. `matte` (h, w): how much of each pixel is kept, 0..1; `far_m`
    (h, w): how far away in the story what it shows is, infinite for what lies behind everything;
    `adds`: its light comes on top, as fire over black does."""

    name: str
    picture: Picture
    matte: Picture
    far_m: Picture
    adds: bool = False


@dataclass(frozen=True)
class Composite:
    """Plates put together: the `picture`, and how much of each pixel (h, w) any plate covers."""

    picture: Picture
    covered: Picture

    @property
    def hole(self) -> float:
        """The part of the picture that no plate shows, 0..1."""
        return float((self.covered < COVERED).mean())


def laid(layers: Sequence[Layer], empty: float = 0.0) -> Composite:
    """All layers over each other, at every pixel the farther under the nearer: the usual over, c =
    a + (1 - alpha) b with a weighted by its matte (Porter and Duff 1984). Elsewhere it is `empty`.

    Raises ValueError without layers or where they are not one size.
    """
    if not layers:
        raise ValueError("there is nothing to put together.")
    shape = layers[0].matte.shape
    if any(x.matte.shape != shape or x.picture.shape[:2] != shape for x in layers):
        raise ValueError("all layers must be one size.")
    solid = [x for x in layers if not x.adds]
    picture = np.zeros((*shape, 3), dtype=np.float32)
    covered = np.zeros(shape, dtype=np.float32)
    if solid:
        far = np.stack([np.where(np.isfinite(x.far_m), x.far_m, np.inf) for x in solid])
        # Farthest first; the order in which layers came settles what is alike.
        order = np.argsort(-far, axis=0, kind="stable")
        for rank in range(len(solid)):
            for number, layer in enumerate(solid):
                here = order[rank] == number
                if not here.any():
                    continue
                alpha = np.where(here, np.clip(layer.matte, 0.0, 1.0), 0.0).astype(np.float32)
                picture += alpha[..., None] * (layer.picture - picture)
                covered += alpha * (1.0 - covered)
    picture += ((1.0 - covered) * np.float32(empty))[..., None]
    for layer in layers:
        if layer.adds:
            picture += np.clip(layer.matte, 0.0, 1.0)[..., None] * np.maximum(layer.picture, 0.0)
    return Composite(picture, covered)


def divided(shape: tuple[int, int], left: NDArray[np.float64], feather_px: float) -> Picture:
    """The matte (h, w) of what lies left of a line: `left` (h,) is where it runs in each row,
    pixels; over `feather_px` one side fades into the other."""
    across = np.arange(shape[1]) + 0.5
    soft = max(feather_px, 1.0)
    found = np.clip((np.asarray(left)[:, None] - across[None, :]) / soft + 0.5, 0.0, 1.0)
    whole: Picture = found.astype(np.float32)
    return whole


def stops_apart(a: Picture, b: Picture, where: Picture) -> float | None:
    """How much brighter `a` is than `b` over what `where` (h, w) marks, stops: the mean of their
    ratio; None where either is black there."""
    weight = float(where.sum())
    if weight <= 0.0:
        return None
    one, two = (float((luma(x) * where).sum()) / weight for x in (a, b))
    return None if one <= 1e-6 or two <= 1e-6 else float(np.log2(one / two))
