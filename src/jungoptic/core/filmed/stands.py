"""Whether the camera stood while a clip was recorded: touched, sagging, shaken, or still."""

from __future__ import annotations

import math

from ..pictures.ran import Jump, Ran
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import TIMELESS, Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words import quantities as say
from .file import across_px
from .limits import APART_HOLDS, APART_STRAINS
from .strayed import FRAME

#: A picture creeps when it went so many times as far as it shakes.
SAGS = 3.0
#: Said where nothing tells whether the camera stood.
NOTHING_STANDS = (
    "Nothing was found: too little in the picture stands still to tell by. Put marks where they "
    "are seen, outside the action."
)


def judge_stands(shot: Shot, case: Case | None, plate: Plate, ran: Ran) -> Finding:
    """Whether a camera that should stand stood, in a clip of a plate; `case`: None for one without
    body, mode and lens."""
    wide = across_px(shot, case)
    jump = ran.jumps[0] if ran.jumps else None
    at = () if jump is None else (Quantity("n", FRAME, float(jump.frame), ""),)
    key, title = "run-stands", "Does the camera stand?"
    if ran.lost > ran.frames // 2:
        return Finding(
            key,
            title,
            Verdict.HOLDS,
            NOTHING_STANDS,
        )
    apart = ran.wander * wide
    hop = 0.0 if jump is None else math.hypot(jump.right, jump.down) * wide
    creep = math.hypot(*ran.creep) * wide
    size = max(apart, hop)
    verdict = banded(size, APART_HOLDS, APART_STRAINS)
    timeless = plate.kind in TIMELESS
    if verdict is Verdict.HOLDS:
        sentence = f"It stands, to {max(size, 0.01):.2f} delivered pixels."
    elif jump is not None and hop >= 0.5 * size:
        sentence = _jumped(jump, wide, timeless)
    elif creep >= 0.6 * apart and creep > SAGS * ran.shake * wide:
        way = way_of(*ran.creep)
        sentence = (
            f"The picture creeps {px(creep)} {way} from first to last: a head that sags or feet "
            "that sink. Lock the tilt, stand it on boards."
        )
    else:
        sentence = (
            f"The picture stirs by up to {px(apart)}: wind, a floor that gives, or a hand on the "
            "camera."
        )
    if verdict is Verdict.STRAINS:
        sentence += " Post can lay it back."
    elif verdict is Verdict.BREAKS:
        sentence += " So far off it saw round things: go again."
    if ran.lost:
        sentence += f" Told in {ran.frames - ran.lost:,} of {ran.frames:,} frames."
    return Finding(
        key,
        title,
        verdict,
        sentence,
        (
            Working(
                "farthest from where the picture usually lies, or the largest step",
                (
                    Quantity("w", "wander", apart, "px"),
                    Quantity("j", "largest step", hop, "px"),
                    Quantity("c", "first to last", creep, "px"),
                    Quantity("W", "delivered pixels that the recording is wide", wide, "px"),
                    *at,
                ),
                Quantity("d", "off at most", size, "px"),
                "By the slopes of the first frame (Lucas and Kanade 1981), tile by tile, of which "
                "those that agree count; the limits are judgement.",
            ),
        ),
    )


def _jumped(jump: Jump, wide: float, timeless: bool) -> str:
    size = math.hypot(jump.right, jump.down) * wide
    what = "the support or the table" if timeless else "the tripod or the head"
    after = "and stays there" if jump.stays else "for a moment"
    return (
        f"The picture jumps {px(size)} {way_of(jump.right, jump.down)} at frame {jump.frame:,} "
        f"{after}: {what} was touched."
    )


def way_of(right: float, down: float) -> str:
    """A movement in words: the ways that most of it goes."""
    ways = [
        ("right" if right > 0 else "left", abs(right)),
        ("down" if down > 0 else "up", abs(down)),
    ]
    most = max(size for _, size in ways)
    return " and ".join(word for word, size in ways if size > 0.4 * most)


def px(value: float) -> str:
    """Pixels in words, to a hundredth where there are few."""
    return f"{value:.2f} px" if value < 10.0 else say.pixels(value)
