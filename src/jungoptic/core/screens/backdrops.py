"""What a key costs against cutting out by hand and against a backdrop found outdoors, in hours."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..cost.effort import CutCost, Hours, Job, estimate, line, what_if


@dataclass(frozen=True)
class Backdrop:
    """One way of getting the action off its background, with what it costs and asks for."""

    key: str
    name: str
    set: Hours
    post: Hours
    remark: str


#: Found backdrops: key, name, rate of the set-up, remark (judgement).
FOUND = (
    ("sky", "Overcast sky behind", "setup-live", "a low camera and a grey day; dark things only"),
    ("snow", "Snow bank or white wall", "setup-live", "dark things only; mind the lower edge"),
    ("black", "Black cloth or night", "setup-element", "bright things: flame, smoke, water"),
)


def backdrops(job: Job) -> tuple[Backdrop, ...]:
    """A screen, roto, and backdrops that are found, for the same plate: cheapest in all first."""
    ways: list[Backdrop] = []
    for way in what_if(job):
        if way.cut in ("key", "roto"):
            ways.append(_of(way))
    base = estimate(replace(job, kind="live", work=replace(job.work, cut="luma")))
    for key, name, setup, remark in FOUND:
        kept = [x for x in base.lines if not x.rate.startswith("setup-")]
        lines = [line(setup, 1), *kept]
        on_set = Hours.total([x.hours for x in lines if x.phase == "set"])
        post = Hours.total([x.hours for x in lines if x.phase == "post"])
        ways.append(Backdrop(key, name, on_set, post, remark))
    return tuple(sorted(ways, key=lambda w: w.set.likely + w.post.likely))


def _of(way: CutCost) -> Backdrop:
    return Backdrop(way.cut, way.name, way.set, way.post, way.remark)
