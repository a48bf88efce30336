"""How much of a sensor a delivered picture takes: what the story's camera is given by a format."""

from __future__ import annotations

from .world import Delivery

#: The sensor that a new shot begins with, 16 by 9, millimetres (common practice: Super 35).
USUAL_WIDTH_MM = 24.9
#: No story's camera has a narrower one, however narrow its picture is.
LEAST_WIDTH_MM = 1.0


def width_used_mm(sensor_width_mm: float, sensor_height_mm: float, delivery: Delivery) -> float:
    """How wide the largest part of a sensor is that has the shape of the delivered picture. For a
    picture that is higher than wide the camera may lie on its side."""
    aspect = delivery.aspect
    level = min(sensor_width_mm, sensor_height_mm * aspect)
    if aspect >= 1.0:
        return level
    return max(level, min(sensor_height_mm, sensor_width_mm * aspect))


def usual_width_mm(delivery: Delivery) -> float:
    """Sensor width of the story's camera in a new shot, to hundredths of a millimetre."""
    used = width_used_mm(USUAL_WIDTH_MM, USUAL_WIDTH_MM * 9.0 / 16.0, delivery)
    return round(max(used, LEAST_WIDTH_MM), 2)
