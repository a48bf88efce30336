"""What was filmed against what was planned: pixels, stops, depth, and whether to go again."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from .. import exposure, optics
from ..impossible import Impossible
from ..judging.depth import judge_depth
from ..judging.limits import MISMATCH_STRAINS_TO, TAKE_STOPS_HOLD, TAKE_STOPS_STRAIN
from ..judging.mismatch import off_by
from ..judging.picture_left import judge_picture_left
from ..judging.view import judge_view
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.derive import Choice, derive
from ..stage.tape import mark_tape_m
from ..words import quantities as say


@dataclass(frozen=True)
class Taken:
    """What the crew read off: stage metres, degrees, mm. None means "as planned"."""

    axis_height_m: float | None = None
    distance_m: float | None = None
    tilt_deg: float | None = None
    focal_mm: float | None = None
    focus_tape_m: float | None = None
    f_number: float | None = None
    exposure_s: float | None = None
    iso: float | None = None
    capture_fps: float | None = None


@dataclass(frozen=True)
class Departure:
    """One number: planned, actual, and what this departure alone costs, in a few words."""

    name: str
    planned: str
    actual: str
    cost: str
    verdict: Verdict


@dataclass(frozen=True)
class TakeReport:
    """The judgement on a take. `advice` is one sentence: keep it, or go again and why."""

    verdict: Verdict
    advice: str
    departures: tuple[Departure, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Planned:
    """The numbers a take is held against, in the units of `Taken`."""

    axis_height_m: float
    distance_m: float | None
    tilt_deg: float
    focal_mm: float
    focus_tape_m: float
    f_number: float
    exposure_s: float
    iso: float
    capture_fps: float


def planned_numbers(case: Case) -> Planned:
    """The plan's own numbers, as the crew would read them off."""
    stage = case.stage
    return Planned(
        axis_height_m=stage.axis_m if case.shot.old_rules else stage.mark_height_m,
        distance_m=mark_tape_m(case),
        tilt_deg=stage.tilt_deg,
        focal_mm=stage.marked_mm,
        focus_tape_m=stage.passes[0].focus_m + stage.sensor_to_pupil_m,
        f_number=stage.plate.f_number,
        exposure_s=stage.exposure_s,
        iso=stage.plate.iso,
        capture_fps=stage.capture_fps,
    )


def judge_take(
    shot: Shot, plate: Plate, taken: Taken, beside: Sequence[Finding] = ()
) -> TakeReport:
    """Hold a take against its plan; `beside`: what is found against the takes it must join. Raises
    Impossible when the plan lacks kit or the readings are impossible (focus inside the focal
    length, say)."""
    case = Case.of(shot, plate)
    if case is None:
        raise Impossible(
            "the plan has no body, mode and lens, so there is nothing to compare to.", "lens_id"
        )
    plan = planned_numbers(case)
    actual = as_taken(case, plan, taken)
    findings = [
        found
        for found in (
            _match(actual),
            judge_picture_left(actual),
            judge_view(actual),
            _sharp(case, actual),
            _exposed(plan, case, taken, actual),
            _speed(plan, taken),
            _blur(plan, taken),
        )
        if found is not None
    ]
    findings = worst_first([*findings, *beside])
    verdict = worst(findings)
    return TakeReport(
        verdict=verdict,
        advice=_advice(findings),
        departures=_departures(case, plan, taken),
        findings=tuple(findings),
    )


def _called(finding: Finding) -> str:
    """A finding in the middle of a sentence; names keep their capitals."""
    if finding.key.startswith("partner-"):
        return finding.title.replace("Beside", "the join with", 1)
    return finding.title[0].lower() + finding.title[1:]


def _advice(findings: list[Finding]) -> str:
    breaks = [_called(f) for f in findings if f.verdict is Verdict.BREAKS]
    strains = [_called(f) for f in findings if f.verdict is Verdict.STRAINS]
    if breaks:
        return f"Go again: {' and '.join(breaks)} will not hold in the composite."
    if strains:
        return f"Usable; go again if the set still stands: {' and '.join(strains)} will show."
    return "Keep it: nothing here will show."


