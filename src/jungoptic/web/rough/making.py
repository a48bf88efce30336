"""What was filmed of a shot laid over each other, frame by frame. Loaded where files are read,
which is never in a web process."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from jungoptic.core.filmed import rough
from jungoptic.core.filmed.pair import Pair, pair_of
from jungoptic.core.filmed.rough import Piece
from jungoptic.core.filmed.rough_judged import Laid, Seam, Stands, stands
from jungoptic.core.haze import transmission
from jungoptic.core.impossible import Impossible
from jungoptic.core.lockoff.pieces import air_of, side_matte
from jungoptic.core.pictures.composite import Composite, Layer, laid
from jungoptic.core.pictures.fitting import cut, fitted
from jungoptic.core.pictures.keying import cloth, matte
from jungoptic.core.pictures.masking import before_cloth
from jungoptic.core.pictures.tone import Picture, to_light, to_record
from jungoptic.core.pictures.trial import Trial, despilled, how_good, within
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.in_frame import part_at
from jungoptic.devices.raster import painted

from .sources import Source

#: What no plate shows is this bright, light, so that it is seen as missing.
MISSING = 0.18
#: What stands behind everything in the plan's own picture, as recorded.
BEHIND = 0.42
#: A planned outline is grown by this part of the picture's width and softened by half of it, so
#: that what it keeps is whole.
GROWN = 0.012


@dataclass(frozen=True)
class Made:
    """A source as it lies in the delivered picture: as recorded, its layer, and how its key came
    out."""

    source: Source
    shown: Picture
    layer: Layer
    trial: Trial | None


def layer_of(
    shot: Shot, one: Source, recorded: Picture, part: float, size: tuple[int, int], measure: bool
) -> Made:
    """A source's recording cut and laid where it belongs, in a picture of `size` (wide, high);
    `measure`: with how good its key is. Raises Impossible where a plan cannot be."""
    wide, high = size
    piece, plate = one.piece, one.piece.plate
    own_size = recorded.shape[1], recorded.shape[0]
    place = rough.placed(shot, plate, one.case, own_size, wide, part)
    if place is None:
        return _nowhere(one, size)
    shown, there = fitted(recorded, place, wide, high)
    kept, trial = _kept(one, shown), None
    if piece.how == "key":
        # What stands beside the cloth is masked off, as post does first of all.
        planned = None if piece.case is None else planned_matte(one, part, size)
        kept = kept * before_cloth(shown, piece.colour, kept, planned)
        if measure:
            trial = how_good(shown, piece.colour, kept, cloth(shown, piece.colour))
    if piece.how == "outline":
        kept = planned_matte(one, part, size, grown=True)
    keep = there * kept
    side = side_matte(shot, plate, part, wide, high)
    if side is not None:
        keep = keep * side
    clean = despilled(shown, piece.colour) if piece.how == "key" else shown
    light = _hazed(shot, piece, to_light(clean))
    far = _far(one, part, size)
    layer = Layer(plate.name, light, keep, far, adds=piece.how == "adds")
    return Made(one, shown, layer, trial)


def _nowhere(one: Source, size: tuple[int, int]) -> Made:
    """A source of which nothing is in the picture."""
    wide, high = size
    black = np.zeros((high, wide, 3), np.float32)
    none = np.zeros((high, wide), np.float32)
    layer = Layer(one.piece.plate.name, black, none, none + np.inf, adds=one.piece.how == "adds")
    return Made(one, black, layer, None)


def _far(one: Source, part: float, size: tuple[int, int]) -> Picture:
    """How far away (h, w) what a plate shows stands in the story: its things as they are planned,
    and what is around them behind everything, or of a plate that is cut out as near as those."""
    wide, high = size
    piece = one.piece
    behind = np.inf if piece.how in rough.BEHIND else piece.near_m
    found = np.full((high, wide), behind, np.float32)
    if piece.case is None or piece.how == "adds":
        return found
    per_px = wide / one.across_px
    for tone in one.tones(part):
        # Farthest first, so that the nearer is laid over it.
        if tone.kind == "face":
            corners = [
                np.round(np.array(path) * per_px - 0.5).astype(np.int32) for path in tone.paths
            ]
            cv2.fillPoly(found, corners, float(tone.far_m))
    return found


def _kept(one: Source, shown: Picture) -> Picture:
    """What of a plate's recording is kept by its key; all of it where it has none."""
    if not one.piece.colour:
        return np.ones(shown.shape[:2], np.float32)
    return within(matte(shown, one.piece.colour), one.pick.low, one.pick.high)


