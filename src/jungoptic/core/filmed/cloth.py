"""The cloth as it was filmed, and the key tried on it: what to change while its lamps stand."""

from __future__ import annotations

from ..judging.limits import EVEN_HOLDS, EVEN_STRAINS
from ..pictures.keying import SIDES
from ..pictures.screen import ScreenMeasure
from ..pictures.trial import Levels, Trial
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.plate import Plate
from ..words import quantities as say

#: A cloth with less than this of its own colour, as recorded, is noise in the matte; with more than
#: that it pales and lights what stands before it (common practice: about half of full scale).
DARK, BRIGHT = 0.32, 0.82
#: Hues further apart are two fabrics or two colours of light (judgement).
HUE_HOLDS, HUE_STRAINS = 12.0, 35.0
#: Grain as recorded (judgement).
GRAIN_HOLDS, GRAIN_STRAINS = 0.012, 0.035
#: Clipped parts of a cloth (judgement).
CLIP_HOLDS, CLIP_STRAINS = 0.002, 0.02
#: Parts of what stands before the cloth that show through (judgement).
HOLES_HOLD, HOLES_STRAIN = 0.004, 0.04
#: What is left of the cloth (judgement).
VEIL_HOLDS, VEIL_STRAINS = 0.03, 0.2
#: Delivered pixels of edge: sharp, and so soft that a garbage matte has to help (judgement).
EDGE_HOLDS, EDGE_STRAINS = 4.0, 12.0
#: Parts of what is kept with the cloth's colour on it (judgement).
SPILL_HOLDS, SPILL_STRAINS = 0.05, 0.3
#: Parts of a picture that are clipped or black (judgement).
OVER_HOLDS, OVER_STRAINS, BLACK_HOLDS = 0.01, 0.12, 0.25
#: Parts of a flame that are clipped (common practice: its colour lies in its edges).
BURNT_HOLDS, BURNT_STRAINS = 0.3, 0.7
NAMES = {"sky": "sky", "white": "white wall"}


def judge_cloth(
    colour: str, measured: ScreenMeasure, where: tuple[str, str], level: float
) -> list[Finding]:
    """How a cloth was lit; `where`: its brightest and its darkest part, in words; `level`: what it
    has of its own colour as recorded, 0..1, in the mean."""
    found = [_even(colour, measured, where)]
    if colour in SIDES:
        found += [_level(measured, level), _hue(measured), _grain(measured)]
    return worst_first(found)


def none_found(colour: str, planned: bool) -> Finding:
    """There is no such cloth in the picture; `planned`: the plate should have one."""
    return Finding(
        "cloth-none",
        "Cloth",
        Verdict.BREAKS if planned else Verdict.HOLDS,
        f"No {_called(colour)} was found in this frame"
        + (": is it the right colour, and is it lit?" if planned else ", so nothing can be keyed."),
    )


def _called(colour: str) -> str:
    return NAMES.get(colour, f"{colour} cloth")


def _even(colour: str, measured: ScreenMeasure, where: tuple[str, str]) -> Finding:
    size = measured.range_stops
    verdict = banded(size, EVEN_HOLDS, EVEN_STRAINS)
    bright, dark = where
    after = (
        ": it keys as one colour."
        if verdict is Verdict.HOLDS
        else f", brightest {bright}, darkest {dark}: lamps farther off and crossed, or one more "
        "for the dark side."
    )
    return Finding(
        "cloth-even",
        "Evenness",
        verdict,
        f"The {_called(colour)} varies by {say.stops(size)}{after}",
        (
            Working(
                "log2(brightest place / darkest place)",
                (Quantity("L", "level as recorded", measured.level, ""),),
                Quantity("e", "evenness", size, "stops"),
                "Light by the curve of ITU-R BT.709; within a third of a stop either way is common "
                "practice.",
            ),
        ),
    )


def _level(measured: ScreenMeasure, level: float) -> Finding:
    key, title = "cloth-level", "Level"
    told = f"Its own colour is recorded at {say.percent(level)}"
    if measured.clipped > CLIP_HOLDS:
        verdict = banded(measured.clipped, CLIP_HOLDS, CLIP_STRAINS)
        sentence = f"{say.percent(measured.clipped)} of it is clipped and has lost its colour: "
        return Finding(key, title, verdict, sentence + "dim its lamps.")
    if level < DARK:
        sentence = f"{told}: so dark the matte is full of noise. Up by a stop."
        return Finding(key, title, Verdict.STRAINS, sentence)
    if level > BRIGHT:
        sentence = f"{told}: so bright it pales, and lights what stands before it. Down by half a "
        return Finding(key, title, Verdict.STRAINS, sentence + "stop.")
    return Finding(key, title, Verdict.HOLDS, f"{told}, as a cloth should be.")