def as_taken(case: Case, plan: Planned, taken: Taken) -> Case:
    """The case with the readings put in place of the plan, cropped as the plan crops. Raises
    Impossible for a focus inside the lens."""
    plate, choice = case.plate, case.choice
    if taken.focal_mm is not None:
        lens = replace(choice.lens, focal_min_mm=taken.focal_mm, focal_max_mm=taken.focal_mm)
        choice = Choice(choice.body, choice.mode, lens)
    changes: dict[str, float | int] = {}
    if taken.axis_height_m is not None:
        tilt = math.radians(plan.tilt_deg if taken.tilt_deg is None else taken.tilt_deg)
        up = 0.0 if case.shot.old_rules else case.stage.sensor_to_pupil_m * math.sin(tilt)
        changes["axis_height_m"] = taken.axis_height_m + up
    if taken.distance_m is not None and plan.distance_m is not None:
        changes["setback_m"] = plate.setback_m + taken.distance_m - plan.distance_m
    if taken.tilt_deg is not None:
        changes["tilt_deg"] = taken.tilt_deg
    if taken.f_number is not None:
        changes["f_number"] = taken.f_number
    if taken.iso is not None:
        changes["iso"] = taken.iso
    tape = taken.focus_tape_m if taken.focus_tape_m is not None else plan.focus_tape_m
    if math.isfinite(tape):
        focal = case.stage.focal_mm
        if taken.focal_mm is not None:
            focal = choice.lens.worth_mm(taken.focal_mm)
        if case.stage.pupil_assumed:
            # From the principal plane, which lies f (1 - 1 / P) behind the entrance pupil.
            focus = optics.object_distance_m(focal, tape)
            focus -= focal * (1.0 - 1.0 / choice.lens.pupil_ratio) / 1000.0
        else:
            focus = tape - case.stage.sensor_to_pupil_m
            if focus * 1000.0 <= focal / choice.lens.pupil_ratio:
                raise Impossible(f"focus at {say.length(tape)} lies inside the lens.", "focus_m")
        changes["focus_world_m"] = focus * plate.scale
    changes["focus_passes"] = 1
    actual_plate = replace(plate, **changes)  # type: ignore[arg-type]
    stage = derive(case.shot, actual_plate, choice, pinhole_for_crop_mm=case.stage.pinhole_mm)
    return Case(case.shot, actual_plate, stage)


def _match(actual: Case) -> Finding | None:
    plain, fitted = actual.matched
    if plain.worst_index < 0:
        return None
    tolerance = actual.tolerance.px
    return Finding(
        key="mismatch",
        title="Match with the world camera",
        verdict=banded(fitted.max_px, tolerance, tolerance * MISMATCH_STRAINS_TO),
        sentence=off_by(actual),
        workings=(
            Working(
                "largest |world picture − picture as filmed| after the best scale, turn and shift",
                (
                    Quantity("raw", "largest before the reframe", plain.max_px, "px"),
                    Quantity("rms", "root mean square after it", fitted.rms_px, "px"),
                    Quantity("n", "points in frame", float(len(actual.compared.points)), ""),
                ),
                Quantity("max", "largest after the reframe", fitted.max_px, "px"),
                "Pinhole projection; least-squares similarity (Umeyama 1991).",
            ),
        ),
    )


def _sharp(case: Case, actual: Case) -> Finding | None:
    """Depth at the stop and focus used; of a split-focus plan, only the nearest pass counts."""
    stage = actual.stage
    if len(case.stage.passes) > 1 and stage.near_m is not None and stage.far_m is not None:
        one = min(case.stage.passes, key=lambda p: abs(1 / p.focus_m - 1 / stage.focus_m))
        near, far = max(stage.near_m, one.near_m), min(stage.far_m, one.far_m)
        actual = replace(actual, stage=replace(stage, near_m=near, far_m=far))
    return judge_depth(actual)


def _exposed(plan: Planned, case: Case, taken: Taken, actual: Case) -> Finding:
    time_s = taken.exposure_s or plan.exposure_s
    change = exposure.exposure_change_stops(
        case.stage.light_stop,
        plan.exposure_s,
        plan.iso,
        actual.stage.light_stop,
        time_s,
        taken.iso or plan.iso,
    )
    size = abs(change)
    return Finding(
        key="exposure",
        title="Exposure",
        verdict=banded(size, TAKE_STOPS_HOLD, TAKE_STOPS_STRAIN),
        sentence="Exposed as planned."
        if size < 0.05
        else f"{say.stops(change)} {'brighter' if change > 0 else 'darker'} than planned.",
        workings=(
            Working(
                "log2( (t ISO / T²) actual / (t ISO / T²) planned )",
                (
                    Quantity("T", "working stop", actual.stage.light_stop, ""),
                    Quantity("t", "exposure time", time_s, "s"),
                    Quantity("ISO", "ISO", taken.iso or plan.iso, ""),
                ),
                Quantity("Δ", "exposure change", change, "stops"),
                "Reciprocity of stop, time and ISO (ISO 2720).",
            ),
        ),
    )