def planned_matte(one: Source, part: float, size: tuple[int, int], grown: bool = False) -> Picture:
    """Where a plate's own things are planned to be in the picture (h, w), 0..1; everywhere without
    a camera."""
    wide, high = size
    piece = one.piece
    if piece.case is None:
        return np.ones((high, wide), np.float32)
    white = [
        dataclasses.replace(tone, grey=1.0, soft_px=(0.0, 0.0))
        for tone in one.tones(part)
        if tone.kind == "face"
    ]
    per_px = wide / one.across_px
    found = painted(white, np.zeros((high, wide, 3), np.float32), per_px)[..., 0]
    if grown:
        by = max(GROWN * wide, 1.0)
        side = 2 * round(by) + 1
        round_one = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
        found = np.asarray(
            cv2.GaussianBlur(cv2.dilate(found, round_one), (0, 0), by / 2.0), np.float32
        )
    return found


def _hazed(shot: Shot, piece: Piece, light: Picture) -> Picture:
    """Through the story's air as far away as the nearest of the plate stands."""
    if shot.visibility_m is None or not 0.0 < piece.near_m < np.inf:
        return light
    left = np.float32(transmission(piece.near_m, shot.visibility_m))
    air = np.float32(air_of(shot))
    return np.asarray(light * left + air * (np.float32(1.0) - left), np.float32)


def together(made: Sequence[Made], size: tuple[int, int]) -> Composite:
    """All of them over each other."""
    wide, high = size
    if not made:
        nothing = np.zeros((high, wide), np.float32)
        return Composite(np.full((high, wide, 3), MISSING, np.float32), nothing)
    return laid([one.layer for one in made], MISSING)


def shown_of(shot: Shot, found: Composite, frame: int) -> Any:
    """A composite (h, w, 3) as a screen shows it, reframed as planned, eight bits."""
    whole = cut(to_record(found.picture), rough.cut_to(shot, frame))
    return (np.clip(whole, 0.0, 1.0) * 255.0 + 0.5).astype(np.uint8)


def planned_picture(
    shot: Shot, sources: Sequence[Source], frame: int, size: tuple[int, int]
) -> Any:
    """The plan's own picture of a frame, in tone, (h, w, 3), eight bits."""
    wide, high = size
    part = part_at(shot, frame)
    layers = []
    for one in sources:
        piece = one.piece
        if piece.case is None:
            continue
        per_px = wide / one.across_px
        backdrop = np.full((high, wide, 3), BEHIND, np.float32)
        shown = painted(one.tones(part), backdrop, per_px)
        keep = np.ones((high, wide), np.float32)
        if piece.how not in rough.BEHIND:
            keep = planned_matte(one, part, size)
        side = side_matte(shot, piece.plate, part, wide, high)
        if side is not None:
            keep = keep * side
        layers.append(Layer(piece.plate.name, shown, keep, _far(one, part, size)))
    whole = np.full((high, wide, 3), BEHIND, np.float32)
    if layers:
        whole = laid(layers, BEHIND).picture
    whole = cut(whole, rough.cut_to(shot, frame))
    return (np.clip(whole, 0.0, 1.0) * 255.0 + 0.5).astype(np.uint8)


def told_of(shot: Shot, one: Made, part: float, size: tuple[int, int]) -> Laid:
    """A layer, ready to be judged."""
    source, plate = one.source, one.source.piece.plate
    chosen = source.filmed
    assert chosen is not None
    place: Stands | None = None
    if source.piece.how == "key" and source.piece.case is not None:
        per_px = shot.delivery.width_px / size[0]
        place = stands(one.layer.matte, planned_matte(source, part, size), per_px)
    return Laid(
        plate.name,
        chosen.name,
        # A single picture is meant to stand.
        0 if chosen.frames == 1 else sum(n > chosen.frames for n in source.numbers),
        len(source.numbers),
        source.moves,
        source.piece.colour,
        one.trial,
        place,
    )


def seams_of(shot: Shot, made: Sequence[Made]) -> list[Seam]:
    """The two halves of every divider that one lock-off has filmed, measured on each other."""
    by_id = {one.source.piece.plate.id: one for one in made}
    found = []
    for split in shot.splits:
        one, two = by_id.get(split.first_id or ""), by_id.get(split.second_id or "")
        if one is None or two is None or not split.keys:
            continue
        plates = one.source.piece.plate, two.source.piece.plate
        if not plates[0].lock_group or plates[0].lock_group != plates[1].lock_group:
            continue
        names = plates[0].name, plates[1].name
        found.append(Seam(split.name or "Divider", *names, _pair(one.shown, two.shown)))
    return found


def _pair(one: Picture, two: Picture) -> Pair | None:
    """What lies between two halves; None where there is too little in them to tell."""
    with suppress(Impossible):
        return pair_of(one, two)
    return None
