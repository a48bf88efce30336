"""Does the recorded picture fill the delivered one, and with how many pixels?"""

from __future__ import annotations

import math

from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working
from ..plan.kit import Lens, Mode
from ..stage.case import Case
from ..stage.derive import matching_focal_mm
from ..words.quantities import percent, pixels
from .trying import best, remedy

#: Fewer recorded pixels than delivered ones soften the picture. Down to 85 % is hard to see, and
#: below 65 % it looks enlarged next to sharper plates (judgement).
HOLDS_FROM = 1.0
STRAINS_FROM = 0.65
#: A view half a per cent short is lost in any reframe; up to 3 % short the whole shot can be
#: framed in a little (judgement).
COVERED_TO = 1.005
SHORT_STRAINS_TO = 1.03


def judge_view(case: Case) -> Finding:
    """Whether body, mode and lens see everything the world camera sees; pixels left if they do."""
    stage, delivery = case.stage, case.shot.delivery
    kept = 1.0 + 2.0 * case.shot.padding
    crop = max(stage.crop_across, stage.crop_down) * kept
    share = stage.pixels_across / delivery.width_px
    if crop > COVERED_TO:
        verdict = Verdict.STRAINS if crop <= SHORT_STRAINS_TO else Verdict.BREAKS
        side = "width" if stage.crop_across >= stage.crop_down else "height"
        sentence = (
            f"The {stage.focal_mm:.3g} mm lens is too long: it sees {percent(1 / crop)} of the "
            f"{side} the story needs{_with_padding(case)}; {percent(1 - 1 / crop)} is missing."
        )
    else:
        verdict = (
            Verdict.HOLDS
            if share >= HOLDS_FROM
            else Verdict.STRAINS
            if share >= STRAINS_FROM
            else Verdict.BREAKS
        )
        sentence = (
            f"The view is covered{_with_padding(case)}; cropping to it leaves "
            f"{pixels(stage.pixels_across)} across the {delivery.width_px:,} px delivered frame "
            f"({percent(share)})."
        )
    return Finding(
        key="view",
        title="View and pixels",
        verdict=verdict,
        sentence=sentence,
        workings=(_working(case),),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _remedies(case, verdict),
    )


def _with_padding(case: Case) -> str:
    padding = case.shot.padding
    return f" with {percent(padding)} of padding on each side" if padding else ""


def _working(case: Case) -> Working:
    stage, world = case.stage, case.shot.world
    return Working(
        formula="crop = (W_world / f_world) · f (1 + m) / W_mode;  pixels left = mode width · crop",
        inputs=(
            Quantity("W_world", "world camera sensor width", world.sensor_width_mm, "mm"),
            Quantity("f_world", "world camera focal length", world.focal_mm, "mm"),
            Quantity("f", "focal length on this stage", stage.focal_mm, "mm"),
            Quantity("m", "magnification at the focus", stage.magnification, ""),
            Quantity("W_mode", "sensor width used", stage.choice.mode.sensor_width_mm, "mm"),
            Quantity("crop", "crop across", stage.crop_across, ""),
            Quantity("crop_v", "crop down", stage.crop_down, ""),
            Quantity("p", "padding kept on each side", case.shot.padding, ""),
        ),
        result=Quantity("px", "pixels left across", stage.pixels_across, "px"),
        source="Ray geometry: ratio of the tangents of the half angles of view.",
    )


def _remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    """Other lenses and modes owned that do better, most pixels first."""
    plate = case.plate
    options: list[tuple[float, str, dict[str, str | None]]] = []
    for body in case.shot.kit.bodies:
        for mode in body.modes:
            for lens in case.shot.kit.lenses:
                same_body = mode.id == plate.mode_id
                left = _pixels_left(case, mode, lens)
                if left <= 0.0 or (same_body and lens.id == plate.lens_id):
                    continue
                name = lens.name if same_body else f"{lens.name} on {body.name}, {mode.name}"
                changes: dict[str, str | None] = {
                    "body_id": body.id,
                    "mode_id": mode.id,
                    "lens_id": lens.id,
                }
                # Staying on the same body is one change fewer on the day, so it counts for more.
                options.append((left * (1.5 if same_body else 1.0), name, changes))
    options.sort(key=lambda option: -option[0])
    return best(
        [
            remedy(
                case,
                judge_view,
                before,
                {**changes, "focal_mm": None},
                f"Use the {name}.",
                lambda t: (
                    f"{pixels(t.stage.pixels_across)} left across "
                    f"({percent(t.stage.pixels_across / t.shot.delivery.width_px)})."
                ),
            )
            for _, name, changes in options[:4]
        ],
        most=3,
    )


def _pixels_left(case: Case, mode: Mode, lens: Lens) -> float:
    """Pixels across that `mode` with `lens` would leave after the crop; 0 if it sees too little.

    The closed form of what `staging.derive` works out, cheap enough to try the whole kit.
    """
    world, focus_mm = case.shot.world, case.stage.focus_m * 1000.0
    wanted = matching_focal_mm(case.shot, mode, case.stage.focus_m)
    focal = min(max(wanted, lens.focal_min_mm), lens.focal_max_mm)
    if focal >= focus_mm:
        return 0.0
    pinhole = focal if math.isinf(focus_mm) else focal * focus_mm / (focus_mm - focal)
    used = world.sensor_width_mm * pinhole / world.focal_mm
    across = used / mode.sensor_width_mm
    down = used / case.shot.delivery.aspect / mode.sensor_height_mm
    kept = 1.0 + 2.0 * case.shot.padding
    return mode.width_px * across if max(across, down) * kept <= COVERED_TO else 0.0
