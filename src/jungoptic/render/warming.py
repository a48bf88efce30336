"""Making the engine ready before anybody asks for a picture: what it loads is loaded."""

from __future__ import annotations

import numpy as np

from .clean import cleaned
from .engine import Stage, available, matte
from .scene import FLOOR, Eye, Layers, Pose, Scene, Shining, Solid
from .shapes import quad

#: As small as a picture may be.
SIZE = 32, 18


def small_scene() -> Scene:
    """A floor under a paper lamp and one with a beam, seen through a lens: what every stage has."""
    grey = (0.2, 0.2, 0.2)
    white = (100.0, 100.0, 100.0)
    floor = Solid(FLOOR, *quad((-3, -1, 0), (3, -1, 0), (3, 9, 0), (-3, 9, 0)), grey)
    over = quad((-1, 3, 3), (-1, 4, 3), (1, 4, 3), (1, 3, 3))
    beside = quad((2, 3, 2), (2, 4, 2), (2, 4, 3), (2, 3, 3))
    lamps = Shining("paper", *over, white), Shining("beam", *beside, white, power=8.0)
    pose = Pose((0.0, 0.0, 1.5), tilt_deg=-15.0)
    return Scene((floor,), lamps, Eye(pose, pose, (24.0, 13.5), 35.0, pupil_m=0.006, sharp_m=4.0))


def ready() -> Layers | None:
    """Look at that once, as a picture is developed; None where the engine is not installed."""
    if not available():
        return None
    scene = small_scene()
    layers = Stage(scene, *SIZE).seen(8)
    cleaned(layers)
    np.asarray(matte(scene, frozenset({FLOOR}), *SIZE))
    return layers
