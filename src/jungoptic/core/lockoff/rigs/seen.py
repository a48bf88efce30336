"""How much of a rig the picture shows, frame by frame, and what removing it costs."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ...camera import Array
from ...cost.effort import Hours, line, roto_keys
from ...judging.smear import filmed_share
from ...plan.plate import TIMELESS, Plate
from ...plan.shot import Shot
from ...plan.standins import StandIn, outlines
from ...plan.tricks import Rig
from ...stage.case import Case
from ...stage.in_frame import frame_at, gone_m, some_parts
from ...words import quantities as say
from ..clean import clean_of
from .kinds import BY_KIND, CONTRAST, KINDS, Kind
from .lines import ALONG, TOUCHES_M, below_m, projected
from .shine import image

#: A line that changes a pixel by less than this part of its contrast is not noticed, and is only
#: found by looking for it (judgement).
HIDDEN, FAINT = 0.04, 0.12
#: Lifting practice: a line carries a fifth of what it breaks at. 5:1 (OSHA 1910.184 and ASME B30.9,
#: from memory).
SAFETY = 5.0
#: Frames looked at, at most.
MOMENTS = 25


@dataclass(frozen=True)
class RigSeen:
    """One way of rigging the thing. `thick_px`: what shows at its thickest; `blur_px`: how far that
    moves sideways while the shutter is open, in the same frame; `strength`: the part of a pixel's
    contrast that is left, at its strongest; `frames` on which more than `HIDDEN` is left;
    `before`: names of what it passes in front of that moves itself, so that no clean plate shows
    what is behind; `hours` in post. `reflected` is what is left of the contrast of its image in a
    surface that shines (None: nothing shines, or nothing shows), and `reflected_frames` on how many
    frames it is noticed."""

    kind: str
    name: str
    note: str
    only: str
    diameter_mm: float
    thick_px: float
    blur_px: float
    strength: float
    frames: int
    worst_frame: int
    hides: float
    shadow: bool
    before: tuple[str, ...]
    backing: str
    hours: Hours
    possible: bool
    reflected: float | None = None
    reflected_frames: int = 0


def left_of(thick_px: float, blur_px: float) -> float:
    """What is left of a line's contrast in the pixel it darkens most: a bar w wide that moves b
    sideways while the shutter is open covers a place for min(1, w / b) of the time, less at its
    ends, averaged over the pixel's width. Area sampling of a uniformly moving bar."""
    if thick_px <= 0:
        return 0.0
    # Half the widths of its shadow where it is full, and where it ends.
    full, end = abs(blur_px - thick_px) / 2.0, (blur_px + thick_px) / 2.0
    most = min(1.0, thick_px / blur_px) if blur_px > 0.0 else 1.0
    covered = min(full, 0.5)
    if full < 0.5 and end > full:
        last = min(end, 0.5)
        covered += ((end - full) ** 2 - (end - last) ** 2) / (2.0 * (end - full))
    return 2.0 * most * covered


def wire_px(diameter_m: float, distance_m: float, focal_px: float) -> float:
    """How thick a wire is in the picture: w f / d. Source: similar triangles."""
    return diameter_m * focal_px / distance_m


def working_load_kg(rated_kg: float) -> float:
    """What a line may carry: rated strength / 5."""
    return rated_kg / SAFETY


def rigs_of(case: Case, rig: Rig) -> tuple[RigSeen, ...]:
    """Every way of moving the thing of a rig, side by side; empty without the thing."""
    found = (one_of(case, rig, kind) for kind in KINDS)
    return tuple(r for r in found if r is not None)


def chosen(case: Case, rig: Rig) -> RigSeen | None:
    """The way that was chosen; None without a thing that can be rigged."""
    return one_of(case, rig, BY_KIND[rig.kind])


def one_of(case: Case, rig: Rig, kind: Kind) -> RigSeen | None:
    """One way of moving the thing of a rig."""
    thing = next((s for s in case.shot.stand_ins if s.id == rig.thing_id), None)
    if thing is None or thing.kind in ("figure", "ground"):
        return None
    return case.once(f"rig:{kind.key}:{rig}", lambda: _seen(case, rig, thing, kind))


