"""What stands in two pictures of a shot, and how much brighter one has it than the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from jungoptic.core.pictures.composite import stops_apart
from jungoptic.core.plan.shot import Shot

from .engine import matte
from .scene import Scene

#: How wide the picture is in which things are compared.
COMPARED_PX = 240
#: A thing this small in the picture says nothing, part of the picture.
LEAST_PART = 0.0008


@dataclass(frozen=True)
class Compared:
    """A thing in both pictures: how much brighter the composite has it than the story, stops (None
    where that says nothing: too dark, or on a stage that no lamp lights yet), and where it is:
    left, top, right, bottom, parts of the picture."""

    thing_id: str
    name: str
    stops: float | None
    box: tuple[float, float, float, float]


def _smaller(picture: NDArray[np.float32], width: int, height: int) -> NDArray[np.float32]:
    planes = [
        np.asarray(Image.fromarray(picture[..., i]).resize((width, height), Image.Resampling.BOX))
        for i in range(3)
    ]
    return np.stack(planes, axis=-1)


def compared(
    shot: Shot,
    world: Scene,
    composite: NDArray[np.float32],
    story: NDArray[np.float32],
    unlit: frozenset[str],
) -> tuple[Compared, ...]:
    """Everything that a plate films, as the two pictures have it."""
    wide = min(COMPARED_PX, composite.shape[1])
    tall = max(round(wide / shot.delivery.aspect), 2)
    one, two = (_smaller(p, wide, tall) for p in (composite, story))
    found = []
    for thing in shot.stand_ins:
        if thing.kind == "ground" or thing.matters == "none":
            continue
        there = np.asarray(matte(world, frozenset({thing.id}), wide, tall, 8), dtype=np.float32)
        if there.mean() < LEAST_PART:
            continue
        rows, columns = np.nonzero(there > 0.3)
        if not len(rows):
            continue
        box = (
            *(float(columns.min() / wide), float(rows.min() / tall)),
            *(float((columns.max() + 1) / wide), float((rows.max() + 1) / tall)),
        )
        stops = None if thing.plate_id in unlit else stops_apart(one, two, there)
        found.append(Compared(thing.id, thing.name, stops, box))
    return tuple(found)
