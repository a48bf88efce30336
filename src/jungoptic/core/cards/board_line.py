"""How a card says where its board is held up."""

from __future__ import annotations

from ..board.placed import Placed, place
from ..board.seen import WELL_PX_PER_MM
from ..stage.at_mark import camera_at_mark
from ..stage.case import Case
from ..words import quantities as say


def board_place(case: Case) -> Placed | None:
    """Where a plate's board is held up; None where its camera cannot see it whole on the mark."""
    camera, mode = camera_at_mark(case), case.choice.mode
    return None if camera is None else place(camera, mode.width_px, mode.height_px)


def board_says(placed: Placed | None) -> str:
    """The same in a sentence."""
    if placed is None:
        return (
            "No board on the mark is seen whole by this camera: there is no mark, or it is out of "
            "frame or too near. Held up anywhere, it still says which card the clip is of."
        )
    if placed.way == "lying":
        how = "flat on the mark, its lower edge towards the camera"
    elif placed.up_m == 0.0:
        how = "upright on the mark, square to the camera"
    else:
        how = (
            f"upright over the mark on something {say.length(placed.up_m)} high, square to the "
            "camera"
        )
    rough = placed.way == "standing" and placed.fineness < WELL_PX_PER_MM
    far = " It is far away: what it tells of the camera will be rough." if rough else ""
    return f"{placed.paper}, {how}.{far}"
