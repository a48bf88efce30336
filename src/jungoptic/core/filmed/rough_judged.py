"""What a rough composite says: does the shot work, and what should be filmed again?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..pictures.keying import COLOURS
from ..pictures.tone import Flags, Picture
from ..pictures.trial import Trial
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst, worst_first
from ..words import quantities as say
from ..words.sentences import capital, listed
from .cloth import judge_key
from .pair import Pair, judge_pair

#: The part of the picture that may stay unfilmed: specks along edges; more than the second is a
#: place that everybody sees (judgement).
HOLE_HOLDS, HOLE_STRAINS = 0.002, 0.02
#: What is kept counts as standing as planned within these parts of its height: where its lower
#: edge is, and how high it is. People lean, step and lift their arms: more is only worth a look
#: (judgement).
FEET, HEIGHT = 0.06, 0.15
#: So far aside, of the planned height, is a step off the mark, and no gesture (judgement).
ASIDE = 0.2
#: Smaller than this, part of the picture's height, nothing is compared.
LEAST_HEIGHT = 0.05
#: What touches the edge of the picture goes on beyond it.
EDGE = 0.01


@dataclass(frozen=True)
class Stands:
    """What a key keeps against what is planned to stand there, delivered pixels: how far the lower
    edge lies below the planned one, how far its middle lies right of the planned one, and how high
    both are. None: it is cut off by the frame, or not there."""

    lower_px: float | None
    right_px: float | None
    height_px: float | None
    planned_px: float


@dataclass(frozen=True)
class Laid:
    """A plate as it was laid in. `held`: in how many of the shot's `frames` its last is held,
    because it has no more; `moves`: whether anything of it moves or acts, so that holding it is
    seen; `colour` and `trial`: how its key came out."""

    plate: str
    name: str
    held: int
    frames: int
    moves: bool
    colour: str = ""
    trial: Trial | None = None
    stands: Stands | None = None


@dataclass(frozen=True)
class Seam:
    """Two halves of one lock-off along a divider, and what lies between them."""

    name: str
    first: str
    second: str
    pair: Pair | None


def stands(kept: Picture, planned: Picture, per_px: float) -> Stands | None:
    """What a matte (h, w) keeps against what is planned to be there (h, w), both 0..1; `per_px`
    delivered pixels to one of theirs. None where nothing is planned, or too little to compare."""
    box = _box(planned > 0.5)
    high, wide = kept.shape
    if box is None or box[3] - box[1] < LEAST_HEIGHT * high:
        return None
    size = (box[3] - box[1]) * per_px
    mine = _box(_largest(kept > 0.5, planned > 0.5))
    if mine is None:
        return Stands(None, None, None, size)
    edge = EDGE * high
    within = [
        min(mine[0], box[0]) > edge,
        min(mine[1], box[1]) > edge,
        max(mine[2], box[2]) < wide - edge,
        max(mine[3], box[3]) < high - edge,
    ]
    aside = (mine[0] + mine[2] - box[0] - box[2]) / 2.0
    return Stands(
        (mine[3] - box[3]) * per_px if within[3] else None,
        aside * per_px if within[0] and within[2] else None,
        (mine[3] - mine[1]) * per_px if within[1] and within[3] else None,
        size,
    )


def _box(where: Flags) -> tuple[float, float, float, float] | None:
    """Left, top, right and bottom of what is marked."""
    rows, columns = (np.nonzero(where.any(axis=axis))[0] for axis in (1, 0))
    if not len(rows):
        return None
    return float(columns[0]), float(rows[0]), float(columns[-1] + 1), float(rows[-1] + 1)


def _largest(kept: Flags, planned: Flags) -> Flags:
    """Of what is kept the part that stands where something is planned, with what hangs on it;
    specks and what stands elsewhere are left out."""
    _, names = cv2.connectedComponents(kept.astype(np.uint8))
    found = np.bincount(names[planned & kept], minlength=1)
    found[0] = 0
    if not found.any():
        return np.zeros_like(kept)
    large = np.nonzero(found > 0.05 * found.max())[0]
    part: Flags = np.isin(names, large)
    return part


def judge_laid(laid: Laid, per_px: float) -> list[Finding]:
    """What a plate's part of the composite says; `per_px` delivered pixels to one of it."""
    found = []
    if laid.held > 0:
        found.append(
            Finding(
                "rough-end",
                f"{laid.plate}, length",
                Verdict.BREAKS if laid.moves else Verdict.HOLDS,
                f"{laid.name} ends {_frames(laid.held)} before the shot, which has "
                f"{laid.frames:,}: its last is held"
                + (
                    ". Say where the shot begins in it, or film longer."
                    if laid.moves
                    else ", and nothing moves in it."
                ),
            )
        )
    if laid.trial is not None and laid.colour in COLOURS:
        key = judge_key(laid.colour, laid.trial, per_px)
        bad = [f for f in key if f.verdict is not Verdict.HOLDS]
        found += [replace(f, title=f"{laid.plate}, {f.title.lower()}") for f in bad]
        if not bad:
            found.append(
                Finding("rough-key", f"{laid.plate}, key", Verdict.HOLDS, "It keys cleanly.")
            )
    if laid.stands is not None:
        found.append(_stands(laid, laid.stands))
    return found


