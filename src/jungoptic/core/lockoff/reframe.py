"""Cutting the picture down before anything is masked: shapes, push-in, shake; what is left of the
pixels, and how much masking it saves."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..impossible import Impossible
from ..judging.limits import CROP_HOLDS, CROP_STRAINS
from ..judging.rule import Rule
from ..judging.way import Way
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.shot import Shot
from ..plan.tricks import Aspect, Reframe, Split
from ..stage.case import Case
from ..stage.in_frame import some_parts
from ..words.quantities import percent, pixels
from .divider import shown_at

#: Frames looked at, at most.
MOMENTS = 49


@dataclass(frozen=True)
class CropWindow:
    """What one shape cuts out at one frame: left, top, right, bottom in pixels of the delivered
    picture."""

    frame: int
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class CropCut:
    """One shape that is delivered. `across_px`: of the delivered picture, at its closest; `share`:
    of that against what the shape wants; `saved`: the part of the picture, over all frames, that
    nobody will ever see and nobody need mask; `line_saved`: of each divider's length, by split."""

    name: str
    width_px: int
    height_px: int
    windows: tuple[CropWindow, ...]
    across_px: float
    share: float
    saved: float
    line_saved: tuple[tuple[str, float], ...]
    #: Names of stand-ins that fall out of it altogether.
    lost: tuple[str, ...]


@dataclass(frozen=True)
class ReframePlan:
    """All shapes, and what is left to mask for all of them together."""

    cuts: tuple[CropCut, ...]
    saved: float


def shapes_of(shot: Shot) -> tuple[Aspect, ...]:
    """The shapes delivered: the shot's own first."""
    own = Aspect("As delivered", shot.delivery.width_px, shot.delivery.height_px)
    return (own, *(shot.reframe.aspects if shot.reframe is not None else ()))


def window(shot: Shot, reframe: Reframe, aspect: Aspect, frame: float) -> tuple[float, ...]:
    """Left, top, right and bottom of what `aspect` cuts out at a frame: as large as its shape
    allows, closer by the keys and by the shake that is put on, kept inside the picture with its
    padding.

    Between keys everything goes straight. Raises Impossible where nothing is left.
    """
    w, h = float(shot.delivery.width_px), float(shot.delivery.height_px)
    x, y, closer, shake = 0.5, 0.5, 1.0, 0.0
    if reframe.keys:
        keys = sorted(reframe.keys, key=lambda k: k.frame)
        frames = [k.frame for k in keys]
        x, y, closer, shake = (
            float(np.interp(frame, frames, [getattr(k, name) for k in keys]))
            for name in ("x", "y", "closer", "shake_px")
        )
    pad = shot.padding
    wide = min(w, h * aspect.width_px / aspect.height_px)
    wide, tall = wide / closer, wide / closer * aspect.height_px / aspect.width_px
    # Shake eats padding first, and then the picture.
    room = pad * w
    eaten = max(reframe.shake_px + shake - room, 0.0)
    if 2 * eaten >= min(wide, tall):
        raise Impossible(
            "The shake is larger than the picture: less shake, or more padding.", "shake_px"
        )
    wide, tall = wide - 2 * eaten, (wide - 2 * eaten) * tall / wide
    # Kept clear of the edges by what shake is still to take, as far as there is room for it.
    aside, above = min(eaten, (w - wide) / 2), min(eaten, (h - tall) / 2)
    left = min(max(x * w - wide / 2, aside), w - wide - aside)
    top = min(max(y * h - tall / 2, above), h - tall - above)
    return left, top, left + wide, top + tall


def reframe_plan(shot: Shot) -> ReframePlan | None:
    """What every shape cuts out and saves; None without a reframe."""
    if shot.reframe is None:
        return None
    return shot.once("reframe", lambda: _plan(shot))


def _plan(shot: Shot) -> ReframePlan:
    reframe = shot.reframe
    assert reframe is not None
    parts = some_parts(shot, MOMENTS)
    frames = [1 + round(float(p) * (shot.frames - 1)) for p in parts]
    w, h = shot.delivery.width_px, shot.delivery.height_px
    cuts, boxes = [], []
    for aspect in shapes_of(shot):
        windows = tuple(
            CropWindow(f, tuple(round(v, 2) for v in window(shot, reframe, aspect, f)))  # type: ignore[arg-type]
            for f in frames
        )
        own = np.array([v.box for v in windows])
        boxes.append(own)
        across = float((own[:, 2] - own[:, 0]).min())
        area = ((own[:, 2] - own[:, 0]) * (own[:, 3] - own[:, 1])).mean() / (w * h)
        cuts.append(
            CropCut(
                aspect.name,
                aspect.width_px,
                aspect.height_px,
                windows,
                round(across, 1),
                across / aspect.width_px,
                1.0 - float(area),
                tuple((s.id, _line_saved(shot, s, frames, own)) for s in shot.splits if s.keys),
                _lost(shot, parts, own),
            )
        )
    return ReframePlan(tuple(cuts), 1.0 - float(_covered(np.stack(boxes), w, h)))


