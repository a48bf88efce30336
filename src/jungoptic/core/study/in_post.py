"""What post does with a piece that was filmed near: where it lies, how large, and what it lacks of
the softness, the smear and the air of its place in the story."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..haze import transmission
from ..impossible import Impossible
from ..judging.placed import departs, looks_down_deg
from ..plan.mirrored import as_told
from ..plan.placing import nearest_m
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.compared import stands_whole
from ..stage.in_frame import frame_at, frame_parts, own_things
from ..stage.motion import image_motion
from ..stage.sharpest import sharpest_disc_mm
from ..stage.told import to_story

#: So many moments are told where a whole table would be too much.
MOMENTS = 5
#: Softness under this is not worth putting on, delivered pixels (judgement).
SEEN_PX = 0.5


@dataclass(frozen=True)
class LaidAt:
    """Where the middle of the recording lies in the delivered picture at a frame (from 1), pixels
    from its top left corner; how large the recording is there, a part of its own size; how far it
    is turned clockwise."""

    frame: int
    x_px: float
    y_px: float
    size: float
    turned_deg: float


@dataclass(frozen=True)
class InPost:
    """A piece that is placed in post. Metres on its stage, along the line of sight: `from_m` as
    planned, `story_m` where the story has it, `least_m` from where on nobody notices. `down_deg`:
    how far the story looks down on it, `built_down_deg` the camera as built. `soften_px`: how soft
    `softer_name`, in which it stands, is at its distance; `smear_px`: how far it smears in the
    story and not as filmed; `haze`: how much of it the story's air covers, 0..1."""

    from_m: float
    story_m: float
    least_m: float
    down_deg: float
    built_down_deg: float
    off_px: float
    carried: bool
    soften_px: float
    softer_name: str
    smear_px: float
    haze: float
    laid: tuple[LaidAt, ...]


def in_post(case: Case) -> InPost | None:
    """What post does with the plate of a case; None where it is not placed, or never in the
    picture."""
    placing, worst = case.shot.placing, departs(case)
    if placing is None or worst is None:
        return None
    story, plate = as_told(case.shot), case.plate
    soften, name = _softness(story, plate, placing.story_m)
    quick = image_motion(story, plate).fastest
    smear = 0.0
    if placing.carried and quick is not None:
        smear = quick.step_px * story.world.shutter_deg / 360.0
    haze = 0.0
    if story.visibility_m is not None:
        haze = 1.0 - transmission(placing.story_m, story.visibility_m)
    frames = frame_parts(story)
    some = np.unique(np.linspace(0, len(frames) - 1, MOMENTS).round().astype(int))
    return InPost(
        from_m=placing.from_m / plate.scale,
        story_m=placing.story_m / plate.scale,
        least_m=nearest_m(placing) / plate.scale,
        down_deg=placing.down_deg,
        built_down_deg=looks_down_deg(case),
        off_px=worst[1].off_px,
        carried=placing.carried,
        soften_px=soften if soften >= SEEN_PX else 0.0,
        softer_name=name if soften >= SEEN_PX else "",
        smear_px=smear,
        haze=haze,
        laid=_few(laid_at(case, frames[some])),
    )


def _few(moments: list[LaidAt]) -> tuple[LaidAt, ...]:
    """One where all are alike."""
    first = moments[:1]
    alike = all(
        abs(m.x_px - first[0].x_px) < 0.05
        and abs(m.y_px - first[0].y_px) < 0.05
        and abs(m.size / first[0].size - 1.0) < 1e-4
        for m in moments
    )
    return tuple(first if alike else moments)


def laid_at(case: Case, parts: Array | None = None) -> list[LaidAt]:
    """Where post lays a piece after each of `parts` of the screen time, at every frame by default,
    of those that show it; empty for what is not placed."""
    shot, stage = case.shot, case.stage
    if shot.placing is None:
        return []
    story, own = as_told(shot), shot.delivery
    middle = np.array([own.width_px / 2.0, own.height_px / 2.0, 1.0])
    recorded = stage.choice.mode.width_px * stage.crop_across / own.width_px
    found = []
    for part in (frame_parts(story) if parts is None else parts).tolist():
        there = to_story(case, part)
        if there is None:
            continue
        x, y, _ = there @ middle
        # Where down goes: that is the same for a mirrored picture.
        aside, down = there[:2, 1]
        size = math.hypot(aside, down) / recorded
        turned = math.degrees(math.atan2(-aside, down))
        found.append(LaidAt(frame_at(story, part), float(x), float(y), size, turned))
    return found


def _softness(story: Shot, plate: Plate, away_m: float) -> tuple[float, str]:
    """How soft what a piece is laid into is at its distance (story metres), delivered pixels, and
    its name; nothing where it stands alone."""
    best: tuple[float, float, str] | None = None
    for other in story.plates:
        if other.id == plate.id or not stands_whole(other) or other.placed_in_post:
            continue
        own = [story.depths_m[s.id] for s in own_things(story, other)]
        depths = np.concatenate(own) if own else np.empty(0)
        try:
            case = Case.of(story, other)
        except Impossible:
            continue
        if case is None or not len(depths):
            continue
        apart = max(float(depths.min()) - away_m, away_m - float(depths.max()), 0.0)
        if best is None or apart < best[0]:
            best = apart, _blur_px(case, away_m), other.name
    return (0.0, "") if best is None else best[1:]


def _blur_px(case: Case, away_m: float) -> float:
    """The softness of a plate's picture at a distance in the story: of its sharpest pass there."""
    disc = sharpest_disc_mm(case.stage, away_m / case.plate.scale)
    return disc / case.stage.tightest_mm * case.shot.delivery.width_px