def _speed(plan: Planned, taken: Taken) -> Finding | None:
    if taken.capture_fps is None:
        return None
    factor = taken.capture_fps / plan.capture_fps
    verdict = banded(max(factor, 1 / factor), 1.02, 1.2)
    return Finding(
        key="speed",
        title="Speed of movement",
        verdict=verdict,
        sentence="Recorded at the planned rate."
        if abs(factor - 1) < 0.001
        else f"Movement plays {say.percent(abs(1 / factor - 1))} too "
        + ("slow." if factor > 1 else "fast."),
    )


def _blur(plan: Planned, taken: Taken) -> Finding | None:
    if taken.exposure_s is None and taken.capture_fps is None:
        return None
    planned = plan.exposure_s * plan.capture_fps
    actual = (taken.exposure_s or plan.exposure_s) * (taken.capture_fps or plan.capture_fps)
    factor = actual / planned
    angle = actual * 360.0
    impossible = angle > 360.5
    return Finding(
        key="blur",
        title="Motion blur",
        verdict=Verdict.BREAKS if impossible else banded(max(factor, 1 / factor), 1.25, 2.0),
        sentence=f"An exposure of {angle:.0f}° is longer than the frame: check the reading."
        if impossible
        else f"Shutter {angle:.0f}° against {planned * 360:.0f}° planned: blur "
        + ("as planned." if abs(factor - 1) < 0.02 else f"{factor:.2f} times as long."),
    )


def _departures(case: Case, plan: Planned, taken: Taken) -> tuple[Departure, ...]:
    """Each reading alone against the plan, so that the crew sees which one costs."""
    rows: list[Departure] = []
    for name, field, shown in (
        ("Lens axis height", "axis_height_m", say.length),
        ("Distance to the mark", "distance_m", say.length),
        ("Tilt", "tilt_deg", say.degrees),
        ("Focal length", "focal_mm", lambda v: f"{v:.4g} mm"),
    ):
        actual, planned = getattr(taken, field), getattr(plan, field)
        if actual is None or planned is None:
            continue
        found = _match(as_taken(case, plan, Taken(**{field: actual})))
        cost = "nothing in frame to compare" if found is None else found.sentence.split(";")[0]
        verdict = Verdict.HOLDS if found is None else found.verdict
        rows.append(Departure(name, shown(planned), shown(actual), cost, verdict))
    for name, field, shown in (
        ("Focus", "focus_tape_m", say.length),
        ("Stop", "f_number", say.stop),
    ):
        actual = getattr(taken, field)
        if actual is None:
            continue
        alone = Taken(**{field: actual})
        tried = as_taken(case, plan, alone)
        sharp = _sharp(case, tried)
        costs, verdicts = [], []
        if field == "f_number":
            light = _exposed(plan, case, alone, tried)
            costs.append(light.sentence)
            verdicts.append(light)
        if sharp is not None:
            costs.append(sharp.sentence)
            verdicts.append(sharp)
        planned = getattr(plan, field)
        rows.append(
            Departure(name, shown(planned), shown(actual), " ".join(costs), worst(verdicts))
        )
    for name, field, shown in (
        ("Shutter", "exposure_s", say.shutter),
        ("ISO", "iso", lambda v: f"{v:g}"),
        ("Capture rate", "capture_fps", say.rate),
    ):
        actual = getattr(taken, field)
        if actual is None:
            continue
        alone = Taken(**{field: actual})
        found_ones = [
            _exposed(plan, case, alone, case) if field != "capture_fps" else None,
            _speed(plan, alone),
            _blur(plan, alone),
        ]
        kept = [f for f in found_ones if f is not None]
        rows.append(
            Departure(
                name,
                shown(getattr(plan, field)),
                shown(actual),
                " ".join(f.sentence for f in kept),
                worst(kept),
            )
        )
    return tuple(rows)
