"""The decisions of one shot, in the story's own metres."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, TypeVar

import numpy as np

from ..camera import Array
from ..counting import frames_in
from ..slices import slices_of
from .beside import Beside
from .kit import Kit
from .plate import Plate
from .standins import StandIn, measured_points
from .story_time import StoryTime
from .tricks import Beat, RampKey, Reframe, Split
from .view import View
from .world import Delivery, Move, WorldCamera

T = TypeVar("T")


#: How wide the sun is, degrees (mean; any almanac).
SUN_DEG = 0.533


@dataclass(frozen=True)
class Shot:
    """A shot: one delivered picture, its world cameras, stand-ins and plates. What is said of it
    here is said of its first view; `views` are further ones."""

    delivery: Delivery
    world: WorldCamera
    screen_time_s: float = 4.0
    tolerance_px: float | None = None
    stand_ins: tuple[StandIn, ...] = ()
    plates: tuple[Plate, ...] = ()
    kit: Kit = field(default_factory=Kit)
    move: Move = field(default_factory=Move)
    #: Picture kept around the delivered frame for reframing or shake, as a part of it, each side.
    padding: float = 0.0
    #: 3 must read as real, 2 light, 1 openly stylised.
    realism: int = 3
    visibility_m: float | None = None
    key_from_deg: float | None = None
    key_elevation_deg: float | None = None
    #: Sun: hard, without fall-off, on its own way over the sky. Empty: not decided.
    key_kind: Literal["", "sun", "lamp"] = ""
    #: Key side over shadow side, stops.
    key_ratio_stops: float | None = None
    #: Angle that the key is wide, seen from the action; None: the sun's, unknown otherwise.
    key_size_deg: float | None = None
    #: Colour of the key, to a camera balanced to daylight.
    key_temperature_k: float | None = None
    #: Key side against a normal exposure, stops; a moonlit night lies under it.
    key_level_stops: float = 0.0
    splits: tuple[Split, ...] = ()
    reframe: Reframe | None = None
    beats: tuple[Beat, ...] = ()
    #: As plans were judged before each plate had compared points of its own, and heights were told
    #: for the sensor mark: what set cards of then are judged by.
    old_rules: bool = False
    #: Left and right are exchanged: how a plate that is mirrored in post sees the story.
    flopped: bool = False
    #: Seconds of the story to one on the screen: under 1 is slow motion; and where that changes.
    story_speed: float = 1.0
    story_speed_keys: tuple[RampKey, ...] = ()
    views: tuple[View, ...] = ()
    #: How a piece of it is filmed that is placed in post: this is its stage's own story then.
    placing: Placing | None = None
    #: What its lock-offs have in other shots and views.
    beside: tuple[Beside, ...] = ()
    #: As zooms were set by the width of the picture alone, whatever its height and its padding:
    #: what set cards of then are judged by.
    zooms_across: bool = False

    @property
    def key_angle_deg(self) -> float | None:
        """How wide the story's key is: what makes its shadows hard or soft."""
        if self.key_size_deg is not None:
            return self.key_size_deg
        return SUN_DEG if self.key_kind == "sun" else None

    @property
    def base_tolerance_px(self) -> float:
        """Mismatch nobody notices in a still and serious shot, in delivered pixels: 2 at 1920 wide
        unless set (judgement). `tolerance.allowed` says what movement and brevity add."""
        if self.tolerance_px is not None:
            return self.tolerance_px
        return 2.0 * self.delivery.width_px / 1920.0

    @cached_property
    def _made(self) -> dict[str, Any]:
        return {}

    def once(self, key: str, make: Callable[[], T]) -> T:
        """What `make` gives, worked out the first time it is asked for under `key`: for what all
        plates of the shot need. A changed shot is another one and begins anew."""
        if key not in self._made:
            self._made[key] = make()
        found: T = self._made[key]
        return found

    @property
    def frames(self) -> int:
        """How many delivered frames the shot has, at least one."""
        return frames_in(self.screen_time_s, self.delivery.fps)

    @cached_property
    def time(self) -> StoryTime:
        """How the story's time runs."""
        return StoryTime(self.screen_time_s, self.frames, self.story_speed, self.story_speed_keys)

    @cached_property
    def depths_m(self) -> dict[str, Array]:
        """By stand-in the depths (n,) of its measured points along the world camera's axis, those
        ahead of it, metres."""
        if not self.stand_ins:
            return {}
        points = [measured_points(s).points for s in self.stand_ins]
        every = self.world.camera(self.delivery).to_camera(np.concatenate(points))[:, 2]
        parts = [every[own] for own in slices_of(points)]
        return {s.id: part[part > 0.01] for s, part in zip(self.stand_ins, parts, strict=True)}

    def stand_ins_of(self, plate: Plate) -> tuple[StandIn, ...]:
        """The stand-ins filmed in `plate`."""
        return self._by_plate.get(plate.id, ())

    @cached_property
    def _by_plate(self) -> dict[str | None, tuple[StandIn, ...]]:
        found: dict[str | None, list[StandIn]] = {}
        for thing in self.stand_ins:
            found.setdefault(thing.plate_id, []).append(thing)
        return {plate: tuple(own) for plate, own in found.items()}


@dataclass(frozen=True)
class Placing:
    """How a piece is filmed that is placed in post; see `placing`.

    `story`: the shot as it is told, `own` what is filmed of it; after `part` of the screen time
    that is largest in the picture. `story_m`: from the story's camera to the middle of it then;
    `from_m`: from the camera that films it, story metres both, along the line of sight, which looks
    `down_deg` on it. `carried`: it stays on its mark, and post moves it along. `key`: the decisions
    that it follows from.
    """

    story: Shot
    own: tuple[StandIn, ...]
    part: float
    story_m: float
    from_m: float
    down_deg: float
    carried: bool
    key: tuple[object, ...]
