"""Every rule there is, in the order in which a supervisor asks."""

from __future__ import annotations

from . import (
    backing,
    bend,
    blur,
    breathing,
    close_focus,
    cloth,
    depth,
    diffraction,
    evenness,
    falloff,
    flicker,
    floor,
    hardness,
    in_frame,
    key_ratio,
    key_side,
    lamp_in_picture,
    light,
    light_colour,
    loan,
    mains,
    mismatch,
    move,
    people,
    picture_left,
    placed,
    rate,
    recording,
    rolling_shutter,
    room,
    screen_colour,
    screen_lamps,
    screen_level,
    screen_shadow,
    spill,
    strobing,
    sunlight,
    support,
    sweep,
    turning,
    view,
)
from .rule import Rule

RULES: tuple[Rule, ...] = (
    view.RULE,
    in_frame.RULE,
    floor.RULE,
    mismatch.RULE,
    placed.RULE,
    picture_left.RULE,
    bend.RULE,
    move.RULE,
    turning.RULE,
    support.RULE,
    close_focus.RULE,
    depth.RULE,
    breathing.RULE,
    diffraction.RULE,
    rate.RULE,
    blur.RULE,
    strobing.RULE,
    rolling_shutter.RULE,
    light.RULE,
    lamp_in_picture.RULE,
    key_side.RULE,
    hardness.RULE,
    light_colour.RULE,
    key_ratio.RULE,
    falloff.RULE,
    sunlight.RULE,
    flicker.RULE,
    mains.RULE,
    backing.RULE,
    cloth.RULE,
    evenness.RULE,
    screen_level.RULE,
    screen_lamps.RULE,
    spill.RULE,
    screen_shadow.RULE,
    sweep.RULE,
    screen_colour.RULE,
    recording.RULE,
    room.RULE,
    loan.RULE,
    people.RULE,
)
BY_KEY = {rule.key: rule for rule in RULES}
#: Rules that are measured in numbers, for one plate or for every candidate at once.
MEASURED = tuple(rule for rule in RULES if rule.measure is not None)
#: Rules whose answer hangs on where the camera stands and how large the set is, but on no number of
#: the exposure: they are asked once for each place.
OF_A_PLACE = tuple(rule for rule in RULES if rule.measure is None)


def name_of(key: str) -> str:
    """What a person calls a rule, or a judgement made elsewhere."""
    rule = BY_KEY.get(key)
    return key.replace("-", " ").replace("_", " ") if rule is None else rule.name
