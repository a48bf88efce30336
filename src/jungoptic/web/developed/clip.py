"""All plates of a view filmed in simulation from its first frame to its last, kept as clips. Loaded
by workers alone."""

from __future__ import annotations

import math
import uuid

import numpy as np
from numpy.typing import NDArray

from jungoptic.core.plan import in_view
from jungoptic.render import dry_run

from ..clips import keep_clip
from ..plans.bridge import load
from ..plans.models import Shot
from ..plans.stored import plan_json
from .keeping import Tell, keep_run, stamp
from .models import FOLDER, DryRun

#: How wide clips are, and so many pictures at most they are made of: of a longer shot every second
#: frame, or every third.
CLIP_PX, MOST_FILMED = 480, 60


def run_clip(shot: Shot, view_id: uuid.UUID | None, tell: Tell) -> DryRun:
    """Film all plates of a view of the plan as it is stored, moment by moment, and keep the two
    clips that come of it."""
    plan = plan_json(shot)
    own = in_view(load(plan), None if view_id is None else str(view_id))
    every = math.ceil(own.frames / MOST_FILMED)
    frames = range(1, own.frames + 1, every)
    both: tuple[list[NDArray[np.uint8]], list[NDArray[np.uint8]]] = [], []
    tell(0, len(frames))
    for done, pictures in enumerate(dry_run.moments(own, frames, CLIP_PX), start=1):
        for kept, picture in zip(both, pictures, strict=True):
            kept.append(picture)
        tell(done, len(frames))
    height, width = both[0][0].shape[:2]
    fps = own.delivery.fps / every
    made = DryRun(
        shot=shot,
        view_id=view_id,
        frame=None,
        fps=fps,
        width_px=width,
        height_px=height,
        stamp=stamp(plan),
    )
    made.composite, made.story = (
        keep_clip(f"{FOLDER}/{made.pk}-{which}", pictures, fps)
        for which, pictures in zip(("composite", "story"), both, strict=True)
    )
    keep_run(made)
    return made
