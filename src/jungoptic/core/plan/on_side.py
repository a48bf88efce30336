"""A camera on its side: its sensor stands, and its rows run up the picture."""

from __future__ import annotations

from dataclasses import replace

from .kit import Body, Mode
from .plate import OnSide, Plate


def turned(mode: Mode) -> Mode:
    """A mode as a camera on its side records: what was wide is high."""
    return replace(
        mode,
        name=f"{mode.name}, on its side",
        sensor_width_mm=mode.sensor_height_mm,
        sensor_height_mm=mode.sensor_width_mm,
        width_px=mode.height_px,
        height_px=mode.width_px,
    )


def mode_for(plate: Plate, mode: Mode) -> Mode:
    """A mode as the camera of a plate records with it."""
    return turned(mode) if plate.on_side else mode


def modes_for(plate: Plate, body: Body) -> tuple[Mode, ...]:
    """The modes of a body as the camera of a plate records with them."""
    return tuple(mode_for(plate, m) for m in body.modes)


def in_picture(on_side: OnSide, right: float, down: float) -> tuple[float, float]:
    """How far right and down in the upright picture something lies that is so far right and down on
    the sensor as the camera writes it. With its left side down the right of the sensor is up."""
    if on_side == "left":
        return down, -right
    if on_side == "right":
        return -down, right
    return right, down
