"""Does a piece that is filmed near and placed in post look as if it stood where it belongs?"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from ..plan.findings import Finding, Quantity, Working
from ..plan.laid import Laid, worst_laid
from ..plan.mirrored import as_told
from ..plan.placing import nearest_m, placed
from ..plan.shot import Placing
from ..stage.case import Case
from ..stage.in_frame import frame_at
from ..stage.rooms import room_fit
from ..words.quantities import degrees, length, percent, pixels
from .limits import MISMATCH_STRAINS_TO, VIEW_COVERED_TO
from .mismatch import drop_needed_m
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way

#: Heights of view are told apart from here on, degrees.
SEEN_DEG = 0.05
#: Where the room has no more, it is offered from as near as this part of what is safe; what shows
#: then is judged (judgement).
AS_NEAR_AS = 0.6
#: A lens that is in hand stays there while the thing fills this much of what it sees (judgement).
LARGE_ENOUGH = 0.6


def departs(case: Case) -> tuple[float, Laid] | None:
    """The moment at which the outline departs most, and how it is laid in then; None for what is
    not placed in post, or never in the picture."""
    if case.shot.placing is None:
        return None
    return case.once("placed", lambda: worst_laid(case.shot, case.stage.camera, case.plate))


def looks_down_deg(case: Case) -> float:
    """How far down the camera as built looks on the middle of the thing; negative is up."""
    placing = case.shot.placing
    assert placing is not None
    world, stage = case.shot.world, case.stage
    # The middle, from the camera where it is derived.
    down = math.radians(world.tilt_deg)
    ahead = placing.from_m * math.cos(down) / case.plate.scale
    middle_m = stage.ideal_axis_m + placing.from_m * math.sin(down) / case.plate.scale
    return math.degrees(math.atan2(stage.axis_m - middle_m, ahead + case.plate.setback_m))


def judge_placed(case: Case) -> Finding | None:
    """How far the outline of a piece placed in post departs from the story's, seen from nearer by;
    None for what is not placed."""
    placing, found = case.shot.placing, departs(case)
    measured = asked(measure, case)
    if placing is None or found is None or measured is None:
        return None
    part, worst = found
    story = placing.story
    when = f" (frame {frame_at(story, part)})" if story.frames > 1 else ""
    near = f"{length(placing.from_m / case.plate.scale)} from the lens"
    if case.plate.scale != 1.0:
        near += f" ({length(placing.from_m)} in the story)"
    if placing.from_m < placing.story_m - 1e-6:
        near += f", where the story has it {length(placing.story_m)} away"
    sentence = (
        f"Filmed {near}, and laid in by post: its outline departs by {pixels(worst.off_px)} at "
        f"most, at {worst.name}{when}. Tolerance {pixels(case.tolerance.px)}."
    )
    off_deg = looks_down_deg(case) - placing.down_deg
    if abs(off_deg) >= SEEN_DEG:
        higher = "down on" if off_deg > 0.0 else "up at"
        sentence += f" The camera looks {degrees(abs(off_deg))} more {higher} it than the story's."
    if not case.plate.cut_out:
        sentence += " It has to be cut out of what is around it: say how."
    return RULE.finding(
        verdict=verdict_of(measured),
        sentence=sentence,
        workings=(_working(case, placing, worst), case.tolerance.working),
    )


def _working(case: Case, placing: Placing, worst: Laid) -> Working:
    return Working(
        formula="|story camera(p) − fit(stage camera(p / S))|, largest over the points of its "
        "outline and the moments of the shot, fitted anew at every moment by scale, turn and shift",
        inputs=(
            Quantity("D", "story's camera to the middle of it", placing.story_m, "m"),
            Quantity("d", "filmed from, in the story's metres", placing.from_m, "m"),
            Quantity("S", "scale", case.plate.scale, ""),
            Quantity("α", "looked down on in the story", placing.down_deg, "°"),
            Quantity("β", "looked down on as built", looks_down_deg(case), "°"),
        ),
        result=Quantity("max", "largest departure", worst.off_px, "px"),
        source="Pinhole projection; least-squares similarity (Umeyama 1991).",
    )


def _ways(case: Case) -> list[Way]:
    placing = case.shot.placing
    if placing is None:
        return []
    back = {"axis_height_m": None, "tilt_deg": None, "setback_m": 0.0}
    ways = [Way("Put the camera back where it is derived.", back)]
    drop_m = drop_needed_m(case)
    if drop_m > 0.0:
        words = f"Let the camera base sit {length(drop_m)} below this stage's ground."
        ways.append(Way(words, {**back, "drop_m": drop_m}))
    if not case.plate.cut_out:
        ways.append(Way("Cut it out by hand.", {"cut": "roto"}))
    least = nearest_m(placing)
    if least > placing.from_m + 1e-6:
        words = f"Film it from {length(least / case.plate.scale)}: from there on nobody notices."
        ways.append(Way(words, {"placed_from_m": least}))
    if not placing.carried:
        words = "Let it stay on its mark, and let post move it along."
        ways.append(Way(words, {"walks_on_set": False}))
    ways.append(Way("Film it from where the story's camera stands.", {"placed_in_post": False}))
    return ways


def placed_nearer(case: Case, short_m: float) -> list[Way]:
    """Ways to film a plate from nearer and place it in post, so that it needs `short_m` less of the
    stage along the view: for what is cut out and not placed yet."""
    plate = case.plate
    if not plate.cut_out or plate.kind == "element" or case.shot.placing is not None:
        return []
    tried = replace(plate, placed_in_post=True)
    placing = placed(as_told(case.shot), tried).placing
    if placing is None:
        return []
    least = placing.from_m
    most = math.floor((placing.story_m - max(short_m, 0.0) * plate.scale) * 10.0) / 10.0
    ways = []
    for from_m in dict.fromkeys((most, _fitting_m(case, least), least)):
        if from_m is None or not least * AS_NEAR_AS <= from_m <= most:
            continue
        changes = {**_PLACED, "placed_from_m": round(from_m, 6)}
        with_lens = _lens_for(case, changes)
        if with_lens is None:
            continue
        lens, changes = with_lens
        from_m = _in_room(case, changes)
        if from_m < least * AS_NEAR_AS:
            continue
        changes = {**changes, "placed_from_m": from_m}
        ways.append(
            Way(
                f"Film it from {length(from_m / plate.scale)}{lens}, as large as the frame allows, "
                "and place it in post.",
                changes,
                _effect,
                family="placed",
            )
        )
    return ways


#: A camera that is placed anew stands where it is derived.
_PLACED: dict[str, Any] = {
    "placed_in_post": True,
    "axis_height_m": None,
    "tilt_deg": None,
    "setback_m": 0.0,
    "focal_mm": None,
    "focus_world_m": None,
}


def _in_room(case: Case, changes: dict[str, Any]) -> float:
    """The distance of a change or, where the room is still too short for it, what there is: another
    lens reaches farther back from its pupil."""
    from_m = float(changes["placed_from_m"])
    tried = case.tried(changes)
    fit = None if tried is None else room_fit(tried)
    short = 0.0 if fit is None else fit.short_m * case.plate.scale
    if short > 0.0:
        from_m -= math.ceil(short * 10.0) / 10.0
    return round(from_m, 6)


def all_of_it_m(from_m: float, case: Case) -> float:
    """From where the lens of a case just has all of a piece that it films from so far, story
    metres. A little is to spare: focused nearer or farther a lens shows less or more."""
    crop = max(case.stage.crop_across, case.stage.crop_down)
    return math.ceil(from_m * crop * 10.2) / 10.0


def _fitting_m(case: Case, from_m: float) -> float | None:
    """From where the lens in hand just has all of it; None where that makes no sense."""
    tried = case.tried({**_PLACED, "placed_from_m": from_m})
    if tried is None:
        return None
    return all_of_it_m(from_m, tried)


def _lens_for(case: Case, changes: dict[str, Any]) -> tuple[str, dict[str, Any]] | None:
    """The longest lens owned, the one in hand before others, that has all of it from there, and its
    name where it is another; None where each is too long."""
    best: tuple[float, str, dict[str, Any]] | None = None
    for lens in (case.choice.lens, *case.shot.kit.lenses):
        own = lens.id == case.choice.lens.id
        with_it = changes if own else {**changes, "lens_id": lens.id}
        tried = case.tried(with_it)
        if tried is None:
            continue
        crop = max(tried.stage.crop_across, tried.stage.crop_down)
        if crop > VIEW_COVERED_TO:
            continue
        if own and crop > LARGE_ENOUGH:
            return "", changes
        if best is None or crop > best[0]:
            best = crop, "" if own else f" with the {lens.name}", with_it
    return None if best is None else best[1:]


def _effect(tried: Case) -> str:
    found = departs(tried)
    if found is None:
        return ""
    share = tried.stage.pixels_across / tried.shot.delivery.width_px
    return (
        f"Its outline departs by {pixels(found[1].off_px)} at most; {percent(share)} of the "
        "pixels that it is delivered with."
    )


def measure(n: Numbers) -> Measured | None:
    """Departure in pixels after each moment's own fit; None for what is not placed."""
    if n.shot.placing is None:
        return None
    off = n.of_place("placed", _off_px)
    if np.isnan(off).all():
        return None
    most = n.tolerance_px * MISMATCH_STRAINS_TO
    ranks = np.where(np.isnan(off), 0, ranked(off, n.tolerance_px, most))
    if not n.plate.cut_out:
        ranks = np.maximum(ranks, 1)
    return Measured(ranks, off - most)


def _off_px(case: Case) -> float:
    found = departs(case)
    return math.nan if found is None else found[1].off_px


def takes(case: Case, short: float) -> tuple[str, str]:
    """More distance."""
    placing = case.shot.placing
    assert placing is not None
    least = nearest_m(placing) / case.plate.scale
    apart = f"{pixels(short + case.tolerance.px * MISMATCH_STRAINS_TO)} apart"
    return f"Filmed from {length(least)}, at the story's height of view.", apart


RULE = Rule(
    key="placed",
    title="Placed in post",
    name="what is placed in post",
    speak=judge_placed,
    ways=_ways,
    measure=measure,
    takes=takes,
    otherwise="Filmed from farther, or from the story's height of view.",
)
