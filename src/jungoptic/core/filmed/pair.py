"""Two pictures of one camera that should lie on each other: clean plate and take, half and half, a
rebuilt set and its reference. What is between them, and what to do about it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..impossible import Impossible
from ..pictures.align import Alignment, Exposure, between, exposure, laid_back
from ..pictures.tone import Picture
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words import quantities as say
from .file import across_px
from .limits import APART_HOLDS, APART_STRAINS, LIGHT_HOLDS, LIGHT_STRAINS

#: Mired that nobody sees between two halves, and that a grade takes out (common practice: an eighth
#: of a blue or straw gel is some 20 mired).
WARMER_HOLDS, WARMER_STRAINS = 6.0, 25.0
#: With less of the picture alike, what is measured holds for that part only.
COMMON = 0.25
#: A part of the movement that is told: delivered pixels at the edge of the picture.
TOLD = 0.1


@dataclass(frozen=True)
class Pair:
    """What was measured between two pictures, the second against the first, `wide` pixels across.
    `light`: None where it cannot be told."""

    lies: Alignment
    light: Exposure | None
    wide: int
    high: int


def pair_of(first: Picture, second: Picture) -> Pair:
    """What lies between two pictures (h, w, 3) of one size, as recorded. Raises Impossible where
    there is too little in them to tell."""
    lies = between(first, second)
    back, there = laid_back(second, lies)
    try:
        light = exposure(first, back, there)
    except Impossible:
        light = None
    high, wide = first.shape[:2]
    return Pair(lies, light, wide, high)


def delivered_per_px(shot: Shot, plate: Plate, wide: int) -> float:
    """Delivered pixels to one of a picture of a plate's camera that is `wide` pixels across; one
    where the plate has no body, mode and lens. Raises Impossible for a plan that cannot be."""
    case = Case.of(shot, plate)
    return 1.0 if case is None else across_px(shot, case) / wide


def judge_pair(pair: Pair, per_px: float = 1.0) -> list[Finding]:
    """What is between two pictures, worst first; `per_px` delivered pixels to one of theirs."""
    found = [_place(pair, per_px)]
    if pair.light is not None:
        found += [_light(pair.light), _colour(pair.light)]
    if pair.lies.common < COMMON:
        found.append(
            Finding(
                "pair-common",
                "What both show",
                Verdict.STRAINS,
                f"Only {say.percent(pair.lies.common)} of the picture is alike in both: what is "
                "said holds for that part.",
            )
        )
    return worst_first(found)


def _place(pair: Pair, per_px: float) -> Finding:
    lies, half = pair.lies, math.hypot(pair.wide, pair.high) / 2.0 * per_px
    shift = math.hypot(lies.dx_px, lies.dy_px) * per_px
    turn = abs(math.radians(lies.rotation_deg)) * half
    grow = abs(lies.scale - 1.0) * half
    # At a corner turn and growth stand at right angles to each other.
    apart = shift + math.hypot(turn, grow)
    verdict = banded(apart, APART_HOLDS, APART_STRAINS)
    if verdict is Verdict.HOLDS:
        sentence = f"Both lie on each other to {_px(apart)}."
    else:
        sentence = f"The second {_said(lies, per_px, shift, turn, grow)}, {_px(apart)} at "
        sentence += "the farthest corner. "
        sentence += _why(shift, turn, grow)
        sentence += (
            " Post can lay it back by as much, and it gets a little softer."
            if verdict is Verdict.STRAINS
            else " A camera that moved so far also saw round things: go again."
        )
    return Finding(
        "pair-place",
        "Place",
        verdict,
        sentence,
        (
            Working(
                "shift + √(turn² + growth²) at the farthest corner",
                (
                    Quantity("s", "shift", shift, "px"),
                    Quantity("t", "turn, at the corner", turn, "px"),
                    Quantity("g", "growth, at the corner", grow, "px"),
                    Quantity("k", "delivered pixels to one of the picture", per_px, ""),
                ),
                Quantity("d", "apart at most", apart, "px"),
                "Features, then enhanced correlation (Evangelidis and Psarakis 2008) where both "
                "are alike; the limits are judgement.",
            ),
        ),
    )


def _px(value: float) -> str:
    """To a hundredth of a pixel where that is measured."""
    return f"{max(value, 0.01):.2f} px" if value < 10.0 else say.pixels(value)


def _said(lies: Alignment, per_px: float, shift: float, turn: float, grow: float) -> str:
    parts = []
    if shift > TOLD:
        ways = [
            f"{_px(abs(px))} {word}"
            for px, word in (
                (lies.dx_px * per_px, "right" if lies.dx_px > 0 else "left"),
                (lies.dy_px * per_px, "down" if lies.dy_px > 0 else "up"),
            )
            if abs(px) > TOLD / 2.0
        ]
        parts.append("lies " + " and ".join(ways))
    if turn > TOLD:
        way = "clockwise" if lies.rotation_deg > 0 else "anticlockwise"
        parts.append(f"is turned {abs(lies.rotation_deg):.3f}° {way}")
    if grow > TOLD:
        size = "larger" if lies.scale > 1.0 else "smaller"
        parts.append(f"is {abs(lies.scale - 1.0) * 100:.2f} % {size}")
    return ", ".join(parts) or "lies elsewhere"


def _why(shift: float, turn: float, grow: float) -> str:
    """What on set makes the largest part of it."""
    if grow >= max(shift, turn):
        return "The focus ring moved (lenses breathe), or the zoom: tape both."
    if turn >= shift:
        return "The camera sits loose on its head, or a leg gave way: tighten both."
    return "The head was touched, or the tripod stands on carpet: lock it, and start by remote."


def _light(light: Exposure) -> Finding:
    size = abs(light.stops)
    verdict = banded(size, LIGHT_HOLDS, LIGHT_STRAINS)
    way = "brighter" if light.stops > 0 else "darker"
    cure = "A grade takes it out where nothing clips."
    if verdict is Verdict.BREAKS:
        cure = "Set it back and go again."
    after = f": a lamp, a cloud, the iris or the ISO changed. {cure}"
    if verdict is Verdict.HOLDS:
        after = "."
    return Finding(
        "pair-light",
        "Light",
        verdict,
        "Equally bright."
        if size < 0.02
        else f"The second is {size:.2f} stop{'' if size <= 1.0 else 's'} {way}{after}",
        (
            Working(
                "log2(light of the second / light of the first), by the middle of all places",
                (Quantity("c", "part of the picture compared", light.common, ""),),
                Quantity("Δ", "brighter", light.stops, "stops"),
                "Light by the curve of ITU-R BT.709.",
            ),
        ),
    )


def _colour(light: Exposure) -> Finding:
    size = abs(light.mired)
    verdict = banded(size, WARMER_HOLDS, WARMER_STRAINS)
    way = "warmer" if light.mired > 0 else "cooler"
    return Finding(
        "pair-colour",
        "Colour of the light",
        verdict,
        "The same colour of light."
        if size < 1.0
        else f"The second is {size:.0f} mired {way}"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": the white balance was on automatic, or a lamp changed. Lock it."
        ),
        (
            Working(
                "1 000 000 / T of the second − 1 000 000 / T of the first",
                (),
                Quantity("Δm", "warmer", light.mired, "mired"),
                "Correlated colour temperature (McCamy 1992); the limits are common practice.",
            ),
        ),
    )
