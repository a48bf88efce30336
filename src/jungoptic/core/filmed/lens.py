"""A lens that was measured by stills of a board: what its numbers are worth, and what would make
them better."""

from __future__ import annotations

import math

from .. import thin_lens
from ..board.lens import LensSeen
from ..pictures.vignetting import Vignetting
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.kit import Lens, LensMeasure
from ..words import quantities as say
from ..words.sentences import listed

#: Parts of a focal length that it is told to: so well, and hardly better than by its mark.
SURE_HOLDS, SURE_STRAINS = 0.01, 0.05
#: A mark that is off by more than this is likelier a wrong sensor width (judgement).
MARK_OFF = 0.12
#: Corners off by this, pixels of a picture 1920 wide, say that the paper was bent or the stills
#: were soft; by the second, that they are of no use.
FIT_HOLDS_PX, FIT_STRAINS_PX = 0.4, 2.0
#: Lines are only known as far out as the board was held, parts of the half diagonal.
REACH_HOLDS, REACH_STRAINS = 0.8, 0.4
#: Light from one side of the surface to the other that a slope still takes off well, stops.
LIT_HOLDS, LIT_STRAINS = 0.5, 1.5
SOURCE = "Zhang 2000; ± holds nine errors of ten."


def measure_of(
    lens: Lens,
    seen: LensSeen,
    marked_mm: float,
    focus_m: float | None = None,
    even: Vignetting | None = None,
    even_stop: float | None = None,
) -> LensMeasure:
    """What is kept of a lens that was measured with its ring at a mark, focused at `focus_m` from
    the entrance pupil (None: where the board was)."""
    away_mm = (seen.distance_m if focus_m is None else focus_m) * 1000.0
    focal = thin_lens.matching_focal(seen.pinhole_mm, away_mm, lens.pupil_ratio)
    part = focal / seen.pinhole_mm
    corner = math.hypot(1.0, seen.height_px / seen.width_px) * seen.sensor_width_mm / 2.0
    return LensMeasure(
        marked_mm=marked_mm,
        focal_mm=round(focal, 3),
        off_mm=round(seen.pinhole_off * part, 3),
        k1=round(seen.k1, 6),
        k2=round(seen.k2, 6),
        right_mm=round(seen.right_mm, 4),
        down_mm=round(seen.down_mm, 4),
        corner_stops=None if even is None else round(even.corner_stops, 3),
        corner_mm=None if even is None else round(corner, 3),
        corner_stop=None if even is None else even_stop,
    )


def judge_lens(
    lens: Lens, seen: LensSeen, found: LensMeasure, even: Vignetting | None = None
) -> list[Finding]:
    """What was measured of a lens, in sentences, worst first."""
    told = [_focal(seen, found), _fit(seen), _reach(seen), _bend(seen), _middle(seen)]
    if even is not None:
        told.append(_corners(even))
    return worst_first([one for one in told if one is not None])


def _focal(seen: LensSeen, found: LensMeasure) -> Finding:
    part = (found.off_mm or 0.0) / found.focal_mm
    off = found.focal_mm / found.marked_mm - 1.0
    verdict = banded(part, SURE_HOLDS, SURE_STRAINS)
    told = (
        f"Its {found.marked_mm:g} mm are {found.focal_mm:.4g} mm (± {found.off_mm or 0.0:.2g}), "
        f"{'as marked' if abs(off) < 0.002 else f'{say.percent(abs(off))} ' + _more(off)}"
    )
    if verdict is Verdict.HOLDS:
        told += "."
    else:
        told += ": that is rough. Turn the board more, and each time another way."
    if abs(off) > MARK_OFF:
        verdict = Verdict.BREAKS
        told = (
            f"Its {found.marked_mm:g} mm would be {found.focal_mm:.4g} mm: no mark is so far off. "
            "The mode uses another width of the sensor than the kit says, or a stabiliser crops."
        )
    return Finding(
        "lens-focal",
        "Focal length",
        verdict,
        told,
        (
            Working(
                "1/f = 1/D + 1/(P u)",
                (
                    Quantity("D", "pinhole distance, as focused", seen.pinhole_mm, "mm"),
                    Quantity("u", "board from the entrance pupil", seen.distance_m * 1000.0, "mm"),
                    Quantity("n", "stills that counted", float(len(seen.counted)), ""),
                ),
                Quantity("f", "focal length", found.focal_mm, "mm"),
                f"Thin lens. {SOURCE}",
            ),
        ),
    )


