"""What is decided for a whole production: shared by saving and by the database's own bounds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..schemas import Fields, LongText, Name, Within, edit_of, made_from


class ProductionFields(Fields):
    """What is decided for a whole production. `latitude_deg`, `longitude_deg` and `time_zone`:
    where it is filmed, for new rooms and yards; `lengths_in` and those below it: how numbers are
    written for whoever has not chosen otherwise."""

    name: Name
    story: LongText = ""
    delivery_width_px: Annotated[int, Within(16, 32768)] = 1920
    delivery_height_px: Annotated[int, Within(16, 32768)] = 1080
    playback_fps: Annotated[float, Within(1, 1000)] = 24.0
    put_away: bool = False
    latitude_deg: Annotated[float, Within(-90, 90)] | None = None
    longitude_deg: Annotated[float, Within(-180, 180)] | None = None
    time_zone: Annotated[str, Field(max_length=60)] = ""
    lengths_in: Literal["metric", "feet"] = "metric"
    light_in: Literal["lux", "footcandles"] = "lux"
    stops_in: Literal["decimal", "thirds"] = "decimal"
    shutter_in: Literal["angle", "time"] = "angle"


ProductionIn = made_from(ProductionFields, "ProductionIn")
ProductionEdit = edit_of(ProductionFields, "ProductionEdit")
