"""What the marks on a stored picture say."""

from __future__ import annotations

from typing import cast

from jungoptic.core.breakdown.annotations import StillReport, judge_still
from jungoptic.core.breakdown.sketch_marks import Drawn, LayerKind
from jungoptic.core.camera import Camera
from jungoptic.core.plan import in_view
from jungoptic.core.plan.standins import StandIn

from ..plans.bridge import load
from ..plans.stored import plan_json
from .models import Sketch


def report_of(sketch: Sketch) -> StillReport:
    """The core's report; points of a planned picture are in delivered pixels."""
    width, height = float(sketch.width_px), float(sketch.height_px)
    planned: Camera | None = None
    stand_ins: tuple[StandIn, ...] = ()
    if sketch.planned:
        view = None if sketch.view_id is None else str(sketch.view_id)
        core_shot = in_view(load(plan_json(sketch.shot)), view)
        planned = core_shot.world.camera(core_shot.delivery)
        # Only what is really there must stay under the line: paintings and screens are added.
        real = {p.id for p in core_shot.plates if p.kind == "live"} | {None}
        stand_ins = tuple(s for s in core_shot.stand_ins if s.plate_id in real)
        width = float(core_shot.delivery.width_px)
        height = float(core_shot.delivery.height_px)
    marks = tuple(
        Drawn(
            str(a.pk),
            cast(LayerKind, a.layer),
            a.name,
            tuple((x * width, y * height) for x, y in a.points),
            a.distance_m,
            a.height_m,
        )
        for a in sketch.annotations.all()
    )
    return judge_still(marks, width, height, planned, stand_ins)
