"""Is it sharp? Depth of field, diffraction, and the nearest the lens can focus."""

from __future__ import annotations

import math
from itertools import pairwise

from .. import optics
from ..impossible import Impossible
from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..stage.case import Case
from ..words.quantities import length, lux, pixels, scale, stop
from .trying import best, remedy

#: Blur at the worst end, as a multiple of the allowed disc, that still passes at a glance
#: (judgement).
STRAINS_TO = 2.0
#: Airy disc over the allowed disc up to which diffraction only softens (judgement).
AIRY_STRAINS_TO = 1.5


def _delivered(case: Case, blur_mm: float) -> float:
    """A blur disc on the sensor in delivered pixels."""
    return blur_mm / case.stage.coc_mm * 2.0


def worst_blur_mm(case: Case) -> float:
    """The largest defocus disc at the near and far end, in the pass that shows each best.

    0 when the plate has nothing that must be sharp.
    """
    stage = case.stage
    if stage.near_m is None or stage.far_m is None:
        return 0.0
    ends = [stage.near_m, stage.far_m]
    ends += _gaps(stage.passes, stage.near_m, stage.far_m)
    return max(
        min(
            optics.blur_disc_mm(stage.focal_mm, stage.plate.f_number, p.focus_m, end)
            for p in stage.passes
        )
        for end in ends
        if end * 1000.0 > stage.focal_mm
    )


def _gaps(passes: tuple[optics.FocusPass, ...], near_m: float, far_m: float) -> list[float]:
    """Distances between neighbouring passes that neither reaches."""
    gaps = []
    for a, b in pairwise(passes):
        if a.far_m < b.near_m:
            gaps.append(min(max(2 * a.far_m * b.near_m / (a.far_m + b.near_m), near_m), far_m))
    return gaps


def judge_depth(case: Case) -> Finding | None:
    """Whether depth of field covers the plate's nearest to farthest stand-in."""
    stage = case.stage
    if stage.near_m is None or stage.far_m is None:
        return None
    if stage.near_m * 1000.0 <= stage.focal_mm:
        return Finding(
            key="depth",
            title="Depth of field",
            verdict=Verdict.BREAKS,
            sentence=f"The nearest thing is {length(stage.near_m)} from the lens, inside its focal "
            f"length of {stage.focal_mm:g} mm: nothing makes it sharp. Take a shorter lens, or "
            "keep it farther away.",
            workings=(_coc_working(case),),
        )
    blur = worst_blur_mm(case)
    verdict = banded(blur / stage.coc_mm, 1.001 * case.relaxed, STRAINS_TO * case.relaxed)
    reach = f"{length(stage.depth_near_m)} to {length(stage.depth_far_m)}"
    wanted = f"{length(stage.near_m)} to {length(stage.far_m)}"
    over = f" over {len(stage.passes)} focus passes" if len(stage.passes) > 1 else ""
    if verdict is Verdict.HOLDS:
        sentence = (
            f"At {stop(stage.plate.f_number)} it is sharp from {reach}{over}; it needs {wanted}."
        )
    else:
        sentence = (
            f"At {stop(stage.plate.f_number)} it is sharp from {reach}{over}, but it needs "
            f"{wanted}: the worst end blurs over {pixels(_delivered(case, blur))}."
        )
    return Finding(
        key="depth",
        title="Depth of field",
        verdict=verdict,
        sentence=sentence,
        workings=(_depth_working(case), _coc_working(case)),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _depth_remedies(case, verdict),
    )


def _depth_working(case: Case) -> Working:
    stage = case.stage
    return Working(
        formula="1/near, 1/far = 1/u ± c N (u − f) / (f² u)",
        inputs=(
            Quantity("f", "focal length", stage.focal_mm, "mm"),
            Quantity("N", "f-number", stage.plate.f_number, ""),
            Quantity("u", "object distance in focus", stage.passes[0].focus_m * 1000, "mm"),
            Quantity("c", "largest unnoticed blur disc", stage.coc_mm, "mm"),
            Quantity("far", "far limit", stage.depth_far_m * 1000, "mm"),
        ),
        result=Quantity("near", "near limit", stage.depth_near_m * 1000, "mm"),
        source="Thin-lens equation, exact at close focus; any optics text (e.g. Hecht, ch. 5).",
    )