def _seen(case: Case, rig: Rig, thing: StandIn, kind: Kind) -> RigSeen:
    shot, plate = case.shot, case.plate
    diameter = kind.diameter_mm
    if rig.diameter_mm is not None and rig.kind == kind.key:
        diameter = rig.diameter_mm
    parts = some_parts(shot, MOMENTS)
    w, h = shot.delivery.width_px, shot.delivery.height_px
    pixels, depths = projected(case, thing, kind, parts)
    focal_px = case.stage.camera.focal_px(w)
    fine = pixels[:, :1] + (pixels[:, 1:] - pixels[:, :1]) * ALONG
    within: np.ndarray = np.asarray(
        np.isfinite(fine).all(axis=2) & (fine >= 0).all(axis=2) & (fine <= (w, h)).all(axis=2)
    )
    inside: np.ndarray = np.asarray(within.any(axis=1))
    with np.errstate(divide="ignore", invalid="ignore"):
        wide = np.where(inside, wire_px(diameter / 1000.0, 1.0, focal_px) / depths[:, 0], 0.0)
    side = _sideways(case, thing, kind, parts, pixels)
    contrast = CONTRAST[rig.colour]
    strengths = np.array(
        [left_of(a, b) * contrast if i else 0.0 for a, b, i in zip(wide, side, inside, strict=True)]
    )
    before = _in_the_way(shot, thing, parts, fine, within) if diameter > 0 else ()
    worst = int(np.argmax(strengths)) if len(strengths) else 0
    count = round(float(np.mean(strengths > HIDDEN)) * shot.frames) if len(strengths) else 0
    backing = _backing(shot, plate)
    shines = rig.shine_m is not None and diameter > 0.0
    shown = _reflected(case, rig, thing, kind, parts, diameter)
    again = round(float(np.mean(shown > HIDDEN)) * shot.frames) if len(shown) else 0
    return RigSeen(
        kind.key,
        kind.name,
        _note(case, thing, kind),
        kind.only,
        diameter,
        round(float(wide[worst]), 3),
        round(float(side[worst]), 2),
        round(float(strengths[worst]), 4),
        count,
        1 + round(float(parts[worst]) * (shot.frames - 1)),
        kind.cover,
        kind.shadow,
        before,
        backing,
        _hours(kind, count, again, bool(before), backing),
        _possible(case, thing, kind),
        round(float(shown.max(initial=0.0)), 4) if shines else None,
        again,
    )


def _possible(case: Case, thing: StandIn, kind: Kind) -> bool:
    """Whether a thing can be moved so at all."""
    floats = thing.z_m - below_m(case.shot, case.plate, thing) > TOUCHES_M
    if kind.key == "mirror":
        return floats and thing.speed_m_s == 0
    if kind.key == "turntable":
        return not floats and thing.speed_m_s == 0
    return not (kind.key in ("magnet", "sled", "pull") and floats)


def _note(case: Case, thing: StandIn, kind: Kind) -> str:
    """What there is to know of a kind; of a sheet how large it is, on the stage."""
    if kind.key != "mirror":
        return kind.note
    high = thing.z_m - below_m(case.shot, case.plate, thing)
    wide = math.sqrt(2.0) * thing.width_m
    sizes = (say.length(max(m, 0.0) / case.plate.scale) for m in (wide, high))
    return f"at 45°, {' by '.join(sizes)} high; {kind.note}"


def _reflected(
    case: Case, rig: Rig, thing: StandIn, kind: Kind, parts: Array, diameter_mm: float
) -> Array:
    """What is left (f,) of the contrast of a rig's image in what shines."""
    if rig.shine_m is None or diameter_mm <= 0.0:
        return np.zeros(len(parts))
    seen = image(case, thing, kind, parts, rig.shine_m, diameter_mm)
    pixels = projected(case, thing, kind, parts, rig.shine_m)[0]
    side = _sideways(case, thing, kind, parts, pixels, rig.shine_m)
    left = [left_of(wide, blur) for wide, blur in zip(seen.wide_px, side, strict=True)]
    found: Array = np.array(left) * seen.part * CONTRAST[rig.colour]
    return found