def _frames(count: int) -> str:
    return "one frame" if count == 1 else f"{count:,} frames"


def _stands(laid: Laid, told: Stands) -> Finding:
    key, title = "rough-stands", f"{laid.plate}, where it stands"
    if told.lower_px is None and told.height_px is None and told.right_px is None:
        return Finding(
            key,
            title,
            Verdict.HOLDS,
            "It is cut off by the frame, so that its place cannot be told from its outline.",
        )
    parts, off = [], False
    if told.lower_px is not None:
        low = told.lower_px
        if abs(low) > FEET * told.planned_px:
            off = True
            way = "below" if low > 0 else "above"
            parts.append(f"its lower edge lies {abs(low):,.0f} px {way} the planned one")
    if told.right_px is not None and abs(told.right_px) > ASIDE * told.planned_px:
        off = True
        way = "right" if told.right_px > 0 else "left"
        parts.append(f"it stands {abs(told.right_px):,.0f} px {way} of where it is planned")
    if told.height_px is not None:
        size = told.height_px / told.planned_px - 1.0
        if abs(size) > HEIGHT:
            off = True
            parts.append(
                f"it is {say.percent(abs(size))} {'higher' if size > 0 else 'lower'} than planned"
            )
    told_so = [
        words
        for words, value in (
            ("as high as planned", told.height_px),
            ("on its ground", told.lower_px),
            ("on its mark", told.right_px),
        )
        if value is not None
    ]
    sentence = capital(listed(told_so)) + "."
    if off:
        sentence = (
            f"{capital(listed(parts))}: another posture, off its mark, or a camera that "
            "stood elsewhere. Compare with the plan."
        )
    quantities = tuple(
        Quantity(symbol, name, value, "px")
        for symbol, name, value in (
            ("h", "height of what is kept", told.height_px),
            ("p", "planned height", told.planned_px),
            ("d", "lower edge under the planned one", told.lower_px),
            ("a", "right of the planned middle", told.right_px),
        )
        if value is not None
    )
    return Finding(
        key,
        title,
        Verdict.STRAINS if off else Verdict.HOLDS,
        sentence,
        (
            Working(
                "what the key keeps against the outline of what is planned to stand there",
                quantities,
                Quantity(
                    "e",
                    "lower edge off, of the planned height",
                    abs(told.lower_px or 0.0) / told.planned_px,
                    "",
                ),
                "Outlines of people are rough: limits are judgement.",
            ),
        ),
    )


def judge_seam(seam: Seam, per_px: float) -> list[Finding]:
    """How the two halves of a divider lie on each other: only what is not as it should be, or one
    sentence that it is."""
    if seam.pair is None:
        return [
            Finding(
                "rough-seam",
                f"{seam.name}, seam",
                Verdict.HOLDS,
                f"{seam.first} and {seam.second} have too little in common that could be measured: "
                "look along the line.",
            )
        ]
    found = judge_pair(seam.pair, per_px)
    bad = [
        replace(f, title=f"{seam.name}, {f.title.lower()}")
        for f in found
        if f.verdict is not Verdict.HOLDS and f.key != "pair-common"
    ]
    if bad:
        return [replace(f, sentence=f.sentence.replace("The second", seam.second, 1)) for f in bad]
    return [
        Finding(
            "rough-seam",
            f"{seam.name}, seam",
            Verdict.HOLDS,
            f"{seam.first} and {seam.second} lie on each other, and are equally bright.",
        )
    ]


def judge_hole(hole: float, missing: Sequence[str]) -> Finding:
    """What no plate shows: `hole`, 0..1, with the plates of which nothing is filmed."""
    key, title = "rough-hole", "All of it filmed"
    if missing:
        names = " and ".join(missing)
        return Finding(
            key,
            title,
            Verdict.STRAINS,
            f"Nothing is filmed yet of {names}: the shot is not whole, and "
            + (
                f"{say.percent(hole)} of the picture stays grey."
                if hole > HOLE_HOLDS
                else "what it adds is missing."
            ),
        )
    verdict = banded(hole, HOLE_HOLDS, HOLE_STRAINS)
    return Finding(
        key,
        title,
        verdict,
        "Every part of the picture is filmed."
        if verdict is Verdict.HOLDS
        else f"No plate shows {say.percent(hole)} of the picture, drawn grey: film what lies "
        "behind it, or move the divider or the cut.",
    )


def answer(findings: Sequence[Finding], missing: Sequence[str]) -> str:
    """Does the shot work, in one sentence."""
    found = worst_first(list(findings))
    verdict = worst(found)
    named = [_called(f) for f in found if f.verdict is verdict][:3]
    if verdict is Verdict.BREAKS:
        return f"Film again before the set goes: {', '.join(named)}."
    if missing:
        return f"Not whole yet: nothing is filmed of {' and '.join(missing)}."
    if verdict is Verdict.STRAINS:
        return f"It works, with work in post: {', '.join(named)}."
    return "It works: what was filmed goes together as planned."


def _called(finding: Finding) -> str:
    """What a finding is of, and in brackets what of it."""
    of, _, what = finding.title.rpartition(", ")
    return f"{of} ({what})" if of else finding.title
