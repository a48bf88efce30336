"""The lens that filmed a picture, as it is known today."""

from __future__ import annotations

from jungoptic.core.stage.bent import with_measured
from jungoptic.core.stage.case import Case

from ..kit.api import lens_out
from ..kit.models import Lens
from ..plans.bridge import lens_of


def as_known_today(case: Case) -> Case:
    """A plate's camera with its lens as it was measured by now: a card that was frozen before has
    it as its ring says. Raises Impossible for a focus inside the lens."""
    row = Lens.objects.filter(pk=case.choice.lens.id).first()
    if row is None or not row.measured:
        return case
    return with_measured(case, lens_of(lens_out(row)).measured)
