"""Is it sharp from the nearest to the farthest thing?"""

from __future__ import annotations

import numpy as np

from .. import optics, thin_lens
from ..impossible import Impossible
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import TIMELESS
from ..stage.case import Case
from ..words.quantities import length, lux, pixels, scale, stop
from .limits import DEPTH_STRAINS_TO
from .numbers import asked
from .rule import Measured, Number, Numbers, Rule, ranked, verdict_of
from .way import Way


def delivered_px(case: Case, blur_mm: float) -> float:
    """A blur disc on the sensor in delivered pixels."""
    return blur_mm / case.stage.coc_mm * 2.0


def judge_depth(case: Case) -> Finding | None:
    """Whether depth of field covers the plate's nearest to farthest stand-in."""
    stage = case.stage
    if stage.near_m is None or stage.far_m is None:
        return None
    measured = asked(measure, case)
    assert measured is not None
    if stage.near_m * 1000.0 <= stage.focal_mm / stage.choice.lens.pupil_ratio:
        return RULE.finding(
            verdict=Verdict.BREAKS,
            sentence=f"The nearest thing{_who(case, 0)} is {length(_ends(case)[0])} from the lens, "
            f"inside its focal length of {stage.focal_mm:g} mm: nothing makes it sharp. Take a "
            "shorter lens, or keep it farther away.",
            workings=(coc_working(case),),
        )
    blur = float(measured.short) * case.relaxed * stage.coc_mm
    verdict = verdict_of(measured)
    reach = f"{length(stage.depth_near_m)} to {length(stage.depth_far_m)}"
    near, far = _ends(case)
    wanted = f"{length(near)}{_who(case, 0)} to {length(far)}{_who(case, 1)}"
    if length(near) == length(far):
        wanted = f"{length(near)} alone"
    over = f" over {len(stage.passes)} focus passes" if len(stage.passes) > 1 else ""
    if case.shot.move.zoom != 1.0:
        sentence = (
            f"At {stop(stage.plate.f_number)} it is sharp from {reach}{over} in the tightest view; "
            f"what it needs, {wanted}, "
        )
        sentence += (
            "is sharp enough in every view that shows it."
            if verdict is Verdict.HOLDS
            else f"is not in every view that shows it: the worst blurs over "
            f"{pixels(delivered_px(case, blur))}."
        )
    elif verdict is Verdict.HOLDS:
        sentence = (
            f"At {stop(stage.plate.f_number)} it is sharp from {reach}{over}; it needs {wanted}."
        )
    else:
        sentence = (
            f"At {stop(stage.plate.f_number)} it is sharp from {reach}{over}, but it needs "
            f"{wanted}: the worst end blurs over {pixels(delivered_px(case, blur))}."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(_depth_working(case), coc_working(case)),
    )


def _ends(case: Case) -> tuple[float, float]:
    """How far away the nearest and the farthest are that must be sharp, stage metres."""
    ends = case.stage.ends
    assert ends is not None
    return ends[0].at_m / case.plate.scale, ends[1].at_m / case.plate.scale


def _who(case: Case, end: int) -> str:
    """Whose the nearest (0) or farthest (1) end is, and when, where anything moves."""
    if case.stage.ends is None or case.seen.frames < 2:
        return ""
    found = case.stage.ends[end]
    return f" ({found.thing.name}, frame {found.frame})"


def _depth_working(case: Case) -> Working:
    stage = case.stage
    return Working(
        formula="1/near, 1/far = 1/u ± c N (u − f/P) / (f² u)",
        inputs=(
            Quantity("f", "focal length", stage.focal_mm, "mm"),
            Quantity("N", "f-number", stage.plate.f_number, ""),
            Quantity("u", "object distance in focus", stage.passes[0].focus_m * 1000, "mm"),
            Quantity("P", "pupil ratio", stage.choice.lens.pupil_ratio, ""),
            Quantity("c", "largest unnoticed blur disc", stage.coc_mm, "mm"),
            Quantity("far", "far limit", stage.depth_far_m * 1000, "mm"),
        ),
        result=Quantity("near", "near limit", stage.depth_near_m * 1000, "mm"),
        source="Lens equation, exact at close focus (e.g. Hecht, ch. 5), from the entrance pupil; "
        "pupils: Ray, Applied Photographic Optics (from memory).",
    )


def coc_working(case: Case) -> Working:
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


