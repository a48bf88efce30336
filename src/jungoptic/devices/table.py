"""A simulated table: an animator who poses what stands in a plate as its sheet says, and rigs that
move it by their charts. It shows that something moved, not how a puppet is made."""

from __future__ import annotations

import math
from dataclasses import replace

from jungoptic.core.frames.chart import Chart
from jungoptic.core.frames.follows import CARRIES, chart_of
from jungoptic.core.frames.timing import changed_at
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.sheet import Column, Sheet
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.standins import StandIn

#: How far a pose sways what is posed, parts of its height, and how far round it goes each time.
SWAY, ROUND = 0.05, 0.6
#: How wide the part is that a crank moves, a part of the thing's height.
ARM = 0.12


def posed(shot: Shot, plate: Plate, sheet: Sheet, frame: int) -> Shot:
    """A shot with the things of a plate as the sheet has them at a frame from 1. What cannot be
    charted stands."""
    there = shot.stand_ins_of(plate)
    own = {thing.id: thing for thing in there if thing.plate_id == plate.id}
    arms: list[StandIn] = []
    for column in sheet.columns:
        thing = own.get(column.thing_id or "") or next(iter(own.values()), None)
        if thing is None:
            break
        if column.kind in ("part", "piece"):
            poses = sum(f <= frame for f in changed_at(column, shot.frames)) - 1
            own[thing.id] = _swayed(thing, poses)
        elif column.kind == "axis" and column.thing_id in own:
            try:
                chart = chart_of(shot, plate, column)
            except Impossible:
                continue
            own[thing.id], arm = _moved(thing, plate, column, chart, frame)
            arms += [] if arm is None else [arm]
    stand_ins = tuple(own.get(thing.id, thing) for thing in shot.stand_ins)
    return replace(shot, stand_ins=(*stand_ins, *arms))


def _swayed(thing: StandIn, poses: int) -> StandIn:
    """A thing in its next pose: to the side, and taller or shorter by as little."""
    way = thing.height_m * SWAY
    return replace(
        thing,
        x_m=thing.x_m + way * math.sin(ROUND * poses),
        height_m=thing.height_m + way * (1.0 - math.cos(ROUND * poses)),
    )


def _moved(
    thing: StandIn, plate: Plate, column: Column, chart: Chart, frame: int
) -> tuple[StandIn, StandIn | None]:
    """A thing as its chart has moved it, and the part that a crank of it moves."""
    way = float(chart.reached[min(frame, len(chart.reached)) - 1])
    if column.axis == "turntable":
        return replace(thing, heading_deg=thing.heading_deg + way), None
    if column.axis == "crank":
        arm = (column.arm_mm or 0.0) / 1000.0 * plate.scale or 0.4 * thing.height_m
        angle = math.radians(way)
        return thing, replace(
            thing,
            id=f"{thing.id}-{column.key}",
            kind="card",
            x_m=thing.x_m + 0.5 * arm * math.cos(angle),
            y_m=thing.y_m - 0.02 * thing.height_m,
            z_m=thing.z_m + 0.6 * thing.height_m + 0.5 * arm * math.sin(angle),
            width_m=max(abs(arm * math.cos(angle)), ARM * thing.height_m),
            height_m=ARM * thing.height_m,
            depth_m=0.0,
        )
    if column.axis in CARRIES and not thing.speed_m_s:
        return replace(thing, x_m=thing.x_m + way / 1000.0 * plate.scale), None
    return thing, None
