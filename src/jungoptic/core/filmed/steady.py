"""How smooth the move of a clip or a hyperlapse is, and what steadying it in post leaves."""

from __future__ import annotations

from ..judging.limits import PIXELS_STRAIN_FROM
from ..pictures.ran import SMOOTH, TOLD, Ran
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.shot import Shot
from ..stage.case import Case
from ..timelapse import crop_left
from ..words import quantities as say
from .file import across_px

#: Delivered pixels off its path that nobody sees in a picture that moves (judgement).
SMOOTH_PX = 1.0


def judge_steady(shot: Shot, case: Case | None, ran: Ran) -> Finding | None:
    """What steadying the move of a clip costs; `case`: None for a plate without body, mode and
    lens, of which all that is recorded is delivered. None for what was measured before this was
    asked."""
    key, title = "run-steady", "How smooth is the move?"
    if ran.scatter is None and ran.frames >= SMOOTH and ran.lost <= (1.0 - TOLD) * ran.frames:
        return None
    if ran.scatter is None:
        return Finding(
            key,
            title,
            Verdict.HOLDS,
            "Nothing was found: it is short, or too little of the picture goes the same way to "
            "tell by.",
        )
    wide = across_px(shot, case)
    right, down = (part * wide for part in ran.scatter)
    delivered, high = float(shot.delivery.width_px), float(shot.delivery.height_px)
    # What the camera records beyond the delivered picture is taken first.
    spare = 0.0, 0.0
    share = 1.0
    if case is not None:
        across, below = case.stage.crop_across, case.stage.crop_down
        # Told in pixels of the tightest view, as the shifts are.
        closes = case.shot.move.closes
        spare = _beyond(delivered, across) * closes, _beyond(high, below) * closes
        share = case.stage.pixels_across / delivered
    lost = [max(off - own, 0.0) for off, own in zip((right, down), spare, strict=True)]
    left = crop_left([lost], delivered, high)
    share *= left
    aside, up = say.pixels(right), say.pixels(down)
    told = f"It lies up to {aside} aside and {up} up or down of a smooth path"
    if max(right, down) <= SMOOTH_PX:
        verdict, sentence = Verdict.HOLDS, f"{told}: nobody sees that."
    elif left >= 1.0:
        verdict = Verdict.STRAINS
        sentence = (
            f"{told}. Steady it in post: what was recorded beyond the delivered picture is enough "
            "for that."
        )
    else:
        broken = share < PIXELS_STRAIN_FROM
        verdict = Verdict.BREAKS if broken else Verdict.STRAINS
        sentence = (
            f"{told}. Steadied in post, {say.percent(left)} of the picture is left, "
            f"{say.pixels(share * delivered)} of {say.pixels(delivered)}"
            + (
                ": too coarse. Go again, slower, with something in the distance to aim at."
                if broken
                else "."
            )
        )
    return Finding(
        key,
        title,
        verdict,
        sentence,
        (
            Working(
                "1 − 2 · (off − spare) / size, of the axis that loses most",
                (
                    Quantity("x", "off its path, across", right, "px"),
                    Quantity("y", "off its path, down", down, "px"),
                    Quantity("s", "recorded beyond the picture, each side", spare[0], "px"),
                    Quantity("t", "the same above and below", spare[1], "px"),
                ),
                Quantity("c", "left after steadying", left, ""),
                "Off a parabola through the second around each frame (Savitzky and Golay 1964); "
                "the crop is geometry, the limits are judgement.",
            ),
        ),
    )


def _beyond(size: float, crop: float) -> float:
    """What is recorded on each side of a picture of a size that takes such a part of it."""
    return size * max(1.0 / crop - 1.0, 0.0) / 2.0