def _coc_working(case: Case) -> Working:
    stage = case.stage
    used = stage.coc_mm * case.shot.delivery.width_px / 2.0
    return Working(
        formula="c = k · W_used / delivery width",
        inputs=(
            Quantity("k", "pixels nobody notices", 2.0, "px"),
            Quantity("W_used", "sensor width used after the crop", used, "mm"),
            Quantity("w", "delivery width", float(case.shot.delivery.width_px), "px"),
        ),
        result=Quantity("c", "largest unnoticed blur disc", stage.coc_mm, "mm"),
        source="Derived from the delivery; k = 2 is a judgement.",
    )


def _depth_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    stage, plate = case.stage, case.plate
    assert stage.near_m is not None
    assert stage.far_m is not None
    ways: list[Remedy | None] = []
    wanted = optics.next_stop_down(
        optics.stop_needed(stage.focal_mm, stage.near_m, stage.far_m, stage.coc_mm)
    )
    if wanted <= stage.choice.lens.smallest_stop:
        ways.append(
            remedy(
                case,
                judge_depth,
                before,
                {"f_number": wanted, "focus_world_m": None, "focus_passes": 1},
                f"Stop down to {stop(wanted)} and focus at the best distance.",
                lambda t: (
                    f"Sharp from {length(t.stage.depth_near_m)} to "
                    f"{length(t.stage.depth_far_m)}; needs {lux(t.stage.lux_needed)} instead of "
                    f"{lux(stage.lux_needed)}; diffraction disc "
                    f"{pixels(_delivered(t, t.stage.airy_mm))}."
                ),
            )
        )
    if plate.focus_world_m is not None:
        ways.append(
            remedy(
                case,
                judge_depth,
                before,
                {"focus_world_m": None},
                "Focus at the best distance for this depth.",
                lambda t: (
                    f"Sharp from {length(t.stage.depth_near_m)} to {length(t.stage.depth_far_m)}."
                ),
            )
        )
    try:
        count = len(
            optics.focus_passes(
                stage.focal_mm, plate.f_number, stage.near_m, stage.far_m, stage.coc_mm
            )
        )
    except Impossible:
        count = 0
    if 1 < count <= 8:
        ways.append(
            remedy(
                case,
                judge_depth,
                before,
                {"focus_passes": count},
                f"Film {count} focus passes on one lock-off.",
                lambda t: "Focus at " + ", ".join(length(p.focus_m) for p in t.stage.passes) + ".",
            )
        )
    for denominator in (s for s in (24.0, 32.0, 48.0) if s > plate.scale > 1):
        # A smaller reproduction on the sensor is the only other way to gain depth.
        ways.append(
            remedy(
                case,
                judge_depth,
                before,
                {"scale": denominator},
                f"Build at {scale(denominator)} instead of {scale(plate.scale)}.",
                lambda t: f"Needs {length(t.stage.near_m or 0)} to {length(t.stage.far_m or 0)}.",
            )
        )
    return best(ways)


