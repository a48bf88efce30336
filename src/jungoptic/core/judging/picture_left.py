"""Does the filmed picture reach far enough for the reframe that its mismatch asks for?

A reframe in post has only the picture that was filmed: what it moves in from beyond is black.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from ..matching import Similarity
from ..plan.findings import Finding, Quantity, Working
from ..stage.case import Case
from ..stage.compared import compared, stands_whole
from ..words.quantities import degrees, percent, pixels
from .limits import LEFT_HOLDS, LEFT_STRAINS
from .mismatch import drop_needed_m
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way

SIDES = ("left", "right", "top", "bottom")
#: A reframe that shrinks everything to less than this is none: all that is compared falls on one
#: place of the story's picture, and any turn would do.
NOTHING = 1e-6


class Missing(NamedTuple):
    """How far the filmed picture ends inside the delivered frame, delivered pixels, where anything
    of the plate shows; the side that is worst, and the reframe that moves it in."""

    px: float
    side: str
    reframe: Similarity


def reframed(case: Case) -> Similarity | None:
    """The reframe that the mismatch of a case asks for; None where it needs none."""
    plain, _ = case.matched
    if math.isnan(plain.max_px) or plain.max_px <= case.tolerance.px:
        return None
    return case.reframe


def missing(case: Case, crop_across: float, crop_down: float) -> Missing | None:
    """What a reframe leaves empty of a picture of which the delivered frame takes these parts; None
    where no reframe is needed. What the lens is too long for anyway is not counted."""
    turn = reframed(case)
    if turn is None or turn.scale < NOTHING:
        return None
    delivery = case.shot.delivery
    w, h = float(delivery.width_px), float(delivery.height_px)
    # The corners of the delivered frame at its widest, back in the picture as filmed.
    widest = case.shot.move.widest
    w, h = w / widest, h / widest
    x, y = np.array([0.0, w, w, 0.0]), np.array([0.0, 0.0, h, h])
    middle = complex(w, h) / 2.0
    begins = middle * widest
    at = (x + 1j * y - middle + begins - turn.shift) / turn.turn - begins + middle
    filmed_w, filmed_h = max(w / crop_across, w), max(h / crop_down, h)
    # The filmed picture is what is there; without a reframe it reaches `w` and `h` at least.
    beyond = (
        (w - filmed_w) / 2.0 - float(at.real.min()),
        float(at.real.max()) - (w + filmed_w) / 2.0,
        (h - filmed_h) / 2.0 - float(at.imag.min()),
        float(at.imag.max()) - (h + filmed_h) / 2.0,
    )
    shown = [
        max(turn.scale * px * widest - clear, 0.0)
        for px, clear in zip(beyond, _clear_px(case), strict=True)
    ]
    worst = int(np.argmax(shown))
    return Missing(shown[worst], SIDES[worst], turn)


def _clear_px(case: Case) -> tuple[float, float, float, float]:
    """How far from each edge of the frame the nearest of the plate lies, over the whole shot: what
    is cut out of its surroundings needs no picture around it."""
    if stands_whole(case.plate) or not case.own:
        return 0.0, 0.0, 0.0, 0.0
    seen, delivery = case.seen, case.shot.delivery
    rows = seen.numbers(case.own)
    if not seen.shows[rows].any():
        return (math.inf,) * 4
    w, h = float(delivery.width_px), float(delivery.height_px)
    return (
        max(float(np.nanmin(seen.left_px[rows])), 0.0),
        max(w - float(np.nanmax(seen.right_px[rows])), 0.0),
        max(float(np.nanmin(seen.top_px[rows])), 0.0),
        max(h - float(np.nanmax(seen.bottom_px[rows])), 0.0),
    )


def judge_picture_left(case: Case) -> Finding | None:
    """What is missing of the picture after the reframe; None where none is needed."""
    stage, delivery = case.stage, case.shot.delivery
    found = missing(case, stage.crop_across, stage.crop_down)
    measured = asked(measure, case)
    if found is None or measured is None:
        return None
    across = found.side in ("left", "right")
    whole, name = (delivery.width_px, "width") if across else (delivery.height_px, "height")
    if found.px <= 0.5:
        sentence = "The reframe in post finds picture everywhere it needs it."
    else:
        sentence = (
            f"After the reframe in post {pixels(found.px)} of picture are missing at the "
            f"{found.side}, {percent(found.px / whole)} of the {name}: nothing was filmed there."
        )
    turn = found.reframe
    return RULE.finding(
        verdict=verdict_of(measured),
        sentence=sentence,
        workings=(
            Working(
                formula="corners of the delivered frame, taken back by the reframe, against the "
                "picture filmed, frame / crop",
                inputs=(
                    Quantity("s", "grown in post", turn.scale, ""),
                    Quantity("r", "turned in post", turn.rotation_deg, "°"),
                    Quantity("c", "crop across", stage.crop_across, ""),
                    Quantity("c_v", "crop down", stage.crop_down, ""),
                ),
                result=Quantity("m", "missing at the worst side", found.px, "px"),
                source="Geometry of the picture; limits are judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    back = {"axis_height_m": None, "tilt_deg": None, "setback_m": 0.0}
    drop_m = drop_needed_m(case)
    if drop_m > 0.0:
        back["drop_m"] = drop_m
    found = missing(case, case.stage.crop_across, case.stage.crop_down)
    ways = [Way("Put the camera where it is derived: then nothing is moved in post.", back)]
    if found is not None and found.side in ("top", "bottom") and case.plate.tilt_deg is None:
        tilt = _tilted(case, found)
        ways.append(
            Way(
                f"Tilt the camera to {degrees(tilt)}, so that the picture needs less moving.",
                {"tilt_deg": tilt},
            )
        )
    return ways


def _tilted(case: Case, found: Missing) -> float:
    """The tilt that films in place what the reframe would move in."""
    delivery = case.shot.delivery
    px = float(case.stage.camera.slopes_px(delivery.width_px, delivery.height_px)[1])
    px *= case.shot.move.widest
    way = 1.0 if found.side == "top" else -1.0
    return round(case.stage.tilt_deg + way * math.degrees(math.atan(found.px / px)), 1)


def measure(n: Numbers) -> Measured | None:
    """The part of the frame's height that is missing, of what a reframe moves in."""
    if not len(compared(n.shot, n.plate).points):
        return None
    part = n.of_place_with("picture left", _part, n.crop_across, n.crop_down)
    if np.isnan(part).all():
        return None
    ranks = np.where(np.isnan(part), 0, ranked(part, LEFT_HOLDS, LEFT_STRAINS))
    return Measured(ranks, part - LEFT_STRAINS)


def _part(case: Case, crop_across: float, crop_down: float) -> float:
    found = missing(case, crop_across, crop_down)
    return np.nan if found is None else found.px / case.shot.delivery.height_px


def takes(case: Case, short: float) -> tuple[str, str]:
    """More picture around the frame."""
    return (
        "A shorter lens, so that more is filmed around the frame.",
        f"{percent(short + LEFT_STRAINS)} of the height missing after the reframe",
    )


RULE = Rule(
    key="picture-left",
    title="Picture after the reframe",
    name="picture after the reframe",
    speak=judge_picture_left,
    ways=_ways,
    axes=frozenset({"setup"}),
    measure=measure,
    takes=takes,
    quiet=True,
    otherwise="A shorter lens, or the camera nearer to where it is derived.",
)
