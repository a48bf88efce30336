"""Does the screen's colour differ enough from what stands before it?"""

from __future__ import annotations

from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..screens.colours import NAMES, choose, separation
from ..stage.case import Case
from ..words.sentences import capital
from .limits import SCREEN_COLOUR_HOLDS, SCREEN_COLOUR_STRAINS
from .rule import Rule
from .way import Way


def judge_screen_colour(case: Case) -> Finding | None:
    """Whether everything before the screen has another colour than it."""
    plate = case.plate
    if plate.kind != "screen" or not plate.swatches:
        return None
    each = [separation(s, plate.screen_colour) for s in plate.swatches]
    worst = min(each, key=lambda a: a.score)
    verdict = banded(-worst.score, -SCREEN_COLOUR_HOLDS, -SCREEN_COLOUR_STRAINS)
    name = NAMES[plate.screen_colour]
    bad = [a for a in each if a.score < SCREEN_COLOUR_HOLDS]
    if verdict is Verdict.HOLDS:
        sentence = (
            f"Every colour stands clear of the {name}; the nearest is {worst.swatch}, "
            f"{worst.lab:.0f} ΔE away."
        )
    else:
        sentence = "; ".join(a.why for a in bad) + "."
        sentence = capital(sentence)

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="ΔE*ab = √(ΔL² + Δa² + Δb²);  c = √(ΔCb² + ΔCr²)",
                inputs=(
                    Quantity("ΔE", f"{worst.swatch} to the screen", worst.lab, ""),
                    Quantity("c", "in the colour plane of the codec", worst.chroma, ""),
                ),
                result=Quantity("s", "separation, 1 keys cleanly", worst.score, ""),
                source="CIELAB (CIE 15) and Y'CbCr (ITU-R BT.709); the limits are judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    plate = case.plate
    better = [c for c in choose(plate.swatches) if c.screen != plate.screen_colour][:3]
    bad = [separation(s, plate.screen_colour) for s in plate.swatches]
    names = ", ".join(a.swatch for a in bad if a.score < SCREEN_COLOUR_HOLDS)
    return [
        *(
            Way(f"Use {'an' if c.name[0] in 'aeo' else 'a'} {c.name}.", {"screen_colour": c.screen})
            for c in better
        ),
        Way(
            f"Change {names} for another colour.",
            effect=f"Then the {NAMES[plate.screen_colour]} may stay.",
            promises=Verdict.HOLDS,
        ),
    ]


RULE = Rule(
    key="screen-colour",
    title="Screen colour",
    name="screen colour",
    speak=judge_screen_colour,
    ways=_ways,
    otherwise="Another screen, or other clothes.",
)
