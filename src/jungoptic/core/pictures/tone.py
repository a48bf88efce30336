"""From what a camera recorded to light, and what every measure asks of a picture first."""

from __future__ import annotations

from typing import TypeAlias

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..impossible import Impossible

#: (h, w, 3) or (h, w), float32.
Picture: TypeAlias = NDArray[np.float32]
Flags: TypeAlias = NDArray[np.bool_]

#: Brightness of linear R, G and B. Source: ITU-R BT.709.
LUMA = np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)
#: At this much of full scale and beyond a recording says nothing more (judgement).
CLIPPED = 0.985


def as_picture(name: str, given: ArrayLike) -> Picture:
    """A picture (h, w, 3), 0..1, as float32; one without colour becomes grey.

    Raises Impossible unless it has two sides of 2 pixels at least, one or three colours, and finite
    values.
    """
    picture = np.asarray(given)
    if picture.ndim == 2:
        picture = np.repeat(picture[..., None], 3, axis=2)
    if picture.ndim != 3 or picture.shape[2] < 3 or min(picture.shape[:2]) < 2:
        raise Impossible(f"{name} must be a picture: rows, columns and three colours.", name)
    found: Picture = np.ascontiguousarray(picture[..., :3], dtype=np.float32)
    if picture.dtype.kind in "ui":
        found = found / np.float32(np.iinfo(picture.dtype).max)
    if not np.isfinite(found).all():
        raise Impossible(f"{name} must hold numbers only.", name)
    return found


def as_flags(name: str, given: ArrayLike | None, shape: tuple[int, int]) -> Flags:
    """Where to look (h, w): all of it unless told.

    Raises Impossible where the size is another, or where nothing is marked.
    """
    if given is None:
        return np.ones(shape, dtype=bool)
    found: Flags = np.asarray(given) > 0
    if found.shape != shape:
        raise Impossible(f"{name} must be as large as the picture.", name)
    if not found.any():
        raise Impossible(f"{name} marks nothing to look at.", name)
    return found


def same_size(a: Picture, b: Picture) -> None:
    """Raises Impossible unless two pictures are one size."""
    if a.shape[:2] != b.shape[:2]:
        sizes = [f"{x.shape[1]} x {x.shape[0]}" for x in (a, b)]
        raise Impossible(f"the pictures must be one size: {sizes[0]} and {sizes[1]}.", "b")


def to_light(picture: Picture) -> Picture:
    """Light of a recording 0..1, a part of full scale. Source: ITU-R BT.709, the curve turned
    round."""
    x = np.clip(picture, 0.0, None)
    high = np.power((np.maximum(x, 0.081) + 0.099) / 1.099, 1.0 / 0.45)
    found: Picture = np.where(x < 0.081, x / 4.5, high).astype(np.float32)
    return found


def to_record(light: Picture) -> Picture:
    """The recording 0..1 of light. Source: ITU-R BT.709."""
    x = np.clip(light, 0.0, None)
    high = 1.099 * np.power(np.maximum(x, 0.018), 0.45) - 0.099
    found: Picture = np.where(x < 0.018, 4.5 * x, high).astype(np.float32)
    return found


def brightest(picture: Picture) -> Picture:
    """The largest of the three colours at each place (h, w); ten times as fast as asking for the
    largest along the last axis, which is so short."""
    found: Picture = np.maximum(np.maximum(picture[..., 0], picture[..., 1]), picture[..., 2])
    return found


def luma(picture: Picture) -> Picture:
    """Brightness (h, w) of a picture."""
    found: Picture = picture @ LUMA
    return found
