"""The typed fields of tricks: dividers, reframes, beats, rigs, crowds, markers; see
`core.decisions`. They are kept as JSON, so ids are text."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from jungoptic.core.plan import tricks as core
from jungoptic.core.plan.tricks import RigColour, RigKind

from ..schemas import Fields, Within

Id = Annotated[str, Field(pattern=r"^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")]
Label = Annotated[str, Field(min_length=1, max_length=60)]
#: The last frame that anything can be put at.
MOST_FRAME = 100_000
Frame = Annotated[int, Within(1, MOST_FRAME)]
Point = Annotated[list[Annotated[float, Within(-1, 2)]], Field(min_length=2, max_length=2)]


class DividerKeyFields(Fields):
    """Where a divider runs at one frame, parts of the picture."""

    frame: Frame = 1
    points: Annotated[list[Point], Field(min_length=2, max_length=40)]


class ThrowFields(Fields):
    """A thing in free flight, world metres; `frame` it leaves the hand, `frames` it flies."""

    from_x_m: Annotated[float, Within(-1000, 1000)]
    from_y_m: Annotated[float, Within(0.05, 1000)]
    from_z_m: Annotated[float, Within(-100, 1000)]
    to_x_m: Annotated[float, Within(-1000, 1000)]
    to_y_m: Annotated[float, Within(0.05, 1000)]
    to_z_m: Annotated[float, Within(-100, 1000)]
    frame: Frame = 1
    frames: Annotated[int, Within(1, 2000)] = 12


class SplitFields(Fields):
    """Two plates and the line between them; without keys no line is drawn yet."""

    id: Id
    name: Label = "Divider"
    first_id: Id | None = None
    second_id: Id | None = None
    upright: bool = True
    feather_px: Annotated[float, Within(0, 2000)] = 16.0
    keys: Annotated[list[DividerKeyFields], Field(max_length=60)] = []
    shine_m: Annotated[float, Within(-100, 1000)] | None = None
    throw: ThrowFields | None = None

    @model_validator(mode="after")
    def _frames_differ(self) -> SplitFields:
        frames = [k.frame for k in self.keys]
        if len(set(frames)) < len(frames):
            raise ValueError("Two keys of a divider stand at one frame: move one of them")
        if self.first_id is not None and self.first_id == self.second_id:
            raise ValueError("A divider lies between two plates: choose another for one side")
        return self


class AspectFields(Fields):
    """Another shape that is delivered."""

    name: Label
    width_px: Annotated[int, Within(16, 32768)]
    height_px: Annotated[int, Within(16, 32768)]


class ReframeKeyFields(Fields):
    """The window cut out at one frame."""

    frame: Frame = 1
    x: Annotated[float, Within(0, 1)] = 0.5
    y: Annotated[float, Within(0, 1)] = 0.5
    closer: Annotated[float, Within(1, 20)] = 1.0
    shake_px: Annotated[float, Within(0, 2000)] = 0.0


class ReframeFields(Fields):
    """What is cut out before anything is masked."""

    aspects: Annotated[list[AspectFields], Field(max_length=8)] = []
    keys: Annotated[list[ReframeKeyFields], Field(max_length=60)] = []
    shake_px: Annotated[float, Within(0, 2000)] = 0.0

    @model_validator(mode="after")
    def _frames_differ(self) -> ReframeFields:
        frames = [k.frame for k in self.keys]
        if len(set(frames)) < len(frames):
            raise ValueError("Two keys of the reframe stand at one frame: move one of them")
        return self


class BeatFields(Fields):
    """Something that happens at a frame."""

    id: Id
    name: Label
    frame: Frame
    plate_id: Id | None = None
    with_id: Id | None = None
    gap: Annotated[int, Within(-10_000, 10_000)] = 0
    allowed: Annotated[int, Within(0, 1000)] = 1
    cue: bool = False


class RampFields(Fields):
    """From this frame on what was filmed plays at this part of its own speed."""

    frame: Frame
    speed: Annotated[float, Within(0.01, 20)]


class RigFields(Fields):
    """What carries or pushes a thing."""

    thing_id: Id | None = None
    kind: RigKind = "thread"
    weight_kg: Annotated[float, Within(0.001, 200)] = 0.5
    diameter_mm: Annotated[float, Within(0.01, 500)] | None = None
    rated_kg: Annotated[float, Within(0.01, 10_000)] | None = None
    colour: RigColour = "plain"
    turns_per_s: Annotated[float, Within(0, 200)] = 0.0
    shine_m: Annotated[float, Within(-100, 1000)] | None = None


class CrowdFields(Fields):
    """Few people filmed as many; area in world metres."""

    people: Annotated[int, Within(1, 60)] = 8
    wanted: Annotated[int, Within(1, 400)] = 40
    left_m: Annotated[float, Within(-500, 500)] = -6.0
    right_m: Annotated[float, Within(-500, 500)] = 6.0
    near_m: Annotated[float, Within(0.5, 1000)] = 8.0
    far_m: Annotated[float, Within(0.5, 1000)] = 14.0
    spacing_m: Annotated[float, Within(0.4, 10)] = 0.9
    row_m: Annotated[float, Within(0.4, 20)] = 1.5
    ground_m: Annotated[float, Within(-100, 100)] = 0.0
    wardrobe: Annotated[int, Within(1, 8)] = 2
    poses: Annotated[int, Within(1, 8)] = 3

    @model_validator(mode="after")
    def _an_area(self) -> CrowdFields:
        if self.left_m >= self.right_m:
            raise ValueError("The area runs from left to right: make left the smaller number")
        if self.near_m > self.far_m:
            raise ValueError("The area runs away from the camera: make near the smaller number")
        return self


Rgb = Annotated[list[Annotated[int, Within(0, 255)]], Field(min_length=3, max_length=3)]


class MarkerFields(Fields):
    """Tracking markers, or a card that is replaced."""

    surface_id: Id | None = None
    insert: bool = False
    size_mm: Annotated[float, Within(1, 2000)] = 20.0
    spacing_m: Annotated[float, Within(0.02, 50)] = 0.5
    colour: Rgb = [230, 120, 30]
    surface: Rgb = [40, 170, 70]


Edge = Literal["hard", "soft", "hair"]


def to_split(value: dict[str, Any]) -> core.Split:
    """The core's split."""
    throw = value.pop("throw")
    keys = tuple(
        core.DividerKey(k["frame"], tuple(tuple(p) for p in k["points"])) for k in value.pop("keys")
    )
    return core.Split(**value, keys=keys, throw=None if throw is None else core.Throw(**throw))


def to_reframe(value: dict[str, Any] | None) -> core.Reframe | None:
    """The core's reframe."""
    if value is None:
        return None
    return core.Reframe(
        tuple(core.Aspect(**a) for a in value["aspects"]),
        tuple(core.ReframeKey(**k) for k in value["keys"]),
        value["shake_px"],
    )


def to_markers(value: dict[str, Any] | None) -> core.Markers | None:
    """The core's markers."""
    if value is None:
        return None
    colours = {name: tuple(value[name]) for name in ("colour", "surface")}
    return core.Markers(**{**value, **colours})
