"""What the crew reads off: shared by saving and by the database's own bounds."""

from __future__ import annotations

from typing import Annotated

from ..schemas import Fields, LongText, Within, edit_of, made_from


class TakeFields(Fields):
    """What the crew read off; null means "as planned"."""

    axis_height_m: Annotated[float, Within(0.001, 1000)] | None = None
    distance_m: Annotated[float, Within(0.01, 10_000)] | None = None
    tilt_deg: Annotated[float, Within(-89, 89)] | None = None
    focal_mm: Annotated[float, Within(1, 5000)] | None = None
    focus_tape_m: Annotated[float, Within(0.02, 10_000)] | None = None
    f_number: Annotated[float, Within(0.5, 256)] | None = None
    exposure_s: Annotated[float, Within(1e-6, 86_400)] | None = None
    iso: Annotated[float, Within(1, 1_000_000)] | None = None
    capture_fps: Annotated[float, Within(0.001, 100_000)] | None = None
    note: LongText = ""
    circled: bool = False


class TakeNumbered(TakeFields):
    """The same with the take's number, which follows from the order until somebody changes it."""

    number: Annotated[int, Within(1, 9999)]


class CardFields(Fields):
    """What is known of a card after it was issued: what the line of 100 mm on its printed board
    really measures."""

    ruler_mm: Annotated[float, Within(50, 200)] = 100.0


READINGS = tuple(n for n in TakeFields.model_fields if n not in {"note", "circled"})
TakeIn, TakeEdit = made_from(TakeFields, "TakeIn"), edit_of(TakeNumbered, "TakeEdit")
CardEdit = edit_of(CardFields, "CardEdit")
