"""What may be chosen from: bodies, lenses, lamps, rooms, what moves, carries and is hung."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Literal, Protocol, TypeVar

import numpy as np

from .grip import Cloth, Cord, Support
from .loan import OURS, Loan
from .people import Person

#: Panel, bounce: an even disc. Bank: an even strip. Fresnel: a beam. Bulb, practical: all round.
#: Sun: from very far away.
LampKind = Literal["panel", "bank", "fresnel", "bulb", "sun", "bounce", "practical"]


@dataclass(frozen=True)
class Mode:
    """One way a body records: the part of the sensor it uses and what it writes. `readout_ms`:
    from its first row to its last (None: unknown); `bitrate_mbps` in megabits a second (None:
    unknown); `long_gop`: frames are told by their neighbours."""

    id: str
    name: str
    sensor_width_mm: float
    sensor_height_mm: float
    width_px: int
    height_px: int
    min_fps: float
    max_fps: float
    base_iso: float
    min_iso: float
    max_iso: float
    readout_ms: float | None = None
    bit_depth: int = 8
    subsampling: str = "4:2:0"
    bitrate_mbps: float | None = None
    long_gop: bool = False


@dataclass(frozen=True)
class Body:
    """A camera body. `axis_height_mm`: from its base to the lens axis, support included;
    `flange_mm`: from the lens mount to the sensor mark."""

    id: str
    name: str
    axis_height_mm: float
    flange_mm: float
    modes: tuple[Mode, ...] = ()
    loan: Loan = OURS
    #: Where its tripod socket lies ahead of the sensor mark; None: unknown, taken to be under it.
    socket_mm: float | None = None
    #: Moves its sensor to steady the picture; can be started without being touched.
    stabiliser: bool = True
    remote: bool = True


#: A zoom bends lines as it was measured to as long as it is set within this part of that.
ALIKE_SET = 0.1


@dataclass(frozen=True)
class LensMeasure:
    """What a lens was measured to be with its ring at `marked_mm`: `focal_mm` is its focal length,
    focused at infinity, give or take `off_mm` in nine of ten (None: typed in by somebody).

    It puts what a pinhole would show at r from the middle, a part of the pinhole distance, at
    r (1 + k1 r^2 + k2 r^4) (Brown 1971, Zhang 2000). That middle lies `right_mm` and `down_mm` of
    the sensor's on the picture. `corner_stops`: light lost `corner_mm` from the middle, at
    `corner_stop`; None: not measured."""

    marked_mm: float
    focal_mm: float
    off_mm: float | None = None
    k1: float = 0.0
    k2: float = 0.0
    right_mm: float = 0.0
    down_mm: float = 0.0
    corner_stops: float | None = None
    corner_mm: float | None = None
    corner_stop: float | None = None


@dataclass(frozen=True)
class Lens:
    """A lens. `close_focus_m` is taped from the sensor mark; `length_mm` runs from the mount to
    the front rim and `pupil_from_mount_mm` from the mount to the entrance pupil (None: unknown, so
    a thin lens or a usual length is assumed, and the numbers say so). `measured`: what it was
    measured to be; one or, of a zoom, several."""

    id: str
    name: str
    focal_min_mm: float
    focal_max_mm: float
    widest_stop: float
    smallest_stop: float
    close_focus_m: float
    t_over_f: float = 1.0
    pupil_ratio: float = 1.0
    length_mm: float | None = None
    pupil_from_mount_mm: float | None = None
    loan: Loan = OURS
    measured: tuple[LensMeasure, ...] = ()

    @property
    def is_zoom(self) -> bool:
        """Whether the focal length can be chosen."""
        return self.focal_max_mm > self.focal_min_mm

    def worth_mm(self, marked_mm: float) -> float:
        """The focal length that a mark on the ring is worth: as measured, between two measured
        settings in proportion, and as marked where nothing was."""
        if not self.measured:
            return marked_mm
        known = sorted((one.marked_mm, one.focal_mm / one.marked_mm) for one in self.measured)
        at, times = zip(*known, strict=True)
        return marked_mm * float(np.interp(marked_mm, at, times))

    def marked_mm(self, worth_mm: float) -> float:
        """The mark at which the ring stands for a focal length: `worth_mm` the other way round."""
        marked = worth_mm
        for _ in range(8 if self.measured else 0):
            marked *= worth_mm / self.worth_mm(marked)
        return marked

    def measured_at(self, marked_mm: float) -> LensMeasure | None:
        """What was measured with its ring at a mark or so near that it bends lines alike; None
        where nothing was."""
        near = [(abs(one.marked_mm / marked_mm - 1.0), n) for n, one in enumerate(self.measured)]
        if not near:
            return None
        apart, n = min(near)
        return self.measured[n] if apart <= ALIKE_SET or not self.is_zoom else None


@dataclass(frozen=True)
class Lamp:
    """A lamp that can be set up. `lux_at_1m` on its axis (a bounce gives back what falls on it
    instead; the sun keeps it at any distance); `size_m` across what shines, along its longer side,
    `width_m` along the other (None: as its kind); `beam_deg`: full angle at half its intensity
    (None: as its kind); `flicker_free`: runs on direct current or high frequency; `count` owned
    alike."""

    id: str
    name: str
    lux_at_1m: float
    size_m: float = 0.2
    watts: float = 0.0
    temperature_k: float = 5600.0
    flicker_free: bool = True
    count: int = 1
    loan: Loan = OURS
    kind: LampKind = "panel"
    width_m: float | None = None
    beam_deg: float | None = None


#: What a room gives back of its light unless told: painted walls over a dark floor (common
#: practice: white walls 0.7 to 0.8, bare concrete 0.25 to 0.4, black cloth 0.05).
USUAL_WALLS = 0.5


@dataclass(frozen=True)
class Room:
    """A place to film in, metres. `height_m` None: open air, lit by the sky. `mains_hz` None: no
    mains; else `circuits` of `circuit_a` amperes at `volts`. `latitude_deg` and `longitude_deg`
    (north and east positive) place it under the sun, `time_zone` names its clock, and `horizon`
    lists (azimuth, elevation) in degrees of what rises above the skyline. `reflectance`: the part
    of light that floor, walls and ceiling give back, taken together."""

    id: str
    name: str
    length_m: float
    width_m: float
    height_m: float | None = None
    mains_hz: float | None = None
    loan: Loan = OURS
    volts: float = 230.0
    circuit_a: float = 16.0
    circuits: int = 1
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    time_zone: str = "UTC"
    horizon: tuple[tuple[float, float], ...] = ()
    reflectance: float = USUAL_WALLS

    @property
    def open_air(self) -> bool:
        """Whether it has no ceiling."""
        return self.height_m is None

    @property
    def under_the_sun(self) -> bool:
        """Whether the sun shines in, and from where can be known."""
        return (
            self.height_m is None
            and self.latitude_deg is not None
            and self.longitude_deg is not None
        )


#: What a rig moves. Of the camera: along the picture, towards what it sees, up and down, its head,
#: its rings. Of what stands before it: a table, a crank, a layer, a belt, a thing on a line.
RigAxis = Literal[
    "track",
    "push",
    "crane",
    "pan",
    "tilt",
    "zoom",
    "focus",
    "turntable",
    "crank",
    "layer",
    "belt",
    "line",
]

#: Axes whose way is an angle; the others go millimetres.
TURNING: frozenset[RigAxis] = frozenset({"pan", "tilt", "zoom", "focus", "turntable", "crank"})


@dataclass(frozen=True)
class MoveRig:
    """Something that moves by counted steps: a slider, a geared head, a turntable, a crank.
    Millimetres, or degrees where its axis turns.

    `per_turn`: how far a turn of its handle or motor goes; `steps_per_turn`: whole steps that are
    counted in a turn; `travel`: from stop to stop (None: no end); `backlash`: the play when it
    turns round; `per_s`: the most in a second by motor (None: moved by hand); `radius_mm`: from
    its middle to where a strip of marks is stuck round it.
    """

    id: str
    name: str
    axis: RigAxis
    per_turn: float = 1.0
    steps_per_turn: int = 1
    travel: float | None = None
    backlash: float = 0.0
    per_s: float | None = None
    radius_mm: float | None = None
    loan: Loan = OURS

    @property
    def step(self) -> float:
        """How far one whole step goes."""
        return self.per_turn / self.steps_per_turn

    @property
    def play_steps(self) -> int:
        """Its play, in whole steps."""
        return round(self.backlash / self.step)


class Owned(Protocol):
    """What has a name of its own in the kit, and days on which it is there."""

    @property
    def id(self) -> str: ...
    @property
    def loan(self) -> Loan: ...


Thing = TypeVar("Thing", bound=Owned)


def _called(things: tuple[Thing, ...], wanted: str | None) -> Thing | None:
    return next((one for one in things if one.id == wanted), None)


@dataclass(frozen=True)
class Kit:
    """Everything that may be chosen from."""

    bodies: tuple[Body, ...] = ()
    lenses: tuple[Lens, ...] = ()
    lamps: tuple[Lamp, ...] = ()
    rooms: tuple[Room, ...] = ()
    rigs: tuple[MoveRig, ...] = ()
    supports: tuple[Support, ...] = ()
    cloths: tuple[Cloth, ...] = ()
    cords: tuple[Cord, ...] = ()
    people: tuple[Person, ...] = ()
    #: Supports, cloths and people of these that are somewhere else: asked for, but not there.
    lent: frozenset[str] = frozenset()

    def there(
        self, things: tuple[Thing, ...], day: datetime.date | None = None
    ) -> tuple[Thing, ...]:
        """Those of some things of the kit that are there on a day; without one, that are not
        lent."""
        here = (x for x in things if x.id not in self.lent)
        return tuple(x for x in here if day is None or x.loan.covers(day))

    def lamp(self, lamp_id: str) -> Lamp | None:
        """The lamp with that id, if there is one."""
        return _called(self.lamps, lamp_id)

    def room(self, room_id: str | None) -> Room | None:
        """The room with that id, if there is one."""
        return _called(self.rooms, room_id)

    def move_rig(self, rig_id: str | None) -> MoveRig | None:
        """The rig with that id, if there is one."""
        return _called(self.rigs, rig_id)

    def support(self, support_id: str | None) -> Support | None:
        """The support with that id, if it is not lent."""
        return _called(self.there(self.supports), support_id)

    def cloth(self, cloth_id: str | None) -> Cloth | None:
        """The cloth with that id, if it is not lent."""
        return _called(self.there(self.cloths), cloth_id)

    def person(self, person_id: str | None) -> Person | None:
        """The person with that id, there or not."""
        return _called(self.people, person_id)

    def without(self, ids: frozenset[str]) -> Kit:
        """The same kit with the things in `ids` gone: of supports, cloths and people it stays known
        that there are such, so that a stage goes on asking for one."""
        return Kit(
            bodies=tuple(b for b in self.bodies if b.id not in ids),
            lenses=tuple(x for x in self.lenses if x.id not in ids),
            lamps=tuple(x for x in self.lamps if x.id not in ids),
            rooms=tuple(r for r in self.rooms if r.id not in ids),
            rigs=tuple(r for r in self.rigs if r.id not in ids),
            supports=self.supports,
            cloths=self.cloths,
            cords=tuple(x for x in self.cords if x.id not in ids),
            people=self.people,
            lent=self.lent | ids,
        )
