"""Do straight lines stay straight in the lens?"""

from __future__ import annotations

import math

import numpy as np

from ..camera import Array
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.kit import LensMeasure
from ..plan.plate import Plate
from ..stage.case import Case
from ..stage.focal import matching_focal_mm
from ..words.quantities import pixels
from .numbers import asked
from .rule import Chosen, Measured, Number, Numbers, Rule, ranked, verdict_of


def measured_for(numbers: Numbers, choice: Chosen) -> LensMeasure | None:
    """What was measured of the lens near where its ring will stand; None where nothing was. A zoom
    stands near where it matches the story's camera, wherever it is focused."""
    lens, plate = choice.lens, numbers.plate
    marked = lens.focal_min_mm
    if lens.is_zoom:
        wanted = matching_focal_mm(numbers.shot, choice.mode, math.inf)
        marked = plate.focal_mm or lens.marked_mm(wanted)
        marked = min(max(marked, lens.focal_min_mm), lens.focal_max_mm)
    return lens.measured_at(marked)


def bow_px(numbers: Numbers) -> Number | None:
    """By how much a straight line along the upper edge of the delivered picture bows, delivered
    pixels; + as a barrel does, its ends nearer to the middle of the picture. None where no lens was
    measured. What only scales or shifts the picture does not count: it is laid back with it."""

    def part(of: str) -> Number:
        def one(choice: Chosen) -> float:
            found = measured_for(numbers, choice)
            return math.nan if found is None else float(getattr(found, of))

        # What is asked of a setup is kept for all plates: a zoom's hangs on how it is set.
        world = numbers.shot.world
        widest = world.focal_mm * numbers.shot.move.widest
        kept = f"{numbers.shot.delivery.aspect} {numbers.shot.padding}"
        set_by = f"{numbers.plate.focal_mm} {widest} {world.sensor_width_mm} {kept}"
        return numbers.of_setup(f"bend {of} {set_by}", one)

    k1, k2 = part("k1"), part("k2")
    if np.isnan(k1).all():
        return None
    world, delivery = numbers.shot.world, numbers.shot.delivery
    # The delivered view takes as much of what the lens shows as the story's camera sees.
    across = world.sensor_width_mm / world.focal_mm / numbers.shot.move.widest / 2.0
    up = across / delivery.aspect
    end, middle = across**2 + up**2, up**2
    bent = k1 * (middle - end) + k2 * (middle**2 - end**2)
    found: Array = np.nan_to_num(bent) * delivery.height_px / 2.0
    return found


def _beside(numbers: Numbers) -> list[Plate]:
    """What lies with a plate in one picture and has a lens."""
    own = numbers.plate
    plates = numbers.shot.plates
    same = (p for p in plates if p.id != own.id and p.view_id == own.view_id)
    return [p for p in same if p.lens_id is not None]


def alike(numbers: Numbers, choice: Chosen) -> bool:
    """Whether everything that lies with a plate in one picture is bent as a lens bends: filmed with
    the same lens and, of a zoom, set and recorded alike. Every stage keeps the story's angles, so
    that scale and distance change nothing."""
    lens, mode = choice.lens, choice.mode
    for other in _beside(numbers):
        if other.lens_id != lens.id:
            return False
        same_set = other.focal_mm == numbers.plate.focal_mm and other.mode_id == mode.id
        if lens.is_zoom and not same_set:
            return False
    return True


def judge_bend(case: Case) -> Finding | None:
    """How far lines bow; None for a lens that was never measured."""
    measured = asked(measure, case)
    if measured is None:
        return None
    numbers_now = asked(lambda n: (bow_px(n), measured_for(n, case.choice)), case)
    bow, found = float(numbers_now[0] or 0.0), numbers_now[1]
    if found is None:
        return None
    verdict = verdict_of(measured)
    told = f"A straight line along the upper edge bows by {pixels(abs(bow))}"
    way = "outwards, as in a barrel" if bow > 0.0 else "inwards, as in a cushion"
    if abs(bow) <= case.tolerance.px:
        sentence = f"{told}: nobody sees that."
    elif verdict is Verdict.HOLDS:
        sentence = (
            f"{told} {way}. Whatever lies with it in the picture is filmed with this lens too, so "
            "they fit each other as they are."
            if asked(_beside, case)
            else f"{told} {way}. Nothing is filmed yet that lies with it in one picture."
        )
    else:
        sentence = (
            f"{told} {way}; more than {pixels(case.tolerance.px)} shows where it meets a plate "
            "that another lens filmed. Post straightens it first, with the numbers that were "
            "measured of the lens."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="|k₁(m² − e²) + k₂(m⁴ − e⁴)| · height / 2",
                inputs=(
                    Quantity("k₁", "of the lens, as measured", found.k1, ""),
                    Quantity("k₂", "of the lens, as measured", found.k2, ""),
                    Quantity("m", "middle of the upper edge from the picture's, a part of the "
                             "pinhole distance", _part(case, 0.0), ""),
                    Quantity("e", "end of that edge from the picture's middle, the same",
                             _part(case, 1.0), ""),
                    Quantity("height", "of the delivered picture",
                             float(case.shot.delivery.height_px), "px"),
                ),
                result=Quantity("bow", "bows by", abs(bow), "px"),
                source="Lens distortion as Brown 1971 and Zhang 2000 write it; the bow as picture "
                "height distortion is told (ISO 17850, from memory).",
            ),
        ),
    )  # fmt: skip


def _part(case: Case, along: float) -> float:
    world = case.shot.world
    across = world.sensor_width_mm / world.focal_mm / 2.0
    return math.hypot(along * across, across / case.shot.delivery.aspect)


def measure(n: Numbers) -> Measured | None:
    """How far lines bow that nothing beside them does, delivered pixels; None where no lens was
    measured."""
    bow = bow_px(n)
    if bow is None:
        return None
    others = [(p.lens_id, p.mode_id, p.focal_mm) for p in _beside(n)]
    fits = n.of_setup(f"fits {n.plate.focal_mm} {others}", lambda s: float(alike(n, s)))
    size = np.where(fits > 0.0, 0.0, np.abs(bow))
    # It never breaks: post can straighten any lens that was measured.
    return Measured(ranked(size, n.tolerance_px, math.inf), size)


def unbent(found: LensMeasure) -> str:
    """The numbers that post straightens a lens with, in one line."""
    middle = "" if found.right_mm == found.down_mm == 0.0 else (
        f", about {found.right_mm:+.3f} mm right and {found.down_mm:+.3f} mm down of the middle"
    )  # fmt: skip
    return f"k1 {found.k1:+.5f}, k2 {found.k2:+.5f}{middle}"


RULE = Rule(
    key="bend",
    title="Straight lines",
    name="straight lines",
    speak=judge_bend,
    axes=frozenset({"setup"}),
    measure=measure,
    otherwise="A longer lens, or one that bends less; post straightens one that was measured.",
)
