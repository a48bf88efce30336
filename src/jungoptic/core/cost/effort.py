"""Hours on set and in post, from one table of defaults, pulled towards the production's own pace.

Every default is judgement, given as low, likely and high; the table is the only place they live.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..checks_on_input import positive
from ..counting import frames_in
from ..plan.plate import PlateKind
from ..plan.tricks import Edge
from .shapes import EDGES
from .work import Cut, Work

Phase = Literal["set", "post"]
Keying = Literal["bisect", "nth"]


@dataclass(frozen=True)
class Hours:
    """A range of hours and the likely value in it."""

    low: float = 0.0
    likely: float = 0.0
    high: float = 0.0

    def __add__(self, other: Hours) -> Hours:
        return Hours(self.low + other.low, self.likely + other.likely, self.high + other.high)

    def times(self, factor: float) -> Hours:
        """The range stretched."""
        return Hours(self.low * factor, self.likely * factor, self.high * factor)

    @staticmethod
    def total(parts: Collection[Hours]) -> Hours:
        """All parts together: ends with ends, so the range is on the careful side."""
        found = Hours()
        for part in parts:
            found = found + part
        return found


@dataclass(frozen=True)
class Rate:
    """One line of the table: minutes per unit of a kind of work."""

    key: str
    name: str
    phase: Phase
    unit: str
    low_min: float
    likely_min: float
    high_min: float
    note: str = "judgement"

    def hours(self, amount: float) -> Hours:
        """Hours for `amount` units."""
        return Hours(self.low_min, self.likely_min, self.high_min).times(amount / 60.0)


TABLE: tuple[Rate, ...] = (
    Rate("setup-miniature", "Set up a miniature", "set", "set-up", 60, 110, 220),
    Rate("setup-screen", "Hang and light a screen", "set", "set-up", 40, 75, 140),
    Rate("setup-live", "Set up on location", "set", "set-up", 20, 40, 80),
    Rate("setup-puppet", "Set up an animation table", "set", "set-up", 60, 120, 240),
    Rate("setup-element", "Set up an element over black", "set", "set-up", 45, 75, 150),
    Rate("setup-still", "Find or take a still", "set", "set-up", 10, 20, 45),
    Rate("pass", "Another pass on the same lock-off", "set", "pass", 4, 8, 15),
    Rate("references", "Reference plates and slate", "set", "set-up", 5, 8, 15),
    Rate("change", "Everybody changes clothes", "set", "change", 4, 8, 15),
    Rate("take", "One take with its reset", "set", "take", 2.5, 5, 10),
    Rate(
        "frames",
        "Animating, frame by frame",
        "set",
        "second of film",
        60 / 3.0,
        60 / 2.5,
        60 / 2.0,
        "2 to 3 s of film an hour at 24 fps on ones (common practice)",
    ),
    Rate("lapse", "Photograph at intervals", "set", "hour", 60, 65, 80),
    Rate("ingest", "Bring in, name, choose", "post", "plate", 4, 8, 15),
    Rate("key", "Pull a key", "post", "plate", 25, 50, 110),
    Rate("key-second", "Refine a key", "post", "second", 3, 6, 12),
    Rate("luma", "Pull by brightness", "post", "plate", 8, 18, 40),
    Rate("split", "Split along a line", "post", "plate", 12, 25, 50),
    Rate("roto-key", "Draw a shape at a key frame", "post", "shape and key", 0.8, 1.5, 3),
    Rate(
        "roto-between",
        "Mend a shape half-way between two keys",
        "post",
        "shape and key",
        0.5,
        0.9,
        1.8,
        "judgement: the shape is nearly right already",
    ),
    Rate("patch", "Patch from the clean plate", "post", "frame", 0.15, 0.3, 0.7),
    Rate("paint", "Paint a frame by hand", "post", "frame", 1, 2, 4),
    Rate("track", "Track", "post", "plate", 15, 35, 90),
    Rate("base", "Open, conform, grade, deliver", "post", "shot", 30, 60, 120),
    Rate("layer", "Fit a layer: place, colour, edge, grain", "post", "layer", 18, 35, 65),
)
BY_KEY = {rate.key: rate for rate in TABLE}


@dataclass(frozen=True)
class Job:
    """What has to be known of a plate to say how long it takes.

    `key_every`: frames between key shapes that are needed at the end; `hold`: frames that one
    animated pose is held.
    """

    id: str
    name: str
    kind: PlateKind
    work: Work
    seconds: float
    fps: float
    lock: str = ""
    key_every: int = 4
    keying: Keying = "bisect"
    hold: int = 1
    #: Another pass of something that stands: at another focus, or in another light.
    again: bool = False
    #: Pictures that its exposure sheet asks for (None: as `hold` says), and how long it is
    #: photographed at intervals, seconds (None: it is not).
    pictures: int | None = None
    lapse_s: float | None = None
    edge: Edge = "hard"


@dataclass(frozen=True)
class Line:
    """One line of an estimate: so many units of a rate."""

    rate: str
    name: str
    phase: Phase
    amount: float
    unit: str
    hours: Hours


@dataclass(frozen=True)
class Estimate:
    """Hours of one plate, or of what belongs to the shot as a whole (`id` empty)."""

    id: str
    name: str
    lines: tuple[Line, ...]

    @property
    def set(self) -> Hours:
        """Hours on set."""
        return Hours.total([x.hours for x in self.lines if x.phase == "set"])

    @property
    def post(self) -> Hours:
        """Hours in post."""
        return Hours.total([x.hours for x in self.lines if x.phase == "post"])


@dataclass(frozen=True)
class ShotEffort:
    """All estimates of a shot."""

    parts: tuple[Estimate, ...]

    @property
    def set(self) -> Hours:
        """Hours on set."""
        return Hours.total([p.set for p in self.parts])

    @property
    def post(self) -> Hours:
        """Hours in post."""
        return Hours.total([p.post for p in self.parts])


def line(key: str, amount: float) -> Line:
    """`amount` units of the rate `key`."""
    rate = BY_KEY[key]
    return Line(key, rate.name, rate.phase, amount, rate.unit, rate.hours(amount))


def roto_keys(frames: int, every: int, keying: Keying) -> tuple[int, int]:
    """How many shapes are drawn afresh, and how many are mended half-way between two others.

    `nth`: a key at the first and last frame and at every `every`-th between. `bisect`: first and
    last, then the middle of every gap, until no gap is longer than `every`. Raises Impossible for
    fewer than one frame or interval.
    """
    positive("frames", frames)
    positive("key interval", every)
    if frames == 1:
        return 1, 0
    gaps = (frames - 1) / every
    if keying == "nth":
        return math.ceil(gaps) + 1, 0
    halvings = max(math.ceil(math.log2(gaps)), 0) if gaps > 1 else 0
    return 2, min(2**halvings - 1, frames - 2)


def frames_of(job: Job) -> int:
    """Frames of the plate on the screen, at least one."""
    return frames_in(job.seconds, job.fps)


def on_ones_s(job: Job) -> float:
    """Seconds of film on ones that take as many pictures as a job does."""
    if job.pictures is None:
        return job.seconds / job.hold
    return job.pictures / job.fps


def estimate(job: Job, shares_lock: bool = False) -> Estimate:
    """The hours of one plate; with `shares_lock` its set-up stands already."""
    lines = []
    if shares_lock:
        lines.append(line("pass", 1))
    else:
        lines += [line(f"setup-{job.kind}", 1), line("references", 1)]
    if job.lapse_s is not None:
        lines.append(line("lapse", job.lapse_s / 3600.0))
    elif job.kind == "puppet":
        # A pose held for two frames takes half as many of them; another focus or light of a pose is
        # photographed while it stands.
        if not job.again:
            lines.append(line("frames", on_ones_s(job)))
    else:
        lines.append(line("take", job.work.takes))
    lines.append(line("ingest", 1))
    lines += cut_lines(job)
    if job.work.paint_share > 0:
        lines.append(line("paint", frames_of(job) * job.work.paint_share))
    if job.work.tracked:
        lines.append(line("track", 1))
    return Estimate(job.id, job.name, tuple(lines))


def cut_lines(job: Job) -> list[Line]:
    """The hours of separating what is wanted from the rest."""
    cut = job.work.cut
    if cut == "key":
        return [line("key", 1), line("key-second", job.seconds)]
    if cut == "luma":
        return [line("luma", 1)]
    if cut == "split":
        return [line("split", 1)]
    if cut == "roto":
        fresh, between = roto_keys(frames_of(job), job.key_every, job.keying)
        shapes = (job.work.shapes or 1) * EDGES[job.edge]
        lines = [line("roto-key", fresh * shapes)]
        if between:
            lines.append(line("roto-between", between * shapes))
        return lines
    return []


def shot_effort(
    jobs: Sequence[Job], name: str = "The shot as a whole", standing: Collection[str] = ()
) -> ShotEffort:
    """The hours of a shot: every plate, and fitting the layers together.

    Plates that share a lock-off share its set-up: the first one carries it. `standing`: lock-offs
    that another shot sets up.
    """
    stood = set(standing)
    parts = []
    for job in jobs:
        parts.append(estimate(job, bool(job.lock) and job.lock in stood))
        if job.lock:
            stood.add(job.lock)
    if jobs:
        whole = (line("base", 1), line("layer", len(jobs)))
        parts.append(Estimate("", name, whole))
    return ShotEffort(tuple(parts))


@dataclass(frozen=True)
class CutCost:
    """One way of separating a plate, with what it costs."""

    cut: Cut
    name: str
    set: Hours
    post: Hours
    remark: str


WAYS: tuple[tuple[Cut, PlateKind, str, str], ...] = (
    ("key", "screen", "Against a screen", "needs room, an even screen and a clean codec"),
    ("roto", "live", "Cut out by hand", "no screen; costs by length, shapes and movement"),
    ("split", "live", "Split along a line", "only if nothing crosses the line"),
    ("luma", "element", "By brightness", "only bright things over black, or dark over sky"),
)


def what_if(job: Job) -> tuple[CutCost, ...]:
    """The same plate separated in each way, each with its own set-up: cheapest in all first."""
    found = []
    for cut, kind, name, remark in WAYS:
        other = replace(job, kind=kind, work=replace(job.work, cut=cut))
        cost = estimate(other)
        found.append(CutCost(cut, name, cost.set, cost.post, remark))
    return tuple(sorted(found, key=lambda w: w.set.likely + w.post.likely))