def _covered(boxes: Array, w: float, h: float, cells: int = 96) -> float:
    """The part of the picture that any of the shapes shows, mean over the frames; boxes (shapes,
    frames, 4). Counted on a grid."""
    xs = (np.arange(cells) + 0.5) / cells * w
    ys = (np.arange(cells) + 0.5) / cells * h
    total = 0.0
    for at in range(boxes.shape[1]):
        seen = np.zeros((cells, cells), dtype=bool)
        for left, top, right, bottom in boxes[:, at]:
            across = (xs >= left) & (xs <= right)
            down = (ys >= top) & (ys <= bottom)
            seen |= down[:, None] & across[None, :]
        total += float(seen.mean())
    return total / int(boxes.shape[1])


def _line_saved(shot: Shot, split: Split, frames: list[int], boxes: Array) -> float:
    """The part of a divider's length, over the frames, that lies outside the cut."""
    w, h = shot.delivery.width_px, shot.delivery.height_px
    whole = seen = 0.0
    for frame, (left, top, right, bottom) in zip(frames, boxes, strict=True):
        line, _ = shown_at(shot, split, frame, w, h)
        for a, b in itertools.pairwise(line):
            t = np.linspace(0.0, 1.0, 33)[:, None]
            at = a + (b - a) * t
            long = float(np.hypot(*(b - a)))
            inside = float(((at >= (left, top)) & (at <= (right, bottom))).all(axis=1).mean())
            whole += long
            seen += long * inside
    return 0.0 if whole <= 0 else float(1.0 - seen / whole)


def _lost(shot: Shot, parts: Array, boxes: Array) -> tuple[str, ...]:
    """Figures whose middle is outside the cut on every frame."""
    w, h = shot.delivery.width_px, shot.delivery.height_px
    found = []
    for s in shot.stand_ins:
        if s.kind != "figure":
            continue
        seen = False
        for part, (left, top, right, bottom) in zip(parts, boxes, strict=True):
            now = s.after(shot.time.after(float(part)))
            camera = shot.move.moved(shot.world.camera(shot.delivery), float(part))
            x, y = camera.project(
                np.array([(now.x_m, now.y_m, now.z_m + 0.8 * now.height_m)]), w, h
            )[0]
            seen = seen or bool(left <= x <= right and top <= y <= bottom)
        if not seen:
            found.append(s.name)
    return tuple(found)


def judge_reframe(case: Case) -> Finding | None:
    """Whether this plate has pixels enough for every shape; None without a reframe."""
    plan = reframe_plan(case.shot)
    if plan is None:
        return None
    worst, per_px, share = _closest(case, plan)
    verdict = banded(-share, -CROP_HOLDS, -CROP_STRAINS)
    lost = [(c.name, n) for c in plan.cuts for n in c.lost]
    sentence = (
        f"{worst.name} ({worst.width_px} × {worst.height_px}) is cut from "
        f"{pixels(worst.across_px * per_px)} of this plate at its closest, {percent(share)} of "
        f"what it wants. {percent(plan.saved)} of the picture is in no shape and needs no mask."
    )
    if lost:
        sentence += f" {lost[0][1]} falls out of {lost[0][0]}."
        verdict = max(verdict, Verdict.STRAINS, key=lambda v: v.rank)
    return Finding(
        key="reframe",
        title="Reframe",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="share = cut / wanted · recorded / delivered",
                inputs=(
                    Quantity("cut", "cut out, at its closest", worst.across_px, "px"),
                    Quantity("wanted", "width of the shape", float(worst.width_px), "px"),
                    Quantity("r", "recorded for each delivered pixel", per_px, ""),
                ),
                result=Quantity("share", "of what it wants", share, ""),
                source="Arithmetic; 100 % and 70 % are judgement.",
            ),
        ),
    )


def _closest(case: Case, plan: ReframePlan) -> tuple[CropCut, float, float]:
    """The shape that asks most of this plate, the pixels recorded for each delivered one, and the
    part of what the shape wants that is there."""
    per_px = case.stage.pixels_across / case.shot.delivery.width_px
    worst = min(plan.cuts, key=lambda c: c.share)
    return worst, per_px, worst.share * per_px


def _ways(case: Case) -> list[Way]:
    plan = reframe_plan(case.shot)
    if plan is None:
        return []
    share = _closest(case, plan)[2]
    if share >= CROP_HOLDS:
        return []
    # More pixels do not bring back what falls out of a shape.
    after = Verdict.STRAINS if any(c.lost for c in plan.cuts) else Verdict.HOLDS
    return [
        Way(
            f"Record this plate finer: a mode {1 / share:.2f} times as wide.",
            effect="See the planner for modes that leave more pixels.",
            promises=after,
        ),
        Way(
            f"Stay {percent(share)} as close as the closest key.",
            effect="Closer than that is best done with the lens.",
            promises=after,
        ),
    ]


RULE = Rule(
    key="reframe",
    title="Reframe",
    name="reframe",
    speak=judge_reframe,
    ways=_ways,
    of_shot=True,
    otherwise="A framing with less of it in the picture, or a recording with more pixels.",
)
