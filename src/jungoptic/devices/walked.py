"""A simulated walk: a plate photographed along the path of its time-lapse."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

from jungoptic.core.frames.lapse import Walk, walk
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.sheet import Lapse
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.world import Move

from .faults import Faults
from .finder import Finder
from .landscape import landscape
from .raster import Picture


@dataclass
class Walked:
    """Takes a plate's photographs, `width` pixels wide, before a landscape that is far beyond all
    that was planned. The same plan, path, size, seed and faults give the same photographs."""

    shot: Shot
    plate: Plate
    lapse: Lapse
    width: int = 640
    seed: int = 0
    faults: Faults = field(default_factory=Faults)

    @cached_property
    def _walk(self) -> Walk:
        return walk(self.shot, self.plate.scale, self.lapse, self.shot.frames)

    def finder(self, number: int) -> Finder:
        """What shows the photograph of that number, from 1: a camera that stands where it is
        taken."""
        gone, world = self._walk, self.shot.world
        right, away, up = gone.positions_m[number - 1]
        pan, tilt = float(gone.pan_deg[number - 1]), float(gone.tilt_deg[number - 1])
        # The story's camera at the end of a move that ends there.
        move = Move(
            float(right),
            float(away),
            float(up) - world.height_m,
            pan - world.pan_deg,
            tilt - world.tilt_deg,
            "even",
        )
        shot = replace(self.shot, move=move)
        found = Finder(shot, self.plate, self.width, self.seed, self.faults)
        camera = move.moved(world.camera(shot.delivery), 1.0)
        found.behind = landscape(camera, found.width, found.height, self.seed)
        return found

    def still(self, number: int = 1) -> Picture:
        """A photograph from 1, (h, w, 3), 0..1 as recorded. Raises Impossible for a plate that
        cannot be filmed."""
        return self.finder(number).still(number, part=1.0)
