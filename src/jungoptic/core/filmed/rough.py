"""A rough composite of what was filmed: which plates lie over which, how each is cut, which of its
recorded frames is shown when, and where its recording lies in the delivered picture. All by the
plan: this is no compositor."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..camera import Array
from ..lockoff.beats import recorded_frames
from ..lockoff.pieces import nearest_m, pieces
from ..lockoff.reframe import shapes_of, window
from ..matching import Similarity
from ..plan.placing import is_placed
from ..plan.plate import TIMELESS, Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.told import centred, matrix_of, mirrored_px, to_story, zoom_px

#: How a plate is laid in. Whole: it is the picture behind all else. Side: its side of a divider.
#: Key: what stands before its cloth. Outline: cut along what is planned to stand in it, which is
#: rough. Adds: its light comes on top.
How = Literal["whole", "side", "key", "outline", "adds"]

#: Pictures behind what is cut out.
BEHIND: tuple[How, ...] = ("whole", "side")
#: Cloths that are told by their brightness alone.
BY_BRIGHTNESS = ("white", "sky", "black")


@dataclass(frozen=True)
class Piece:
    """A plate as it is laid in. `case`: None while body, mode or lens is missing. `colour`: of what
    it is keyed from, empty for what is not keyed. `near_m`: how far away the nearest of it stands
    in the story, 0 for what is cut out and of which nobody has said where."""

    plate: Plate
    case: Case | None
    how: How
    colour: str
    near_m: float


def laid_in(shot: Shot, part: float = 0.0, filmed: Collection[str] | None = None) -> list[Piece]:
    """The plates that make the picture after a part (0..1) of the screen time, farthest first.
    `filmed`: the ids of those of which anything is to go in (None: of all); the farthest of them
    that is not cut out is the picture behind all else. Raises Impossible for a plate that cannot
    be built."""
    ordered = sorted(pieces(shot), key=lambda p: -nearest_m(shot, p, part))
    joined: set[str] = {
        plate_id
        for split in shot.splits
        if split.keys
        for plate_id in (split.first_id, split.second_id)
        if plate_id is not None
    }
    ordered = [p for p in ordered if not _repeats(shot, p, ordered, joined)]
    filmed = filmed or None
    near = {p.id for p in ordered if is_placed(shot, p)}
    whole = [p for p in ordered if not p.cut_out and p.id not in joined | near]
    behind = next((p for p in whole if filmed is None or p.id in filmed), None)
    if any(p.id in joined for p in ordered if filmed is None or p.id in filmed):
        # Halves are the picture behind all else, unless something lies farther still.
        halves = max(nearest_m(shot, p, part) for p in ordered if p.id in joined)
        if behind is not None and nearest_m(shot, behind, part) <= halves:
            behind = None
    found = []
    for plate in ordered:
        colour = keyed_from(plate)
        how: How = "outline"
        if plate.kind == "element":
            how = "adds"
        elif colour:
            how = "key"
        elif plate.id in joined - near and not plate.cut_out:
            how = "side"
        elif plate is behind:
            how = "whole"
        away = nearest_m(shot, plate, part)
        if how not in BEHIND and away == math.inf:
            # Nobody has said where it stands: before everything, so that it is seen.
            away = 0.0
        found.append(Piece(plate, Case.of(shot, plate), how, colour, away))
    return sorted(found, key=lambda piece: (piece.how not in BEHIND, -piece.near_m))


def _repeats(shot: Shot, plate: Plate, among: Sequence[Plate], joined: Collection[str]) -> bool:
    """Whether a plate shows nothing that others of its lock-off do not show as well: the room that
    its halves stand in too, nobody in it."""
    if not plate.lock_group or plate.cut_out or plate.id in joined:
        return False
    if any(s.kind == "figure" for s in shot.stand_ins_of(plate)):
        return False
    return any(p.lock_group == plate.lock_group and p.id in joined for p in among)


def keyed_from(plate: Plate) -> str:
    """The colour that a plate is keyed from by plan; empty for one that is not."""
    if plate.kind == "element":
        return "black"
    if plate.kind == "screen" or plate.cut == "key":
        return plate.screen_colour
    if plate.cut == "luma":
        told = plate.screen_colour
        return told if told in BY_BRIGHTNESS else "sky"
    return ""


def shown_when(shot: Shot, plate: Plate, taken: Sequence[int] = ()) -> list[int]:
    """Which recorded frame of a plate, counted from 0, is shown at each frame of the shot. `taken`:
    the frames (from 1) for which its exposure sheet asks for a picture of its own; the others show
    the one before. What rolls obeys its ramp and the story's time. Raises Impossible for a speed
    that is not positive."""
    every = range(1, shot.frames + 1)
    if taken:
        return [max(bisect_right(taken, frame) - 1, 0) for frame in every]
    if plate.kind in TIMELESS:
        return [frame - 1 for frame in every]
    # Held until the next is due; a hair early is rounding.
    return [int(gone + 1e-6) for gone in recorded_frames(shot, plate)]


def post_move(case: Case) -> Similarity | None:
    """How post moves the whole plate so that it lies where the story has it; None where the camera
    matches as it is, where moving it helps nothing, or where it is placed anew at every moment."""
    if case.shot.placing is not None:
        return None
    plain, fitted = case.matched
    if not plain.max_px > case.tolerance.px or not fitted.max_px < plain.max_px:
        return None
    return case.reframe


def placed(
    shot: Shot,
    plate: Plate,
    case: Case | None,
    size: tuple[int, int],
    width: int,
    part: float = 0.0,
) -> Array | None:
    """Where every pixel of the delivered picture, drawn `width` pixels wide, lies in a recording of
    `size` (wide, high) after a part (0..1) of the screen time: an affine map (2, 3); None where
    what is placed in post is not in the picture then. The delivered frame is the middle of what the
    camera records, as large as its lens makes it; what post moves or mirrors is in it. Without
    body, mode and lens, as wide as the recording."""
    wide, high = size
    # The frame that its stage films, which of what is placed in post is one of its own.
    own = shot.delivery if case is None else case.shot.delivery
    # The widest view is filmed; a zoom in post cuts it down.
    zoom = shot.move if case is None else case.shot.move
    across = wide * (1.0 if case is None else case.stage.crop_across) / zoom.closer(part)
    per_px = across / own.width_px
    # Delivered pixels as drawn -> delivered pixels, by pixel centres.
    found = centred(shot.delivery.width_px / width)
    if case is None:
        told: Array | None = mirrored_px(own.width_px) if plate.flop else np.eye(3)
    else:
        told = to_story(case, part)
    if told is None:
        return None
    found = np.linalg.inv(told) @ found
    move = None if case is None else post_move(case)
    if move is not None:
        # Told in pixels as the shot begins.
        about = zoom_px(zoom.zoomed(part), own.width_px, own.height_px)
        found = about @ np.linalg.inv(matrix_of(move)) @ np.linalg.inv(about) @ found
    middle = np.array(
        [
            [per_px, 0.0, wide / 2.0 - per_px * own.width_px / 2.0 - 0.5],
            [0.0, per_px, high / 2.0 - per_px * own.height_px / 2.0 - 0.5],
            [0.0, 0.0, 1.0],
        ]
    )
    whole: Array = (middle @ found)[:2]
    return whole


def cut_to(shot: Shot, frame: int) -> tuple[float, ...] | None:
    """Left, top, right and bottom, parts of the delivered picture, of what the shot's own reframe
    cuts out at a frame; None without one. Raises Impossible where nothing is left."""
    if shot.reframe is None:
        return None
    box = window(shot, shot.reframe, shapes_of(shot)[0], frame)
    size = (shot.delivery.width_px, shot.delivery.height_px) * 2
    return tuple(side / whole for side, whole in zip(box, size, strict=True))