def _hue(measured: ScreenMeasure) -> Finding:
    size = measured.hue_spread_deg
    verdict = banded(size, HUE_HOLDS, HUE_STRAINS)
    return Finding(
        "cloth-hue",
        "Hue",
        verdict,
        f"Of one hue, to {size:.0f}°."
        if verdict is Verdict.HOLDS
        else f"Its hues lie {size:.0f}° apart: two fabrics, or lamps of two colours on it.",
    )


def _grain(measured: ScreenMeasure) -> Finding:
    size = measured.noise
    verdict = banded(size, GRAIN_HOLDS, GRAIN_STRAINS)
    return Finding(
        "cloth-grain",
        "Grain on it",
        verdict,
        f"Grain of {size * 100.0:.1f} % of full scale"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": edges will crawl. More light on the cloth, a lower ISO."
        ),
    )


def judge_key(colour: str, trial: Trial, per_px: float, grain: float = 0.0) -> list[Finding]:
    """How a key came out; `per_px` delivered pixels to one of the picture's, `grain` on the
    cloth."""
    found = [_veil(trial, grain > GRAIN_HOLDS)]
    if trial.holes is not None:
        found.append(_holes(colour, trial.holes))
    if trial.edge_px is not None:
        found.append(_edge(trial.edge_px * per_px))
    if colour in SIDES:
        found.append(_spill(colour, trial))
    return worst_first(found)


def _holes(colour: str, holes: float) -> Finding:
    verdict = banded(holes, HOLES_HOLD, HOLES_STRAIN)
    why = (
        f"something {colour} or shiny stands before it, or it spills far in"
        if colour in SIDES
        else "something as bright stands before it"
        if colour != "black"
        else "what should be kept is as dark as the cloth"
    )
    return Finding(
        "key-holes",
        "Holes",
        verdict,
        "What stands before it is kept whole."
        if verdict is Verdict.HOLDS
        else f"{say.percent(holes)} of what should be kept shows through: {why}.",
    )


def _veil(trial: Trial, grainy: bool) -> Finding:
    verdict = banded(trial.veil, VEIL_HOLDS, VEIL_STRAINS)
    return Finding(
        "key-veil",
        "What is left of it",
        verdict,
        "Nothing of the cloth is left."
        if verdict is Verdict.HOLDS
        else f"{say.percent(trial.veil)} of the cloth stays, like a veil: "
        + (
            "grain, above all. More light on it, or a lower ISO."
            if grainy
            else "folds, shadows or a dark corner. Light it more evenly, or mask it off where "
            "nobody goes."
        ),
    )


def _edge(edge_px: float) -> Finding:
    verdict = banded(edge_px, EDGE_HOLDS, EDGE_STRAINS)
    return Finding(
        "key-edge",
        "Edge",
        verdict,
        f"Edges are {edge_px:.1f} delivered pixels wide"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": out of focus, moving, or recorded with few samples of colour."
        ),
    )


def _spill(colour: str, trial: Trial) -> Finding:
    verdict = banded(trial.spill, SPILL_HOLDS, SPILL_STRAINS)
    return Finding(
        "key-spill",
        "Spill",
        verdict,
        f"{say.percent(trial.spill)} of what is kept has {colour} on it"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": farther from the cloth, less of it in the frame, a light from behind."
        ),
    )


def judge_levels(plate: Plate | None, measured: Levels) -> list[Finding]:
    """What a recording has no more of. Of fire over black the flame counts, and black is meant."""
    element = plate is not None and plate.kind == "element"
    if element:
        return [_burnt(measured)]
    over, black = measured.clipped, measured.crushed
    verdict = banded(over, OVER_HOLDS, OVER_STRAINS)
    found = [
        Finding(
            "levels-clipped",
            "Clipped",
            verdict,
            f"{say.percent(over)} of the picture is clipped"
            + (
                "."
                if verdict is Verdict.HOLDS
                else ": nothing is recorded there. Close down, or keep the lamp out of frame."
            ),
        )
    ]
    dark = plate is not None and plate.kind == "screen" and plate.screen_colour == "black"
    if not dark:
        found.append(
            Finding(
                "levels-crushed",
                "Black",
                banded(black, BLACK_HOLDS, 1.0),
                f"{say.percent(black)} of the picture is black"
                + (
                    "."
                    if black <= BLACK_HOLDS
                    else ": whatever is there cannot be brought up later. Was that meant?"
                ),
            )
        )
    return worst_first(found)


def _burnt(measured: Levels) -> Finding:
    verdict = banded(measured.burnt, BURNT_HOLDS, BURNT_STRAINS)
    return Finding(
        "levels-burnt",
        "Flame and sparks",
        verdict,
        "Nothing shines in this frame."
        if measured.shining <= 0.0
        else f"{say.percent(measured.burnt)} of what shines is clipped"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": it will be a white patch with an edge. Close down by two stops."
        ),
    )