def _sideways(
    case: Case,
    thing: StandIn,
    kind: Kind,
    parts: Array,
    pixels: Array,
    shine_m: float | None = None,
) -> Array:
    """Pixels (f,) that the rig, or its image in what shines, moves across its own direction while
    the shutter is open; none where frames are taken one by one."""
    shot, plate = case.shot, case.plate
    if plate.kind in TIMELESS:
        return np.zeros(len(parts))
    missed = case.stage.needed_fps / case.stage.capture_fps
    # Where it is played faster than it was filmed, one filmed frame is a smaller part of it.
    share = np.array([filmed_share(shot, frame_at(shot, float(part))) for part in parts])
    open_part = np.minimum(plate.shutter_deg / 360.0 * missed / shot.frames * share, 1.0)
    other = np.where(parts + open_part <= 1.0, parts + open_part, parts - open_part)
    after = projected(case, thing, kind, np.maximum(other, 0.0), shine_m)[0]
    step = after[:, 0] - pixels[:, 0]
    way = pixels[:, 1] - pixels[:, 0]
    long = np.hypot(way[:, 0], way[:, 1])
    with np.errstate(divide="ignore", invalid="ignore"):
        found = np.abs(step[:, 0] * way[:, 1] - step[:, 1] * way[:, 0]) / long
    return np.nan_to_num(found, nan=0.0, posinf=0.0)


def _in_the_way(
    shot: Shot, thing: StandIn, parts: Array, fine: Array, within: np.ndarray
) -> tuple[str, ...]:
    """Names of figures, and of what moves, that lie behind the line (f, 65, 2) in the picture."""
    w, h = shot.delivery.width_px, shot.delivery.height_px
    found = []
    depth = thing.y_m + gone_m(shot, thing, parts)[:, 1]
    path = shot.move.along(shot.world.camera(shot.delivery), parts)
    for other in shot.stand_ins:
        if other.id == thing.id or other.kind == "ground":
            continue
        if other.kind != "figure" and other.speed_m_s == 0:
            continue
        gone = gone_m(shot, other, parts)
        points = np.concatenate(outlines(other))[None, :, :] + gone[:, None, :]
        box = path.project(points, w, h)[0]
        behind = (other.y_m + gone[:, 1] > depth) & np.isfinite(box).all(axis=(1, 2))
        low, high = box.min(axis=1)[:, None, :], box.max(axis=1)[:, None, :]
        over = within & ((fine >= low) & (fine <= high)).all(axis=2) & behind[:, None]
        if over.any():
            found.append(other.name)
    return tuple(found)


def _backing(shot: Shot, plate: Plate) -> str:
    """What is behind the rig once it is gone: a screen, a clean plate, or nothing known."""
    if plate.kind == "screen":
        return "screen"
    return "clean" if clean_of(shot, plate) is not None else ""


def _hours(kind: Kind, frames: int, again: int, before: bool, backing: str) -> Hours:
    """Hours of removing it: nothing to do where nothing is seen; patched from a clean plate, but
    painted by hand where something moves behind it or nothing is known of it; what covers part of
    the thing is cut out besides. `again`: frames on which its image in what shines is seen, which
    no screen takes away."""
    if frames == 0 and again == 0 and kind.cover == 0:
        return Hours()
    found = []
    if backing == "screen":
        found.append(line("key", 1).hours.times(0.25))
    elif backing == "clean" and not before:
        found.append(line("patch", frames).hours)
    else:
        found.append(line("paint", frames).hours)
    if again > 0:
        found.append(line("patch" if backing == "clean" else "paint", again).hours)
    if kind.cover > 0:
        fresh, between = roto_keys(max(frames, 1), 2, "nth")
        found.append(line("roto-key", fresh + between).hours)
    return Hours.total(found)
