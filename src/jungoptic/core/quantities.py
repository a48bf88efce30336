"""The one way to say a quantity to a person on the Python side: sentences, the PDF, the CSV."""

from __future__ import annotations

import math


def length(metres: float) -> str:
    """`128 mm`, `1.536 m`, `31.4 m`: what a tape shows, to the millimetre where one can."""
    if not math.isfinite(metres):
        return "infinity" if metres > 0 else "unknown"
    size = abs(metres)
    if size < 0.9995:
        return f"{metres * 1000:.0f} mm" if size >= 0.0995 else f"{metres * 1000:.1f} mm"
    if size < 9.9995:
        return f"{metres:.3f} m"
    return f"{metres:.2f} m" if size < 100 else f"{metres:,.0f} m"


def pixels(value: float) -> str:
    """`3.4 px`, `1,843 px`."""
    if not math.isfinite(value):
        return "unknown"
    return f"{value:.1f} px" if abs(value) < 100 else f"{value:,.0f} px"


def stop(f_number: float) -> str:
    """`f/5.6`, `f/16`."""
    return f"f/{f_number:.3g}"


def lux(value: float) -> str:
    """`7,680 lx`, two to four figures."""
    if value >= 1000:
        return f"{round(value, -1):,.0f} lx"
    return f"{value:.0f} lx" if value >= 10 else f"{value:.2g} lx"


def stops(value: float) -> str:
    """`0.7 stops`, `1 stop`, always without a sign; say the direction in words."""
    shown = f"{abs(value):.1f}".removesuffix(".0")
    return f"{shown} stop" if shown == "1" else f"{shown} stops"


def degrees(value: float) -> str:
    """`-3.5°`."""
    return f"{value:.1f}°"


def rate(fps: float) -> str:
    """`83.1 fps`, `24 fps`."""
    return f"{fps:.2f}".rstrip("0").rstrip(".") + " fps"


def shutter(seconds: float) -> str:
    """`1/48 s`, `0.5 s`."""
    if seconds >= 0.4:
        return f"{seconds:.2g} s"
    fraction = 1.0 / seconds
    return f"1/{fraction:.0f} s" if fraction >= 10 else f"1/{fraction:.1f} s"


def seconds(value: float) -> str:
    """`4 s`, `13.9 s`, `0.35 s`."""
    shown = f"{value:.2f}" if value < 1 else f"{value:.1f}"
    return shown.rstrip("0").rstrip(".") + " s"


def scale(denominator: float) -> str:
    """`1:12`, `life size`."""
    return "life size" if denominator == 1 else f"1:{denominator:g}"


def percent(fraction: float) -> str:
    """`12 %`, `0.4 %`."""
    value = fraction * 100
    return f"{value:.0f} %" if abs(value) >= 10 else f"{value:.1f} %"
