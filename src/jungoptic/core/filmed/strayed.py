"""Who crossed a divider in a clip, when first, and where the line could run instead."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..judging.limits import LINE_CLEAR_PX
from ..lockoff.divider import line_at, over_px
from ..lockoff.strips import side_of
from ..pictures.ran import Ran
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.tricks import Split
from ..stage.case import Case
from ..words import quantities as say
from ..words.sentences import capital
from .file import across_px

#: How the frame is called that a finding speaks of.
FRAME = "frame"
#: The line is tried elsewhere in steps of this part of the picture, so far to each side.
STEP, FARTHEST = 1.0 / 96.0, 0.45
#: Things that are there for fewer frames than this are grain, an insect, a drop of rain.
LEAST_FRAMES = 2
#: A line that would be clear is told in whole steps of so many pixels.
ROUND_PX = 10.0


@dataclass(frozen=True)
class Strayed:
    """Places of the picture, delivered pixels (n, 2), in which something stands or goes that mostly
    is not there: the frame (n,) in which it first does, and in how many (n,)."""

    points: Array
    first: Array
    count: Array
    half_px: float


def judge_strayed(shot: Shot, plate: Plate, case: Case | None, ran: Ran) -> list[Finding]:
    """Of every divider of this plate whether anybody crossed it. A line that wanders is taken where
    it runs in the frame in which something first is there, frames counted from the clip's first."""
    seen = case.shot if case is not None else shot
    found = []
    for split in seen.splits:
        first = side_of(split, plate.id)
        if first is not None and split.keys:
            found.append(_judged(seen, split, first, strayed(seen, case, ran)))
    return found


def strayed(shot: Shot, case: Case | None, ran: Ran) -> Strayed:
    """Where something was, in the delivered picture: what the recording shows beyond it counts for
    nothing."""
    wide, high = float(shot.delivery.width_px), float(shot.delivery.height_px)
    # Lines are kept as they lie when the shot begins, before a zoom.
    across = across_px(shot, case) / shot.move.tightest
    down = across * _shape(ran, case)
    x = ((np.arange(ran.columns) + 0.5) / ran.columns - 0.5) * across + wide / 2.0
    y = ((np.arange(ran.rows) + 0.5) / ran.rows - 0.5) * down + high / 2.0
    points = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    first, count = np.array(ran.first), np.array(ran.count)
    size = np.array([wide, high])
    inside = (np.abs(points - size / 2.0) < size / 2.0 / shot.move.widest).all(axis=1)
    keep = inside & (count >= min(LEAST_FRAMES, ran.looked))
    half = max(across / ran.columns, down / ran.rows) / 2.0
    return Strayed(points[keep], first[keep], count[keep], half)


def _shape(ran: Ran, case: Case | None) -> float:
    if case is not None:
        mode = case.choice.mode
        return mode.height_px / mode.width_px
    return ran.rows / ran.columns


def _over(shot: Shot, split: Split, first: bool, there: Strayed, by: float = 0.0) -> Array:
    """How far (n,) each place reaches over the line, which may be moved aside by a part of the
    picture, delivered pixels; negative is the room left. Half a place may lie on its own side."""
    wide, high = float(shot.delivery.width_px), float(shot.delivery.height_px)
    shift = np.array([by * wide, 0.0]) if split.upright else np.array([0.0, by * high])
    over = np.full(len(there.points), -np.inf)
    moving = len(split.keys) > 1
    for frame in np.unique(there.first) if moving else [1]:
        these = there.first == frame if moving else np.ones(len(over), dtype=bool)
        line = line_at(split, float(frame), wide, high) + shift
        over[these] = over_px(there.points[these], line, first, split.upright, split.feather_px)
    return over - there.half_px


def _judged(shot: Shot, split: Split, first: bool, there: Strayed) -> Finding:
    key, title = f"run-split-{split.id}", capital(split.name)
    if len(there.points) == 0:
        return Finding(key, title, Verdict.HOLDS, "Nothing moves in the picture.")
    over = _over(shot, split, first, there)
    most = float(over.max())
    crossing = over > 0.0
    frame = int(there.first[crossing].min()) if crossing.any() else None
    at = () if frame is None else (Quantity("n", FRAME, float(frame), ""),)
    where = Working(
        "distance of a place past the line, across it, + feather / 2 − half a place",
        (
            Quantity("feather", "feather", split.feather_px, "px"),
            Quantity("h", "half a place", there.half_px, "px"),
            *at,
        ),
        Quantity("o", "over the line", most, "px"),
        "Places that differ from what they show for most of the clip: somebody who stands in one "
        "place throughout is not seen. Told to half a place.",
    )
    if frame is None:
        verdict = Verdict.HOLDS if most < -LINE_CLEAR_PX else Verdict.STRAINS
        near = "stays" if verdict is Verdict.HOLDS else "comes within"
        clear = " clear of it" if verdict is Verdict.HOLDS else " of it"
        sentence = f"What moves {near} {say.pixels(-most)}{clear}."
        return Finding(key, title, verdict, sentence, (where,))
    return Finding(
        key,
        title,
        Verdict.BREAKS,
        f"Something crosses it, first at frame {frame:,}, by up to {say.pixels(most)}. "
        + _instead(shot, split, first, there),
        (where,),
    )


def _instead(shot: Shot, split: Split, first: bool, there: Strayed) -> str:
    """Where the line would be clear of everything that this clip shows."""
    side = float(shot.delivery.width_px if split.upright else shot.delivery.height_px)
    away = 1.0 if first else -1.0
    for n in range(1, round(FARTHEST / STEP) + 1):
        if _over(shot, split, first, there, away * n * STEP).max() < -LINE_CLEAR_PX:
            px = _whole(n * STEP * side)
            words = ("to the right" if first else "to the left", "down" if first else "up")
            way = words[0] if split.upright else words[1]
            return (
                f"{say.pixels(px)} further {way} it would be clear of this half: see whether the "
                "other half leaves room there, or go again."
            )
    return "No line beside it is clear: go again, or cut it out by hand."


def _whole(px: float) -> float:
    return float(np.ceil(px / ROUND_PX) * ROUND_PX)
