"""A lens measured by the stills that hang on it. Loaded where that is done, which is never in a web
process."""

from __future__ import annotations

import dataclasses
from typing import Any

from jungoptic.core.board.lens import LensSeen, measured
from jungoptic.core.filmed.lens import judge_lens, measure_of
from jungoptic.core.pictures.bend import Bend, bent
from jungoptic.core.pictures.vignetting import Vignetting, vignetting
from jungoptic.core.stage.derive import pupil_to_front_m

from ..jobs.work import Work
from ..kit.api import lens_out
from ..kit.models import Lens, Mode
from ..pictures.laying import look_of
from ..pictures.models import Arrival, Picture
from ..pictures.work import picture_of
from ..plans.bridge import lens_of
from ..records import Refused
from ..takes.files import board
from .work import WantedLens

#: Points along each line of the grid that shows how a lens bends; and lines.
ALONG, LINES = 25, (0.04, 0.27, 0.5, 0.73, 0.96)


def measure(work: Work[WantedLens]) -> None:
    """Measure a lens, and tell what came of every still."""
    wanted = work.params
    stored = Lens.objects.filter(pk=wanted.lens_id, production=work.production).first()
    mode = Mode.objects.filter(pk=wanted.mode_id, body__production=work.production).first()
    if stored is None:
        raise Refused("lens_id", "This production has no such lens any more.")
    if mode is None:
        raise Refused("mode_id", "This production has no such recording mode any more.")
    pictures = [p for p in _stills(stored) if p.pk != wanted.even_id]
    founds = [(picture, seen.found) for picture in pictures if (seen := board(picture)) is not None]
    work.tell(0, 2, "steps")
    lens = lens_of(lens_out(stored))
    seen_by = measured(
        [found for _, found in founds], mode.sensor_width_mm, wanted.marked_mm, wanted.ruler_mm
    )
    work.tell(1, 2, "steps")
    even = _even(work)
    # A tape reaches the front of a lens; what the picture is made by lies behind it.
    focus = None if wanted.focus_m is None else wanted.focus_m + pupil_to_front_m(lens)
    kept = measure_of(lens, seen_by, wanted.marked_mm, focus, even, wanted.even_stop)
    work.keep(
        {
            "measure": dataclasses.asdict(kept),
            "pinhole_mm": seen_by.pinhole_mm,
            "rms_px": seen_by.rms_px,
            "reach": seen_by.reach,
            "width_px": seen_by.width_px,
            "height_px": seen_by.height_px,
            "stills": [
                {"picture_id": str(picture.pk), **dataclasses.asdict(still)}
                for (picture, _), still in zip(founds, seen_by.stills, strict=True)
            ],
            "at": LINES,
            "lines": _lines(seen_by),
            "findings": judge_lens(lens, seen_by, kept, even),
        }
    )


def _stills(lens: Lens) -> list[Picture]:
    found = Picture.objects.filter(lens=lens, put_away=False, state=Arrival.READ)
    return list(found.exclude(board=None).order_by("created_at", "id"))


def _even(work: Work[WantedLens]) -> Vignetting | None:
    if work.params.even_id is None:
        return None
    picture = picture_of(work, work.params.even_id)
    return vignetting(look_of("even_id", picture, min(picture.looks, default=1)))


def _lines(seen: LensSeen) -> list[list[tuple[float, float]]]:
    """Straight lines over the whole picture as the lens shows them, parts of its width and
    height."""
    bend = Bend(
        seen.k1, seen.k2, seen.right_mm, seen.down_mm, seen.pinhole_mm, seen.sensor_width_mm
    )
    wide, high = seen.width_px, seen.height_px
    steps = [n / (ALONG - 1) for n in range(ALONG)]
    straight = [[(at, s) for s in steps] for at in LINES] + [
        [(s, at) for s in steps] for at in LINES
    ]
    found = []
    for line in straight:
        places: Any = bent([(x * wide, y * high) for x, y in line], bend, wide, high)
        found.append([(round(float(x) / wide, 5), round(float(y) / high, 5)) for x, y in places])
    return found