def judge_diffraction(case: Case) -> Finding:
    """Whether the Airy disc at the working stop stays inside the allowed blur disc."""
    stage = case.stage
    ratio = stage.airy_mm / stage.coc_mm
    verdict = banded(ratio, case.relaxed, AIRY_STRAINS_TO * case.relaxed)
    disc = pixels(_delivered(case, stage.airy_mm))
    sentence = (
        f"At {stop(stage.plate.f_number)} (working {stop(stage.effective_f_number)}) a point "
        f"spreads over {disc}"
        + (
            ", which nobody sees."
            if verdict is Verdict.HOLDS
            else ": the whole picture softens."
            if verdict is Verdict.BREAKS
            else ": a slight softness everywhere."
        )
    )
    return Finding(
        key="diffraction",
        title="Diffraction",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="Airy disc = 2.44 λ N (1 + m / P)",
                inputs=(
                    Quantity("λ", "wavelength", optics.MID_VISIBLE_NM, "nm"),
                    Quantity("N", "f-number", stage.plate.f_number, ""),
                    Quantity("m", "magnification", stage.magnification, ""),
                    Quantity("P", "pupil ratio", stage.choice.lens.pupil_ratio, ""),
                    Quantity("c", "largest unnoticed blur disc", stage.coc_mm * 1000, "µm"),
                ),
                result=Quantity("d", "Airy disc", stage.airy_mm * 1000, "µm"),
                source="Born & Wolf, Principles of Optics, 8.5; effective f-number: Ray, Applied "
                "Photographic Optics (from memory).",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _open_up(case, verdict),
    )


def _open_up(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    stage = case.stage
    limit = case.plate.f_number * stage.coc_mm / stage.airy_mm
    wider = max(optics.next_stop_open(limit), stage.choice.lens.widest_stop)

    def effect(tried: Case) -> str:
        depth = judge_depth(tried)
        return "Depth of field then " + (
            "has nothing to cover." if depth is None else f"{depth.verdict}: {depth.sentence}"
        )

    return best(
        [
            remedy(
                case,
                judge_diffraction,
                before,
                {"f_number": wider},
                f"Open up to {stop(wider)}.",
                effect,
            )
        ]
    )


def judge_close_focus(case: Case) -> Finding:
    """Whether the lens can focus as near as the stage asks, by the tape from the sensor mark."""
    stage = case.stage
    limit = stage.choice.lens.close_focus_m
    nearest = min(p.focus_m for p in stage.passes) + stage.sensor_to_pupil_m
    verdict = Verdict.HOLDS if nearest >= limit * 0.999 else Verdict.BREAKS
    sentence = (
        f"Focus is {length(nearest)} from the sensor mark; the lens reaches down to "
        f"{length(limit)}."
        if verdict is Verdict.HOLDS
        else f"Focus is needed {length(nearest)} from the sensor mark, but the lens stops at "
        f"{length(limit)}."
    )
    return Finding(
        key="close_focus",
        title="Close focus",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="D = u + f (1 + m)",
                inputs=(
                    Quantity("u", "object distance in focus", stage.focus_m * 1000, "mm"),
                    Quantity("f", "focal length", stage.focal_mm, "mm"),
                    Quantity("m", "magnification", stage.magnification, ""),
                ),
                result=Quantity("D", "tape from the sensor mark", nearest * 1000, "mm"),
                source="Thin-lens equation, any optics text.",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _focus_remedies(case, verdict),
    )


def _focus_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    ways: list[Remedy | None] = []
    for lens in case.shot.kit.lenses:
        if lens.id == case.plate.lens_id or lens.close_focus_m >= case.choice.lens.close_focus_m:
            continue
        ways.append(
            remedy(
                case,
                judge_close_focus,
                before,
                {"lens_id": lens.id, "focal_mm": None},
                f"Use the {lens.name}.",
                lambda t: (
                    f"It focuses to {length(t.choice.lens.close_focus_m)}; pixels left across: "
                    f"{pixels(t.stage.pixels_across)}."
                ),
            )
        )
    # The object distance goes with 1/S; the lens moves back a little too, hence the 2 % in hand.
    nearest = min(p.focus_m for p in case.stage.passes)
    wanted = case.choice.lens.close_focus_m - case.stage.sensor_to_pupil_m
    fits = math.floor(case.plate.scale * nearest * 0.98 / wanted) if wanted > 0 else 0
    if fits >= 1:
        ways.append(
            remedy(
                case,
                judge_close_focus,
                before,
                {"scale": float(fits)},
                f"Build larger, at {scale(fits)}.",
                lambda t: f"Focus then lies {length(t.stage.focus_tape_m)} from the sensor mark.",
            )
        )
    return best(ways)
