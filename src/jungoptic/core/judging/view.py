"""Does the recorded picture fill the delivered one, and with how many pixels?"""

from __future__ import annotations

import math

import numpy as np

from .. import thin_lens
from ..plan.findings import Finding, Quantity, Working
from ..plan.kit import Lens, Mode
from ..plan.on_side import modes_for, turned
from ..plan.placing import nearest_m
from ..stage.case import Case
from ..stage.focal import matching_focal_mm
from ..words.quantities import length, percent, pixels
from .limits import PIXELS_HOLD_FROM, PIXELS_STRAIN_FROM, VIEW_COVERED_TO, VIEW_SHORT_STRAINS_TO
from .numbers import asked
from .placed import all_of_it_m
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_view(case: Case) -> Finding:
    """Whether body, mode and lens see everything the world camera sees; pixels left if they do."""
    stage, delivery = case.stage, case.shot.delivery
    kept = 1.0 + 2.0 * case.shot.padding
    crop = max(stage.crop_across, stage.crop_down) * kept
    share = stage.pixels_across / delivery.width_px
    verdict = verdict_of(asked(measure, case))
    if crop > VIEW_COVERED_TO:
        side = "width" if stage.crop_across >= stage.crop_down else "height"
        needs = "the story needs" if case.shot.placing is None else "it takes with room around it"
        sentence = (
            f"The {stage.marked_mm:.3g} mm lens is too long: it sees {percent(1 / crop)} of the "
            f"{side} {needs}{_with_padding(case)}; {percent(1 - 1 / crop)} is missing."
        )
    elif case.shot.placing is not None:
        sentence = (
            f"All of it is in the picture, with room around it; {pixels(stage.pixels_across)} are "
            f"recorded where {delivery.width_px:,} px are delivered ({percent(share)})."
        )
    else:
        sentence = (
            f"The view is covered{_with_padding(case)}; cropping to it leaves "
            f"{pixels(stage.pixels_across)} across the {delivery.width_px:,} px delivered frame "
            f"({percent(share)}){_at_tightest(case)}."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(_working(case),),
    )


def _with_padding(case: Case) -> str:
    padding = case.shot.padding
    return f" with {percent(padding)} of padding on each side" if padding else ""


def _zoomed(case: Case) -> tuple[Quantity, ...]:
    """A zoom in post: the crop is of the widest view, the pixels are those of the tightest."""
    move = case.shot.move
    if move.zoom == 1.0:
        return ()
    return (
        Quantity("z_w", "widest view over the first, as a focal length", move.widest, ""),
        Quantity("z_t", "tightest view over the first", move.tightest, ""),
    )


def _at_tightest(case: Case) -> str:
    move = case.shot.move
    if move.zoom == 1.0:
        return ""
    wide = case.stage.pixels_across * move.closes
    last = "the zoom has closed in" if move.zoom > 1.0 else "the zoom begins"
    return f" where {last}, of {pixels(wide)} at its widest"


def _working(case: Case) -> Working:
    stage, world = case.stage, case.shot.world
    return Working(
        formula="crop = (W_world / f_world) · f (1 + m/P) / W_mode;  "
        "pixels left = mode width · crop"
        if case.shot.move.zoom == 1.0
        else "crop = (W_world / (f_world z_w)) · f (1 + m/P) / W_mode;  "
        "pixels left = mode width · crop · z_w / z_t",
        inputs=(
            Quantity("W_world", "world camera sensor width", world.sensor_width_mm, "mm"),
            Quantity("f_world", "world camera focal length", world.focal_mm, "mm"),
            Quantity("f", "focal length on this stage", stage.focal_mm, "mm"),
            Quantity("m", "magnification at the focus", stage.magnification, ""),
            Quantity("W_mode", "sensor width used", stage.choice.mode.sensor_width_mm, "mm"),
            Quantity("crop", "crop across", stage.crop_across, ""),
            Quantity("crop_v", "crop down", stage.crop_down, ""),
            Quantity("p", "padding kept on each side", case.shot.padding, ""),
            *_zoomed(case),
        ),
        result=Quantity("px", "pixels left across", stage.pixels_across, "px"),
        source="Ray geometry: ratio of the tangents of the half angles of view.",
    )


def _ways(case: Case) -> list[Way]:
    """Other lenses and modes owned that do better, most pixels first."""
    plate = case.plate
    options: list[tuple[float, str, dict[str, str | None]]] = []
    for body in case.shot.kit.bodies:
        for mode in modes_for(plate, body):
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
    return (
        _from_elsewhere(case)
        + _other_way_round(case)
        + [
            Way(f"Use the {name}.", {**changes, "focal_mm": None}, _left)
            for _, name, changes in options[:8]
        ]
    )


#: A camera is laid down, or stood up, for so many times the pixels (judgement).
TURNS_FOR = 1.05


def _other_way_round(case: Case) -> list[Way]:
    """The camera on its side, or standing, where the picture then keeps more of its sensor."""
    mode, lens, lies = case.choice.mode, case.choice.lens, case.plate.on_side
    # As many pixels either way are no reason to lay a camera down.
    if _pixels_left(case, turned(mode), lens) <= _pixels_left(case, mode, lens) * TURNS_FOR:
        return []
    if lies:
        return [Way("Stand the camera upright.", {"on_side": ""}, _left)]
    return [Way("Turn the camera on its side, the left one down.", {"on_side": "left"}, _left)]


