"""Something that spins, as it was filmed: is there one clean turn, and is it as fast as planned?"""

from __future__ import annotations

from ..pictures.ran import Ran
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import Plate
from .strayed import FRAME

#: A seam of so many steps from frame to frame nobody sees, and of so many it can be blended
#: (judgement).
SEAM_HOLDS, SEAM_STRAINS = 1.5, 4.0
#: It turns as fast as planned within this part, and post can make up for that (judgement).
FAST_HOLDS, FAST_STRAINS = 0.03, 0.15
KEY, TITLE = "run-turn", "One turn"
SOURCE = (
    "32 x 18 places of every frame, compared with all later ones: the first distance at which they "
    "are the same again (autocorrelation). The limits are judgement."
)


def turns(plate: Plate) -> bool:
    """Whether something is planned to turn in it: on a turntable, or as fast as its rig says."""
    rig = plate.rig
    return rig is not None and (rig.kind == "turntable" or rig.turns_per_s > 0.0)


def judge_turn(plate: Plate, ran: Ran) -> Finding | None:
    """Whether one clean turn can be cut out of a clip; None for a plate whose thing is not planned
    to turn."""
    if not turns(plate):
        return None
    if ran.turn is None:
        return Finding(
            KEY,
            TITLE,
            Verdict.STRAINS,
            "Nothing was found: nothing in it comes round again. Film more than one whole turn, "
            "the light and the camera as they are.",
        )
    turn = ran.turn
    verdict = banded(turn.seam, SEAM_HOLDS, SEAM_STRAINS)
    said = f"Frames {turn.first:,} to {turn.last:,} are one turn, or a part of one that looks the "
    said += f"same: {turn.frames:.1f} frames. "
    if verdict is Verdict.HOLDS:
        said += f"It loops from {turn.last:,} to {turn.first:,} and nobody sees where."
    elif verdict is Verdict.STRAINS:
        said += f"From {turn.last:,} back to {turn.first:,} it jumps a little: blend a few frames."
    else:
        said += (
            f"From {turn.last:,} back to {turn.first:,} it jumps: it wobbles, slows down or the "
            "light changes. Let it run evenly, and film two turns."
        )
    return Finding(
        KEY,
        TITLE,
        verdict,
        said,
        (
            Working(
                "|frame after the last − first| / |one frame − the next|",
                (
                    Quantity("n", FRAME, float(turn.first), ""),
                    Quantity("n", FRAME, float(turn.last), ""),
                    Quantity("T", "frames to a turn", turn.frames, ""),
                ),
                Quantity("s", "seam, in steps from frame to frame", turn.seam, ""),
                SOURCE,
            ),
        ),
    )


def judge_spin(plate: Plate, ran: Ran, fps: float | None) -> Finding | None:
    """Whether it turns as fast as planned on set; None where that is not planned, or cannot be
    told."""
    rig, turn = plate.rig, ran.turn
    if rig is None or rig.turns_per_s <= 0.0 or turn is None or not fps:
        return None
    wanted = fps / rig.turns_per_s
    # What looks the same several times in a turn is told by the part that does.
    parts = max(round(wanted / turn.frames), 1)
    took = parts * turn.frames
    off = took / wanted - 1.0
    verdict = banded(abs(off), FAST_HOLDS, FAST_STRAINS)
    said = f"A turn takes {took:.1f} frames, planned {wanted:.1f}"
    if parts > 1:
        said += f", as {parts} parts that look the same"
    if verdict is Verdict.HOLDS:
        said += ": as fast as planned."
    else:
        said += f": {abs(off):.0%} too {'slow' if off > 0 else 'fast'}. "
        said += (
            "Post can play it as fast as it should."
            if verdict is Verdict.STRAINS
            else "Set it anew, and go again."
        )
    return Finding(
        "run-spin",
        "Speed of the turn",
        verdict,
        said,
        (
            Working(
                "frames to a turn / (rate / turns a second) − 1",
                (
                    Quantity("T", "frames to a turn", took, ""),
                    Quantity("r", "frames a second of the file", fps, ""),
                    Quantity("v", "turns a second, planned", rig.turns_per_s, ""),
                ),
                Quantity("d", "slower than planned", off, ""),
                SOURCE,
            ),
        ),
    )
