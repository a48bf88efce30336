"""One plate under judgement, and the means to try a change."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

from ..camera import Array
from ..impossible import Impossible
from ..matching import Mismatch, Similarity
from ..plan.mirrored import seen_by
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import StandIn
from .compared import Compared, compared
from .derive import Choice, Stage, choose, derive
from .in_frame import on_stage, own_things
from .motion import Motion, image_motion
from .seen import Seen
from .tolerance import Tolerance, allowed, relaxed

T = TypeVar("T")


@dataclass(frozen=True)
class Case:
    """A plate with everything needed to judge it."""

    shot: Shot
    plate: Plate
    stage: Stage
    #: What has been worked out of this case; see `once`.
    made: dict[str, Any] = field(default_factory=dict, compare=False, repr=False, init=False)

    def once(self, key: str, make: Callable[[], T]) -> T:
        """What `make` gives, worked out the first time it is asked for under `key`: for what
        several judgements and drawings need of the same case."""
        if key not in self.made:
            self.made[key] = make()
        found: T = self.made[key]
        return found

    @property
    def choice(self) -> Choice:
        """Body, mode and lens in hand."""
        return self.stage.choice

    @cached_property
    def seen(self) -> Seen:
        """What this stage's camera shows of the shot, at every frame."""
        return on_stage(self.shot, self.plate, self.stage.camera)

    @cached_property
    def own(self) -> tuple[StandIn, ...]:
        """What the plate films and is asked about: ground left out."""
        return own_things(self.shot, self.plate)

    @cached_property
    def compared(self) -> Compared:
        """Where this stage's camera must agree with the story's."""
        return compared(self.shot, self.plate)

    @cached_property
    def stage_pixels(self) -> Array:
        """The compared points as this stage's camera puts them, pixels (r, 2)."""
        return self.compared.through(self.shot, self.plate, self.stage.camera)

    @cached_property
    def matched(self) -> tuple[Mismatch, Mismatch]:
        """Mismatch with the world camera over all frames, before and after the best reframe. Kept,
        because several judgements and the words of their remedies ask for it."""
        return self._laid_over[:2]

    @cached_property
    def reframe(self) -> Similarity | None:
        """The best reframe, in pixels of the picture as the shot begins; None when too little is in
        view to find one."""
        return self._laid_over[2]

    @cached_property
    def _laid_over(self) -> tuple[Mismatch, Mismatch, Similarity | None]:
        return self.compared.laid_over(self.stage_pixels)

    @property
    def motion(self) -> Motion:
        """How the plate's things move in the story's picture: the same whatever is tried here."""
        return image_motion(self.shot, self.plate)

    @cached_property
    def tolerance(self) -> Tolerance:
        """Mismatch nobody notices in this plate, with its working."""
        return allowed(self.shot, self.motion)

    @property
    def depth_m(self) -> float:
        """How deep the action is, from its nearest to its farthest thing; 0 without any."""
        near, far = self.stage.near_m, self.stage.far_m
        return 0.0 if near is None or far is None else far - near

    @property
    def relaxed(self) -> float:
        """By how much the realism of the shot stretches what still passes."""
        return relaxed(self.shot)

    @staticmethod
    def of(shot: Shot, plate: Plate) -> Case | None:
        """The case for `plate`; None while body, mode or lens is missing. A plate that is mirrored
        in post sees the shot with left and right exchanged."""
        shot = seen_by(shot, plate)
        choice = choose(shot.kit, plate)
        return None if choice is None else Case(shot, plate, derive(shot, plate, choice))

    def tried(self, changes: Mapping[str, Any]) -> Case | None:
        """The same case with the plate changed; None where the change makes no sense."""
        plate = replace(self.plate, **changes)
        choice = choose(self.shot.kit, plate)
        if choice is None:
            return None
        try:
            # Where post places or mirrors it otherwise, its stage has something else of the story.
            shot = seen_by(self.shot, plate)
            return Case(shot, plate, derive(shot, plate, choice))
        except Impossible:
            return None