def _left(tried: Case) -> str:
    share = tried.stage.pixels_across / tried.shot.delivery.width_px
    return f"{pixels(tried.stage.pixels_across)} left across ({percent(share)})."


def _from_elsewhere(case: Case) -> list[Way]:
    """For what is placed in post: the distance from which the lens in hand just has all of it."""
    placing = case.shot.placing
    if placing is None:
        return []
    from_m = all_of_it_m(placing.from_m, case)
    if max(case.stage.crop_across, case.stage.crop_down) < 1.0:
        from_m = max(from_m, nearest_m(placing))
    if not 0.0 < from_m < placing.story_m or from_m == placing.from_m:
        return []
    words = f"Film it from {length(from_m / case.plate.scale)}: this lens just has all of it."
    return [Way(words, {"placed_from_m": from_m})]


def _pixels_left(case: Case, mode: Mode, lens: Lens) -> float:
    """Pixels across that `mode` with `lens` would leave after the crop; 0 if it sees too little.

    The closed form of what `stage.derive` works out, cheap enough to try the whole kit.
    """
    world, focus_mm = case.shot.world, case.stage.focus_m * 1000.0
    wanted = matching_focal_mm(case.shot, mode, case.stage.focus_m, lens.pupil_ratio)
    low, high = lens.worth_mm(lens.focal_min_mm), lens.worth_mm(lens.focal_max_mm)
    focal = min(max(wanted, low), high)
    if focal / lens.pupil_ratio >= focus_mm:
        return 0.0
    m = thin_lens.magnification(focal, focus_mm, lens.pupil_ratio)
    pinhole = thin_lens.pinhole(focal, m, lens.pupil_ratio)
    move = case.shot.move
    used = world.sensor_width_mm * pinhole / world.focal_mm / move.widest
    across = used / mode.sensor_width_mm
    down = used / case.shot.delivery.aspect / mode.sensor_height_mm
    kept = 1.0 + 2.0 * case.shot.padding
    left = mode.width_px * across / move.closes
    return left if max(across, down) * kept <= VIEW_COVERED_TO else 0.0


def measure(n: Numbers) -> Measured:
    """How much of the view is missing or, where none is, how few pixels are left."""
    crop = np.maximum(n.crop_across, n.crop_down) * (1.0 + 2.0 * n.shot.padding)
    share = n.pixels / n.shot.delivery.width_px
    missing = crop > VIEW_COVERED_TO
    wide = ranked(crop, VIEW_COVERED_TO, VIEW_SHORT_STRAINS_TO)
    sharp = ranked(-share, -PIXELS_HOLD_FROM, -PIXELS_STRAIN_FROM)
    short = np.where(missing, crop / VIEW_SHORT_STRAINS_TO - 1.0, PIXELS_STRAIN_FROM / share - 1.0)
    return Measured(np.where(missing, wide, sharp), short)


def _wide_enough(focal_mm: float, crop: float) -> float:
    """The longest lens, in tenths of a millimetre, that sees a view this one sees `1 / crop` of."""
    return math.floor(focal_mm / crop * VIEW_COVERED_TO * 10.0) / 10.0


def takes(case: Case, short: float) -> tuple[str, str]:
    """A shorter lens, or a mode with more pixels."""
    stage, width = case.stage, case.shot.delivery.width_px
    kept = 1.0 + 2.0 * case.shot.padding
    crop = max(stage.crop_across, stage.crop_down) * kept
    if crop > VIEW_COVERED_TO:
        lens = f"A {_wide_enough(stage.focal_mm, crop):g} mm lens, or shorter"
        sensor = case.choice.mode
        high = sensor.sensor_width_mm / sensor.sensor_height_mm
        other_way = max(stage.crop_across * high, stage.crop_down / high) * kept
        if other_way * TURNS_FOR < crop:
            way = "upright" if case.plate.on_side else "on its side"
            longer = _wide_enough(stage.focal_mm, other_way)
            lens += f"; with the camera {way}, one of {longer:g} mm"
        return f"{lens}.", f"{percent(1.0 - 1.0 / crop)} of view missing"
    needed, closes = width * PIXELS_STRAIN_FROM, case.shot.move.closes
    mode = needed * closes / max(min(stage.crop_across, 1.0), 1e-9)
    share = stage.pixels_across / width
    other = f"A mode {math.ceil(mode):,} px wide"
    # A longer lens helps as long as it still has all of the view.
    longest = VIEW_COVERED_TO / max(crop, 1e-9)
    if share * longest >= PIXELS_STRAIN_FROM:
        other += f", or a lens of {stage.focal_mm * PIXELS_STRAIN_FROM / share:.3g} mm"
    less = math.floor(closes * share / PIXELS_STRAIN_FROM * 100.0) / 100.0
    if closes > 1.0 and less > 1.0:
        other += f", or a zoom of {less:g} times"
    return f"{other}.", f"{pixels(stage.pixels_across)} left of {pixels(needed)}"


RULE = Rule(
    key="view",
    title="View and pixels",
    name="view and pixels",
    speak=judge_view,
    ways=_ways,
    axes=frozenset({"scale", "setup"}),
    measure=measure,
    takes=takes,
)
