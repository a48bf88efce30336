"""Is anything of the plate in frame at all, and when?"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.mirrored import as_told
from ..plan.standins import StandIn
from ..stage.case import Case
from ..stage.in_frame import in_story, own_things
from ..stage.seen import Seen, Spell
from ..words.sentences import listed
from .rule import Rule


def judge_in_frame(case: Case) -> Finding | None:
    """Whether the story ever shows what a plate films; None where it always does, or where nothing
    is named."""
    # Of what is placed in post, its stage always shows it all.
    told_shot = case.shot if case.shot.placing is None else as_told(case.shot)
    seen, own = in_story(told_shot), own_things(told_shot, case.plate)
    if not own:
        return None
    gone = seen.spells(own, shown=False)
    if not gone:
        return None
    shown = seen.spells(own)
    number = seen.number
    never = not shown
    if never:
        sentence = f"Nothing of this plate is ever in frame: {_where(seen, own)}."
    else:
        sentence = (
            f"Something of this plate is in frame {told(shown, number)} of {told_shot.frames}; "
            f"nothing {told(gone, number)}."
        )
    frames = sum(number(s.last) - number(s.first) + 1 for s in shown)
    return RULE.finding(
        verdict=Verdict.BREAKS if never else Verdict.HOLDS,
        sentence=sentence,
        workings=(
            Working(
                formula="in frame: the outline of a thing, clipped by the picture and its padding, "
                "leaves something over",
                inputs=(
                    Quantity("n", "things filmed", float(len(own)), ""),
                    Quantity("p", "padding kept on each side", told_shot.padding, ""),
                    Quantity("F", "frames told apart", float(seen.frames), ""),
                ),
                result=Quantity("f", "frames that show anything", float(frames), ""),
                source="Clipping of edges by planes (Liang and Barsky 1984).",
            ),
        ),
    )


def told(spells: list[Spell], number: Callable[[int], int]) -> str:
    """Spells of frames in words, each frame by its number."""
    said = [
        f"at frame {number(s.first)}"
        if s.first == s.last
        else f"from frame {number(s.first)} to {number(s.last)}"
        for s in spells
    ]
    return listed(said)


def _where(seen: Seen, own: tuple[StandIn, ...]) -> str:
    """On which side of the picture everything is, by its middle as the shot begins."""
    sides = []
    for thing in own:
        middle = np.array([[thing.x_m, thing.y_m, thing.z_m + thing.height_m / 2.0]])
        right, down, ahead = (middle[0] - seen.path.positions_m[0]) @ seen.path.axes[0].T
        across = seen.path.camera.sensor_width_mm / seen.path.camera.focal_mm / 2.0
        high = seen.path.camera.sensor_height_mm / seen.path.camera.focal_mm / 2.0
        if ahead <= 0.0:
            side = "behind the camera"
        elif abs(right) / across >= abs(down) / high:
            side = "to the right of it" if right > 0 else "to the left of it"
        else:
            side = "below it" if down > 0 else "above it"
        sides.append(side)
    first = sides[0]
    names = ", ".join(thing.name for thing in own[:3]) + (" and others" if len(own) > 3 else "")
    plural = len(own) > 1
    if all(side == first for side in sides):
        return f"{names} {'stand' if plural else 'stands'} {first}"
    return f"{names} {'stand' if plural else 'stands'} outside it"


RULE = Rule(
    key="in_frame",
    title="In frame",
    name="in frame",
    speak=judge_in_frame,
    otherwise="What it films moved into the picture, or the camera turned to it.",
)
