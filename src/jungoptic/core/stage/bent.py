"""How the lens of a plate bends what its camera records."""

from __future__ import annotations

from dataclasses import replace

from ..pictures.bend import Bend
from ..plan.kit import LensMeasure
from ..plan.on_side import in_picture
from .case import Case


def bend_of(case: Case) -> Bend | None:
    """How the lens of a plate bends what its camera records; None where it was not measured, or
    bends nothing."""
    stage = case.stage
    found = case.choice.lens.measured_at(stage.marked_mm)
    if found is None or not any((found.k1, found.k2, found.right_mm, found.down_mm)):
        return None
    away = in_picture(case.plate.on_side, found.right_mm, found.down_mm)
    return Bend(found.k1, found.k2, *away, stage.pinhole_mm, case.choice.mode.sensor_width_mm)


def bend_delivered(case: Case, part: float = 0.0) -> Bend | None:
    """The same in the delivered picture after a part (0..1) of the screen time, which is a part of
    what the camera records."""
    found = bend_of(case)
    if found is None:
        return None
    used = case.stage.camera.sensor_width_mm / case.shot.move.zoomed(part)
    return replace(found, sensor_width_mm=used)


def with_measured(case: Case, measured: tuple[LensMeasure, ...]) -> Case:
    """The case with its lens as it was measured since: what a lens is does not hang on when that
    was found out. Raises Impossible for a focus inside the lens."""
    lens = case.choice.lens
    if measured == lens.measured:
        return case
    known = replace(lens, measured=measured)
    kit = case.shot.kit
    lenses = tuple(known if one.id == lens.id else one for one in kit.lenses)
    found = Case.of(replace(case.shot, kit=replace(kit, lenses=lenses)), case.plate)
    return case if found is None else found