def _more(off: float) -> str:
    return "longer than marked" if off > 0.0 else "shorter than marked"


def _fit(seen: LensSeen) -> Finding:
    rms = seen.rms_px * 1920.0 / seen.width_px
    verdict = banded(rms, FIT_HOLDS_PX, FIT_STRAINS_PX)
    left = [n for n, one in enumerate(seen.stills, start=1) if not one.counted]
    told = f"Corners lie where they should to {seen.rms_px:.2g} px of {seen.width_px:,}"
    if verdict is Verdict.HOLDS:
        told += "."
    else:
        told += (
            ": the paper is bent, or the stills are soft or stirred. Glue it on a board, "
            "stand the camera on its tripod, and take them again."
        )
    if left:
        one = len(left) == 1
        some = listed([str(n) for n in left])
        told += (
            f" Still{'' if one else 's'} {some} {'does' if one else 'do'} not fit the rest or "
            f"{'shows' if one else 'show'} too little of the board, and {'is' if one else 'are'} "
            "left out."
        )
    return Finding("lens-fit", "The stills", verdict, told)


def _reach(seen: LensSeen) -> Finding:
    verdict = banded(-seen.reach, -REACH_HOLDS, -REACH_STRAINS)
    told = f"The board was seen as far as {say.percent(seen.reach)} of the way into the corners"
    told += (
        "."
        if verdict is Verdict.HOLDS
        else ": what lines do beyond is guessed. Hold it into every corner of the picture."
    )
    return Finding("lens-reach", "Held into the corners", verdict, told)


def _bend(seen: LensSeen) -> Finding:
    half = math.hypot(seen.width_px, seen.height_px) / 2.0
    r = half * seen.sensor_width_mm / seen.width_px / seen.pinhole_mm
    part = seen.k1 * r**2 + seen.k2 * r**4
    moved = part * half
    way = "outwards" if moved > 0.0 else "inwards"
    told = (
        f"The corners of the picture lie {abs(moved):.3g} px {way} of where straight lines put "
        f"them, {say.percent(abs(part))} of the way."
    )
    return Finding(
        "lens-bend",
        "Straight lines",
        Verdict.HOLDS,
        told,
        (
            Working(
                "r (k₁ r² + k₂ r⁴)",
                (
                    Quantity("k₁", "", seen.k1, ""),
                    Quantity("k₂", "", seen.k2, ""),
                    Quantity("r", "half diagonal, a part of the pinhole distance", r, ""),
                ),
                Quantity("d", "moved", moved, "px"),
                "Brown 1971, Zhang 2000.",
            ),
        ),
    )


def _middle(seen: LensSeen) -> Finding | None:
    away = math.hypot(seen.right_mm, seen.down_mm)
    if seen.middle_off == 0.0:
        return None
    px = away * seen.width_px / seen.sensor_width_mm
    sure = seen.middle_off * seen.width_px / seen.sensor_width_mm
    told = (
        f"It sits in the middle of the sensor to {sure:.2g} px."
        if px <= sure
        else f"Its middle lies {px:.2g} px off that of the picture (± {sure:.2g})."
    )
    return Finding("lens-middle", "Its middle", Verdict.HOLDS, told)


def _corners(even: Vignetting) -> Finding:
    verdict = banded(even.lit_stops, LIT_HOLDS, LIT_STRAINS)
    told = f"The corners lose {even.corner_stops:.2f} stops against the middle."
    if verdict is not Verdict.HOLDS:
        told += (
            f" The surface was {even.lit_stops:.1f} stops brighter on one side, which was taken "
            "off: light it from both sides to be sure."
        )
    return Finding("lens-corners", "Darker corners", verdict, told)