def _ways(case: Case) -> list[Way]:
    stage, plate = case.stage, case.plate
    if stage.near_m is None or stage.far_m is None:
        return []
    ways: list[Way] = []
    wanted = optics.next_stop_down(
        optics.stop_needed(
            stage.focal_mm,
            stage.near_m,
            stage.far_m,
            stage.coc_mm,
            stage.choice.lens.pupil_ratio,
        )
    )
    if plate.f_number < wanted <= stage.choice.lens.smallest_stop:
        ways.append(
            Way(
                f"Stop down to {stop(wanted)} and focus at the best distance.",
                {"f_number": wanted, "focus_world_m": None, "focus_passes": 1},
                lambda t: (
                    f"Sharp from {length(t.stage.depth_near_m)} to "
                    f"{length(t.stage.depth_far_m)}; needs {lux(t.stage.lux_needed)} instead of "
                    f"{lux(stage.lux_needed)}; diffraction disc "
                    f"{pixels(delivered_px(t, t.stage.airy_mm))}."
                ),
            )
        )
    if plate.focus_world_m is not None:
        ways.append(
            Way(
                "Focus at the best distance for this depth.",
                {"focus_world_m": None},
                lambda t: (
                    f"Sharp from {length(t.stage.depth_near_m)} to {length(t.stage.depth_far_m)}."
                ),
            )
        )
    count = _passes_wanted(case)
    if 1 < count <= 8:
        ways.append(
            Way(
                f"Film {count} focus passes on one lock-off.",
                {"focus_passes": count},
                lambda t: "Focus at " + ", ".join(length(p.focus_m) for p in t.stage.passes) + ".",
            )
        )
    pull = _pull(case)
    if pull is not None:
        ways.append(pull)
    for denominator in (s for s in (24.0, 32.0, 48.0) if s > plate.scale > 1):
        # A smaller reproduction on the sensor is the only other way to gain depth.
        ways.append(
            Way(
                f"Build at {scale(denominator)} instead of {scale(plate.scale)}.",
                {"scale": denominator},
                lambda t: f"Needs {length(t.stage.near_m or 0)} to {length(t.stage.far_m or 0)}.",
                family="scale",
            )
        )
    return ways


def _pull(case: Case) -> Way | None:
    """The focus pulled along with what moves, where one focus at a time is enough at every frame.
    Advice: the plan keeps one focus."""
    stage, seen = case.stage, case.seen
    if stage.ends is None or seen.frames < 2:
        return None
    rows = seen.numbers([s for s in case.own if s.matters != "soft"])
    near = np.fmin.reduce(seen.near_m[rows], axis=0) / case.plate.scale
    far = np.fmax.reduce(seen.far_m[rows], axis=0) / case.plate.scale
    shown = np.flatnonzero(np.isfinite(near))
    ratio = stage.choice.lens.pupil_ratio
    near_mm, far_mm = near[shown] * 1000.0, far[shown] * 1000.0
    focus = 2.0 * near_mm * far_mm / (near_mm + far_mm)
    if (near_mm <= stage.focal_mm / ratio).any():
        return None
    blur = thin_lens.blur_disc(stage.focal_mm, case.plate.f_number, focus, near_mm, ratio)
    if (
        float(blur.max()) > stage.coc_mm * case.relaxed
        or stage.ends[0].thing != stage.ends[1].thing
    ):
        return None
    first, last = (
        f"{length(float(focus[i]) / 1000.0)} at frame {seen.number(int(shown[i]))}" for i in (0, -1)
    )
    return Way(
        f"Pull the focus with {stage.ends[0].thing.name}: {first}, {last}.",
        effect="One focus at a time is enough then; mark its way on the floor.",
        promises=Verdict.HOLDS,
    )


def measure(n: Numbers) -> Measured | None:
    """The blur disc of the worst end over the allowed one; None where nothing must be sharp.

    One pass: the disc at either end, for any focus. Several that are enough leave the same disc at
    the ends of each, tanh(span / 2n) / k; too few are spread evenly in dioptres, and the nearest
    end of the nearest is the worst.
    """
    if np.isnan(n.near_m).all():
        return None
    focal, near, far = n.focal_mm, n.near_m * 1000.0, n.far_m * 1000.0
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):

        def disc(at: Number, focus_m: Number) -> Number:
            blur = thin_lens.blur_disc(focal, n.f_number, focus_m * 1000.0, at, n.pupil_ratio)
            return blur / n.coc_mm

        single = np.maximum(disc(near, n.focus_m), disc(far, n.focus_m))
        k = thin_lens.spread(focal, n.f_number, n.coc_mm, n.pupil_ratio)
        span = thin_lens.depth_span(focal, near, far, n.pupil_ratio)
        even = np.tanh(span / (2.0 * n.passes_needed)) / k
        several = np.where(n.passes_needed <= n.passes, even, disc(near, n.first_focus_m))
        ratio = np.where(n.passes <= 1.0, single, several)
        # Nothing makes sharp what stands inside the focal length.
        ratio = np.where(near <= focal / n.pupil_ratio, np.inf, ratio) / n.relaxed
    return Measured(ranked(ratio, 1.001, DEPTH_STRAINS_TO), ratio)


def takes(case: Case, short: float) -> tuple[str, str] | None:
    """As many focus passes as cover it, where passes can: not of what moves."""
    if case.seen.frames > 1 and case.plate.kind not in TIMELESS:
        return "A focus that is pulled, or less movement towards us.", (
            f"worst end blurs {short:.1f} times too far"
        )
    count = _passes_wanted(case)
    if not count:
        return None
    return f"{count} focus passes on one lock-off.", f"worst end blurs {short:.1f} times too far"


def _passes_wanted(case: Case) -> int:
    """Fewest focus passes that cover what must be sharp; 0 where none can."""
    stage = case.stage
    if stage.near_m is None or stage.far_m is None:
        return 0
    try:
        return len(
            optics.focus_passes(
                stage.focal_mm,
                stage.plate.f_number,
                stage.near_m,
                stage.far_m,
                stage.coc_mm,
                stage.choice.lens.pupil_ratio,
            )
        )
    except Impossible:
        return 0


RULE = Rule(
    key="depth",
    title="Depth of field",
    name="depth of field",
    speak=judge_depth,
    ways=_ways,
    axes=frozenset({"passes", "scale", "setup", "stop"}),
    measure=measure,
    takes=takes,
)
