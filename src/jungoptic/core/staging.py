"""For who uses the core from outside: a plate's stage. Inside, see `stage.derive`."""

from .stage.derive import Choice, Stage, choose, depth_range_m, derive, floor_tape_m

__all__ = ["Choice", "Stage", "choose", "depth_range_m", "derive", "floor_tape_m"]
