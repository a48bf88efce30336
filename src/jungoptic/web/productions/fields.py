"""What is decided for a whole production: shared by saving and by the database's own bounds."""

from __future__ import annotations

from ..schemas import Fields, LongText, Name, edit_of, made_from, whole
from ..schemas import number as bounded


class ProductionFields(Fields):
    """What is decided for a whole production."""

    name: Name
    story: LongText = ""
    delivery_width_px: whole(16, 32768) = 1920
    delivery_height_px: whole(16, 32768) = 1080
    playback_fps: bounded(1, 1000) = 24.0


ProductionIn = made_from(ProductionFields, "ProductionIn")
ProductionEdit = edit_of(ProductionFields, "ProductionEdit")
