"""A picture that has just been taken at the table, against the one before it, the one its block
began with, and what the sheet asks: told while hands can still put it right."""

from __future__ import annotations

import math

from ..frames.asked import Asked
from ..pictures.just_taken import Against, JustTaken, Place
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words import quantities as say
from .file import across_px
from .limits import APART_HOLDS, APART_STRAINS, LIGHT_HOLDS, LIGHT_STRAINS
from .run import SWING_HOLDS, SWING_STRAINS, THIRDS, percent
from .stands import NOTHING_STANDS, px, way_of

#: A change that reaches the edge of the picture over so much of it is a hand or a sleeve, and one
#: of so much of it is no pose (judgement).
REACHES, ALL = 0.06, 0.6
SOURCE = "Brightness of 32 x 18 places, by their middle; the limits are judgement."


def delivered_across(shot: Shot, plate: Plate) -> float:
    """Delivered pixels that a picture of a plate's camera is wide. Raises Impossible for a plan
    that cannot be."""
    return across_px(shot, Case.of(shot, plate))


def judge_just_taken(wide: float, taken: JustTaken, asked: Asked) -> list[Finding]:
    """What a picture that has been taken says, worst first: `wide` delivered pixels across;
    `asked`: what the sheet asks before it."""
    if taken.before is None and taken.reference is None:
        return []
    found = [_light(taken, asked), _side(taken, asked)]
    if not asked.camera:
        found += [_stands(taken, wide), _changed(taken, asked)]
    return worst_first([one for one in found if one is not None])


def _light(taken: JustTaken, asked: Asked) -> Finding | None:
    key, title = "taken-light", "Its light"
    if asked.lights:
        return Finding(
            key, title, Verdict.HOLDS, "Not asked: a lamp plays before this picture on the sheet."
        )
    step = None if taken.before is None else taken.before.light_percent
    crept = None if taken.reference is None else taken.reference.light_percent
    if step is None and crept is None:
        return Finding(
            key,
            title,
            Verdict.HOLDS,
            "Nothing was found: too much of the picture changed, or it is too dark, for its light "
            "to be told.",
        )
    stops = 0.0 if crept is None else math.log2(max(1.0 + crept / 100.0, 1e-3))
    # What comes after a flash differs from that, and not from how the block began.
    size = 0.0 if step is None else _least(step, crept)
    at_once = banded(size, SWING_HOLDS, SWING_STRAINS)
    slowly = banded(abs(stops), LIGHT_HOLDS, LIGHT_STRAINS)
    verdict = max(at_once, slowly, key=lambda one: one.rank)
    if verdict is Verdict.HOLDS:
        off = max(size, abs(crept or 0.0), 0.1)
        sentence = f"As bright as {_others(taken)}, to {off:.1f} %."
    elif at_once.rank >= slowly.rank:
        sentence = (
            f"{percent(step or 0.0)} than the one before: a shirt, a curtain or the sun. Stand "
            "where you stood, in dark clothes, and take it again."
        )
    else:
        sentence = (
            f"{percent(crept or 0.0)} than the first of this block, and it came slowly: daylight "
            "that comes in, a lamp that ages, a battery that runs low. "
            + (
                "Post can even it out; put right now what goes on."
                if verdict is Verdict.STRAINS
                else "Put it right before the next picture: post cannot even out so much."
            )
        )
    return Finding(
        key,
        title,
        verdict,
        sentence,
        (
            Working(
                "|light / light of the one before − 1|",
                (),
                Quantity("p", "against the one before", step or 0.0, "%"),
                SOURCE,
            ),
            Working(
                "log2(light / light of the block's first)",
                (),
                Quantity("Δ", "against the block's first", stops, "stops"),
                SOURCE,
            ),
        ),
    )


def _least(step: float, since: float | None) -> float:
    """How far a picture stands out: by what it differs both from the one before and from the first
    of its block."""
    return abs(step) if since is None else min(abs(step), abs(since))


def _others(taken: JustTaken) -> str:
    if taken.before is None:
        return "the first of this block"
    # The second of a block has one picture to be compared with.
    both = taken.reference is not None and taken.reference != taken.before
    return "the one before and the first of this block" if both else "the one before"


