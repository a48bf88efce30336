"""Will edges key: the screen under the feet, of another colour than what stands before it, and
recorded well enough?"""

from __future__ import annotations

import numpy as np

from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..screens.codecs import CHROMA_STEP, PITCH_HOLDS, PITCH_STRAINS, chroma_pitch_px
from ..screens.colours import NAMES, apart, choose
from ..stage.backing import backing
from ..stage.case import Case
from ..words.quantities import length
from .trying import remedy, sought

#: Scores of `keying.colours` that key cleanly, and with work.
COLOUR_HOLDS, COLOUR_STRAINS = 0.75, 0.3
#: The sweep reaches this far before the feet (judgement).
SWEEP_MARGIN_M = 0.3


# --- floor -------------------------------------------------------------------------------------


def judge_sweep(case: Case) -> Finding | None:
    """Feet in the picture need the screen under them."""
    screen, plate = backing(case), case.plate
    if screen is None or plate.screen_width_m <= 0.0:
        return None
    delivery = case.shot.delivery
    feet = [s for s in case.shot.stand_ins_of(plate) if s.kind == "figure"]
    if not feet:
        return None
    at = plate.on_stage(np.array([(s.x_m, s.y_m, s.z_m) for s in feet]))
    seen = case.stage.camera.project(at, delivery.width_px, delivery.height_px)
    with np.errstate(invalid="ignore"):
        shown = (
            (seen[:, 0] >= 0)
            & (seen[:, 0] <= delivery.width_px)
            & (seen[:, 1] >= 0)
            & (seen[:, 1] <= delivery.height_px)
        )
    if not shown.any():
        return None
    nearest = float(at[shown, 1].min())
    needed = round(screen.distance_m - nearest + SWEEP_MARGIN_M, 2)
    short = needed - plate.screen_sweep_m
    verdict = Verdict.HOLDS if short <= 1e-9 else Verdict.STRAINS
    if verdict is Verdict.HOLDS:
        sentence = (
            f"Feet are in the picture and stand on the screen's sweep ({length(needed)} needed)."
        )
    else:
        sentence = (
            f"Feet are in the picture: run the screen {length(needed)} forward over the floor "
            f"({length(plate.screen_sweep_m)} now), or cut the feet out by hand."
        )
    return Finding(
        key="sweep",
        title="Floor",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="sweep = screen distance − nearest foot + 300 mm",
                inputs=(
                    Quantity("d", "screen distance", screen.distance_m, "m"),
                    Quantity("y", "nearest foot in the picture", nearest, "m"),
                ),
                result=Quantity("s", "sweep needed", needed, "m"),
                source="Geometry; feet in frame need a floor sweep (common practice).",
            ),
        ),
        remedies=sought(
            case,
            verdict,
            lambda: [
                remedy(
                    case,
                    judge_sweep,
                    verdict,
                    {"screen_sweep_m": needed},
                    f"Lay {length(needed)} of it on the floor, without a crease at the turn.",
                )
            ],
        ),
    )


# --- colour ------------------------------------------------------------------------------------


def judge_screen_colour(case: Case) -> Finding | None:
    """Whether everything before the screen has another colour than it."""
    plate = case.plate
    if plate.kind != "screen" or not plate.swatches:
        return None
    each = [apart(s, plate.screen_colour) for s in plate.swatches]
    worst = min(each, key=lambda a: a.score)
    verdict = banded(-worst.score, -COLOUR_HOLDS, -COLOUR_STRAINS)
    name = NAMES[plate.screen_colour]
    bad = [a for a in each if a.score < COLOUR_HOLDS]
    if verdict is Verdict.HOLDS:
        sentence = (
            f"Every colour stands clear of the {name}; the nearest is {worst.swatch}, "
            f"{worst.lab:.0f} ΔE away."
        )
    else:
        sentence = "; ".join(a.why for a in bad) + "."
        sentence = sentence[0].upper() + sentence[1:]

    def ways() -> list[Remedy | None]:
        better = [c for c in choose(plate.swatches) if c.screen != plate.screen_colour][:3]
        return [
            remedy(
                case,
                judge_screen_colour,
                verdict,
                {"screen_colour": c.screen},
                f"Use {'an' if c.name[0] in 'aeo' else 'a'} {c.name}.",
            )
            for c in better
        ] + [
            Remedy(
                f"Change {', '.join(a.swatch for a in bad)} for another colour.",
                f"Then the {name} may stay.",
                Verdict.HOLDS,
            )
        ]

    return Finding(
        key="screen-colour",
        title="Screen colour",
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
        remedies=sought(case, verdict, ways),
    )


# --- recording ---------------------------------------------------------------------------------


def judge_recording(case: Case) -> Finding | None:
    """Whether the mode keeps colour edges as fine as the delivered picture."""
    if case.plate.kind != "screen":
        return None
    mode, delivered = case.choice.mode, case.shot.delivery.width_px
    across, down = chroma_pitch_px(mode.subsampling, case.stage.pixels_across, delivered)
    pitch = max(across, down)
    verdict = banded(pitch, PITCH_HOLDS, PITCH_STRAINS)
    bits = (
        "" if mode.bit_depth >= 10 else " At 8 bits light the screen well and grade after keying."
    )
    sentence = (
        f"{mode.name} keeps one colour sample in {pitch:.1f} delivered pixels"
        + (
            ": edges stay as fine as the picture."
            if verdict is Verdict.HOLDS
            else ": fine hair goes."
        )
        + bits
    )

    def ways() -> list[Remedy | None]:
        found: list[Remedy | None] = []
        for body in case.shot.kit.bodies:
            for other in body.modes:
                if other.id != mode.id:
                    found.append(
                        remedy(
                            case,
                            judge_recording,
                            verdict,
                            {"body_id": body.id, "mode_id": other.id},
                            f"Record with {body.name}, {other.name}.",
                        )
                    )
        return found

    step = CHROMA_STEP[mode.subsampling]
    return Finding(
        key="recording",
        title="Recording",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="pitch = samples per chroma sample · delivered / recorded",
                inputs=(
                    Quantity("n", f"{mode.subsampling}, across or down", float(max(step)), ""),
                    Quantity("W", "delivered across", float(delivered), "px"),
                    Quantity(
                        "R", "recorded across the delivered view", case.stage.pixels_across, "px"
                    ),
                ),
                result=Quantity("p", "chroma pitch", pitch, "px"),
                source="Chroma subsampling (ITU-R BT.601 and after); the limits are judgement.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )
