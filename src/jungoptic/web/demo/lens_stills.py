"""Stills of a board by which the demo's widest lens can be measured, by the simulated lens; shipped
with it. `make demo-pictures` takes them again."""

from __future__ import annotations

from typing import Any

import numpy as np
from PIL import Image

from jungoptic.core.pictures.bend import Bend
from jungoptic.devices.slanted import even, held_at_a_slant

from ..kit.models import Lens
from ..productions.models import Production
from .films import HERE, hung

#: The lens, by its name; how it really bends lines, focused at the board, on a sensor of the demo's
#: first body; and the board that was at hand.
LENS = "20 mm prime"
REALLY = Bend(-0.105, 0.022, 0.06, -0.04, 21.2, 24.9)
BOARD = 411_307
SIZE = (1280, 675)
WHITE = "L20 white"


def make() -> None:
    """Take them."""
    stills = held_at_a_slant(REALLY, *SIZE, BOARD, noise=0.004)
    named = [(f"L20 {n}", one) for n, one in enumerate(stills, start=1)]
    for name, picture in (*named, (WHITE, even(REALLY, *SIZE, noise=0.002))):
        shown = Image.fromarray((picture * 255.0 + 0.5).astype(np.uint8))
        shown.save(_path(name), "JPEG", quality=82)


def names() -> list[str]:
    """What they are called, in the order they were taken."""
    return [*(f"L20 {n}" for n in range(1, 10)), WHITE]


def _path(name: str) -> Any:
    return HERE / f"{name.replace(' ', '-')}.jpg"


def lay(production: Production, user: Any) -> None:
    """Hang them on their lens, read."""
    lens = Lens.objects.get(production=production, name=LENS)
    for name in names():
        hung(production, user, _path(name), name, "", lens=lens, role="reference").save()
