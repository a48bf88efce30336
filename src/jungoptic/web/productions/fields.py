"""What is decided for a whole production: shared by saving and by the database's own bounds."""

from __future__ import annotations

from typing import Annotated

from ..schemas import Fields, LongText, Name, Within, edit_of, made_from


class ProductionFields(Fields):
    """What is decided for a whole production."""

    name: Name
    story: LongText = ""
    delivery_width_px: Annotated[int, Within(16, 32768)] = 1920
    delivery_height_px: Annotated[int, Within(16, 32768)] = 1080
    playback_fps: Annotated[float, Within(1, 1000)] = 24.0
    put_away: bool = False


ProductionIn = made_from(ProductionFields, "ProductionIn")
ProductionEdit = edit_of(ProductionFields, "ProductionEdit")
