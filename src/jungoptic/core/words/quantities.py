"""The one way to say a quantity to a person on the Python side: sentences, the PDF, the CSV.

The numbers themselves are SI everywhere. `written_in` chooses the notation for what is worded
inside its block, and for that block only: a crew that works in feet reads feet.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Literal

METRES_PER_INCH = 0.0254
#: One lumen on a square foot, in lux: 1 / 0.3048^2.
LUX_PER_FOOTCANDLE = 1.0 / 0.3048**2
#: Full stops as engraved; their true values are powers of the square root of two.
ENGRAVED = ("1", "1.4", "2", "2.8", "4", "5.6", "8", "11", "16", "22", "32", "45", "64")
THIRDS = ("", "\u2153", "\u2154")


@dataclass(frozen=True)
class Notation:
    """How quantities are written: metres or feet and inches, lux or foot-candles, stops as
    decimals or in thirds."""

    length: Literal["metric", "feet"] = "metric"
    light: Literal["lux", "footcandles"] = "lux"
    stop: Literal["decimal", "thirds"] = "decimal"


METRIC = Notation()
_notation: ContextVar[Notation] = ContextVar("notation", default=METRIC)


@contextmanager
def written_in(notation: Notation) -> Iterator[None]:
    """Word everything inside the block in this notation."""
    token = _notation.set(notation)
    try:
        yield
    finally:
        _notation.reset(token)


def feet(metres: float) -> str:
    """`5' 6 1/2"`, `7/8"`: what a tape in inches shows, to a sixteenth, under a foot to a
    thirty-second, and from a hundred feet on to the foot."""
    inches = abs(metres) / METRES_PER_INCH
    sign = "-" if metres < 0 else ""
    if inches >= 1200.0:
        return f"{sign}{inches / 12.0:,.0f}'"
    if inches < 1.0 / 32.0:
        return f'{sign}{inches:.2g}"' if inches else '0"'
    parts = 16 if inches >= 12.0 else 32
    whole, part = divmod(round(inches * parts), parts)
    foot, inch = divmod(whole, 12)
    shown = []
    if inch or not (foot or part):
        shown.append(f"{inch}")
    if part:
        common = math.gcd(part, parts)
        shown.append(f"{part // common}/{parts // common}")
    tail = " ".join(shown) + '"' if shown else ""
    return sign + (f"{foot}' {tail}".rstrip() if foot else tail)


def length(metres: float) -> str:
    """`128 mm`, `1.536 m`, `31.4 m`: what a tape shows, to the millimetre where one can."""
    if not math.isfinite(metres):
        return "infinity" if metres > 0 else "unknown"
    if _notation.get().length == "feet":
        return feet(metres)
    size = abs(metres)
    if size < 0.9995:
        return f"{metres * 1000:.0f} mm" if size >= 0.0995 else f"{metres * 1000:.1f} mm"
    if size < 9.9995:
        return f"{metres:.3f} m"
    return f"{metres:.2f} m" if size < 100 else f"{metres:,.0f} m"


def about(metres: float) -> str:
    """`2 m`, `0.85 m`, `6' 7"`: a distance that nobody tapes, to two figures."""
    if _notation.get().length == "feet":
        return feet(round(metres / METRES_PER_INCH) * METRES_PER_INCH)
    return f"{metres:,.0f} m" if metres >= 10 else f"{metres:.2g} m"


def pixels(value: float) -> str:
    """`3.4 px`, `1,843 px`."""
    if not math.isfinite(value):
        return "unknown"
    return f"{value:.1f} px" if abs(value) < 100 else f"{value:,.0f} px"


def stop(f_number: float) -> str:
    """`f/5.6`, `f/16`; in thirds `f/5.6\u2153`, where the stop is a third within a twelfth."""
    if _notation.get().stop == "thirds" and 0.95 < f_number < 66.0:
        exact = 6.0 * math.log2(f_number)
        nearest = round(exact)
        full, third = divmod(nearest, 3)
        # The engraved numbers are rounded, so they lie a little off the true thirds.
        if abs(exact - nearest) <= 0.25 and 0 <= full < len(ENGRAVED):
            return f"f/{ENGRAVED[full]}{THIRDS[third]}"
    return f"f/{f_number:.3g}"


def lux(value: float) -> str:
    """`7,680 lx`, two to four figures; in foot-candles `714 fc`."""
    if _notation.get().light == "footcandles":
        candles = value / LUX_PER_FOOTCANDLE
        return f"{candles:,.0f} fc" if candles >= 10 else f"{candles:.2g} fc"
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
