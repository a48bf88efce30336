"""Every rule asked of one plate, with ways out that were tried as a whole."""

from __future__ import annotations

from dataclasses import replace

from ..plan.findings import Finding
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..planner.kit_choices import kit_choices
from ..remedies.standing import Judged, no_kit, standing
from ..remedies.whole import ways_out

__all__ = ["Judged", "judge_kit", "judged"]


def judged(shot: Shot, plate: Plate, remedies: bool = True) -> Judged:
    """Judge one plate, without pictures; impossible optics become a finding.

    With `remedies` every finding carries the ways out that leave no plate with a break more, tried
    against every rule of all plates they touch.
    """
    told = standing(shot, plate)
    if not remedies:
        return told
    findings = tuple(replace(f, remedies=ways_out(shot, plate, f)) for f in told.findings)
    return replace(told, findings=findings)


def judge_kit(shot: Shot, plate: Plate) -> Finding:
    """Body, mode or lens is missing: say so, and offer what is owned that fits best."""
    return replace(no_kit(shot), remedies=kit_choices(shot, plate))