def _side(taken: JustTaken, asked: Asked) -> Finding | None:
    """One side of the picture by itself."""
    if asked.lights or taken.before is None or taken.before.light_percent is None:
        return None
    whole = taken.before.light_percent
    begun = (None, None, None) if taken.reference is None else taken.reference.thirds_percent
    told = [
        (_least(value, first), value, name)
        for value, first, name in zip(taken.before.thirds_percent, begun, THIRDS, strict=True)
        if value is not None
    ]
    if not told:
        return None
    size, value, name = max(told)
    if size <= max(SWING_HOLDS, 1.5 * abs(whole)):
        return None
    return Finding(
        "taken-side",
        "Light on one side",
        banded(size, SWING_HOLDS, SWING_STRAINS),
        f"The {name} third is {percent(value).lower()} than before and the rest is not: stand back "
        "from that side, in dark clothes, and take it again.",
        (
            Working(
                "|light of the third / light of the same third before − 1|",
                (Quantity("p", "all of the picture", whole, "%"),),
                Quantity("s", f"{name} third", value, "%"),
                SOURCE,
            ),
        ),
    )


def _apart(told: Against | None, wide: float) -> tuple[float, float, float] | None:
    """(how far, right, down), delivered pixels."""
    if told is None or told.shift is None:
        return None
    right, down = (part * wide for part in told.shift)
    return math.hypot(right, down), right, down


def _stands(taken: JustTaken, wide: float) -> Finding:
    key, title = "taken-stands", "Does everything stand?"
    step, whole = _apart(taken.before, wide), _apart(taken.reference, wide)
    # What was knocked and has come back stands where the block began.
    worst = step if whole is None else whole
    if worst is None:
        return Finding(key, title, Verdict.HOLDS, NOTHING_STANDS)
    size, right, down = worst
    verdict = banded(size, APART_HOLDS, APART_STRAINS)
    if verdict is Verdict.HOLDS:
        sentence = f"The picture stands, to {max(size, 0.01):.2f} delivered pixels."
    elif step is not None and step[0] > 0.5 * size:
        sentence = (
            f"The picture moved since the one before and lies {px(size)} {way_of(right, down)}: "
            "the support or the table was touched. Blink it against the one before, push it back, "
            "and take it again."
        )
    else:
        sentence = (
            f"The picture lies {px(size)} {way_of(right, down)} from where this block began: it "
            "was moved before an earlier picture, or it creeps."
        )
        sentence += (
            " Post can lay it back."
            if verdict is Verdict.STRAINS
            else " So far off it sees round things: go back to where it stood."
        )
    return Finding(
        key,
        title,
        verdict,
        sentence,
        (
            Working(
                "how far what stands in the picture has moved",
                (
                    *_told("s", "since the one before", step),
                    *_told("b", "since the block's first", whole),
                    Quantity("W", "delivered pixels that the picture is wide", wide, "px"),
                ),
                Quantity("d", "off at most", size, "px"),
                "By the slopes of the picture compared with (Lucas and Kanade 1981), tile by tile, "
                "of which those that agree count; the limits are judgement.",
            ),
        ),
    )


def _told(symbol: str, name: str, told: tuple[float, float, float] | None) -> tuple[Quantity, ...]:
    return () if told is None else (Quantity(symbol, name, told[0], "px"),)


def _changed(taken: JustTaken, asked: Asked) -> Finding | None:
    key, title = "taken-moved", "What moved"
    if taken.before is None or asked.free:
        return None
    moving = asked.moving
    if taken.same:
        if not moving:
            sentence = "Nothing, against the one before."
            return Finding(key, title, Verdict.HOLDS, sentence)
        return Finding(
            key,
            title,
            Verdict.STRAINS,
            f"The sheet changes {moving} before this picture, and nothing in it differs from the "
            "one before: a move was forgotten, or it is too small to see. Take it again, or drop "
            "it and let the one before stand longer.",
        )
    edge = next((name for one in taken.changed if (name := _reaches(one))), None)
    if taken.part > ALL:
        return Finding(
            key,
            title,
            Verdict.STRAINS,
            f"{say.percent(taken.part)} of the picture changed: more than a pose does. Was the "
            "light, the focus or the camera changed?",
        )
    if edge is not None:
        return Finding(
            key,
            title,
            Verdict.STRAINS,
            f"Something reaches in from the {edge}: a hand, a sleeve, a tool? If the sheet does "
            "not mean it, take it again.",
        )
    count = len(taken.changed)
    places = "one place" if count == 1 else f"{count} places"
    what = f"; the sheet changes {moving}" if moving else "; the sheet changes nothing here"
    return Finding(
        key,
        title,
        Verdict.HOLDS,
        f"{_part(taken.part)} of the picture, in {places}{what}.",
    )


def _part(part: float) -> str:
    return "Less than 1 %" if part < 0.01 else say.percent(part)


def _reaches(place: Place) -> str | None:
    """The edge from which a change reaches into the picture."""
    if place.part < REACHES:
        return None
    edges = (
        ("left", place.left <= 0.0),
        ("right", place.right >= 1.0),
        ("top", place.top <= 0.0),
        ("bottom", place.bottom >= 1.0),
    )
    return next((name for name, there in edges if there), None)
