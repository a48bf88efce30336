"""Every kind of long work there is."""

from __future__ import annotations

from typing import Any

from ..board.long_work import DUPLICATE
from ..calc.replan_api import REPLAN
from ..developed.work import DEVELOP, DRY_RUN, DRY_RUN_CLIP
from ..exchange.breakdown_pdf import BREAKDOWN
from ..lenses.work import LENS
from ..pictures.averages import AVERAGE
from ..pictures.frames import FRAME
from ..pictures.pairs import PAIR
from ..pictures.strips import STRIP
from ..pictures.work import CAMERA_AGAIN, LOOK_AT, MEASURE, SHOW
from ..rough.work import ROUGH, ROUGH_CLIP
from .work import Kind

KINDS: dict[str, Kind[Any]] = {
    kind.key: kind
    for kind in (
        BREAKDOWN,
        REPLAN,
        DUPLICATE,
        DEVELOP,
        DRY_RUN,
        DRY_RUN_CLIP,
        LOOK_AT,
        MEASURE,
        CAMERA_AGAIN,
        SHOW,
        STRIP,
        PAIR,
        FRAME,
        AVERAGE,
        LENS,
        ROUGH,
        ROUGH_CLIP,
    )
}
