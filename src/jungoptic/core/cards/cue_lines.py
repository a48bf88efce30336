"""What lamps play, as lines of a set card."""

from __future__ import annotations

from ..lighting.playing import Playing, playing, together
from ..lighting.stage_light import StageLight
from ..plan.cue import CUE_NAMES
from ..stage.case import Case
from ..words import quantities as say
from .card_line import CardLine


def cue_lines(case: Case, light: StageLight | None) -> list[CardLine]:
    """A line for each lamp that plays; where there are several, one for all of them together."""
    lamps = playing(case.shot, case.plate)
    lines = [
        CardLine("Light", "Interactive light", CUE_NAMES[one.cue.kind], _line(one)) for one in lamps
    ]
    whole = together(lamps, light)
    if whole is not None and len(lamps) > 1:
        said = f"on the action, at most {_flashes(whole.flashes)} in a second"
        lines.append(CardLine("Light", "Interactive light", "all together", said))
    return lines


def _line(one: Playing) -> str:
    levels = one.curve.levels
    begins = ""
    if one.beat:
        late = one.cue.at_s
        begins = f", {say.seconds(late)} after" if late > 0.0 else ", with"
        begins += f" the beat {one.beat}"
    elif one.begins_s > 0.0:
        begins = f", from {say.seconds(one.begins_s)} on"
    return (
        f"on {one.name}, {100 * levels.min():.0f} % to {100 * levels.max():.0f} %{begins}, at most "
        f"{_flashes(one.curve.flashes)} in a second; levels by frame are in the table"
    )


def _flashes(count: int) -> str:
    return "no flash" if count == 0 else f"{count} {'flash' if count == 1 else 'flashes'}"
