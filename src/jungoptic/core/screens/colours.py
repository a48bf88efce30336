"""Which screen for which colours: how far apart they lie to the eye and to the codec."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, TypeVar

from ..camera import Array
from ..plan.plate import ScreenColour, Swatch, SwatchKind

Rgb = tuple[float, float, float]
T = TypeVar("T", float, Array)
#: How usual screens look when lit, sRGB 0..255 (judgement: paint and cloth differ; pick your own).
SCREENS: dict[ScreenColour, tuple[int, int, int]] = {
    "green": (40, 170, 70),
    "blue": (35, 70, 170),
    "black": (14, 14, 15),
    "white": (236, 236, 234),
    "sky": (205, 210, 214),
    "red": (175, 40, 40),
}
NAMES: dict[ScreenColour, str] = {
    "green": "green screen",
    "blue": "blue screen",
    "black": "black cloth",
    "white": "white wall or snow",
    "sky": "overcast sky",
    "red": "red screen",
}
#: Keyed by colour, or by brightness.
BY_COLOUR = frozenset({"green", "blue", "red"})
#: Separation in CIELAB, and in the colour plane that a codec keeps, that keys cleanly, and that
#: still keys with work (judgement).
LAB_CLEAN, LAB_HARD = 50.0, 30.0
CHROMA_CLEAN, CHROMA_HARD = 0.22, 0.12
#: CIE 1931 2 degree observer, D65 (CIE 15, IEC 61966-2-1).
WHITE = (0.95047, 1.0, 1.08883)


def linear(value: float) -> float:
    """sRGB 0..1 to linear light (IEC 61966-2-1)."""
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4


def lab(rgb: Rgb) -> Rgb:
    """CIELAB (L*, a*, b*) of sRGB 0..255 under D65. Source: CIE 15; primaries IEC 61966-2-1."""
    r, g, b = (linear(min(max(v, 0.0), 255.0) / 255.0) for v in rgb)
    x = 0.4124 * r + 0.3576 * g + 0.1805 * b
    y = 0.2126 * r + 0.7152 * g + 0.0722 * b
    z = 0.0193 * r + 0.1192 * g + 0.9505 * b

    def f(t: float) -> float:
        return t ** (1 / 3) if t > (6 / 29) ** 3 else t / (3 * (6 / 29) ** 2) + 4 / 29

    fx, fy, fz = (f(v / w) for v, w in zip((x, y, z), WHITE, strict=True))
    return 116.0 * fy - 16.0, 500.0 * (fx - fy), 200.0 * (fy - fz)


Matrix = Literal["709", "601"]
#: Kr and Kb of each standard (ITU-R BT.709, BT.601).
LUMA: dict[Matrix, tuple[float, float]] = {"709": (0.2126, 0.0722), "601": (0.299, 0.114)}


def ycbcr(rgb: tuple[T, T, T], matrix: Matrix = "709") -> tuple[T, T, T]:
    """Y' 0..1, Cb and Cr -0.5..0.5 of R'G'B' 0..255, numbers or whole planes. Source: ITU-R BT.709
    and BT.601."""
    kr, kb = LUMA[matrix]
    r, g, b = (v / 255.0 for v in rgb)
    y = kr * r + (1.0 - kr - kb) * g + kb * b
    return y, (b - y) / (2.0 * (1.0 - kb)), (r - y) / (2.0 * (1.0 - kr))


@dataclass(frozen=True)
class Separation:
    """One swatch against one screen: `lab` is Delta E*ab, `chroma` the distance in Cb and Cr,
    `luma` in Y'. `score` is 1 where it keys cleanly, 0 where it does not; `why` warns."""

    swatch: str
    kind: SwatchKind
    lab: float
    chroma: float
    luma: float
    score: float
    why: str


@dataclass(frozen=True)
class ScreenChoice:
    """One screen, as it looks when lit (`rgb`), for all the swatches, worst first; `score` is that
    of the worst."""

    screen: ScreenColour
    name: str
    rgb: tuple[int, int, int]
    score: float
    reason: str
    apart: tuple[Separation, ...]


def _ramp(value: float, hard: float, clean: float) -> float:
    return min(max((value - hard / 2.0) / (clean - hard / 2.0), 0.0), 1.0)


@lru_cache(maxsize=1024)
def separation(swatch: Swatch, screen: ScreenColour, rgb: Rgb | None = None) -> Separation:
    """How a swatch separates from a screen (`rgb`: as that screen really looks). By colour: the
    worse of the eye's and the codec's distance. By brightness: the distance in luma."""
    own = (float(swatch.red), float(swatch.green), float(swatch.blue))
    against: Rgb = SCREENS[screen] if rgb is None else rgb
    one, other = lab(own), lab(against)
    y, cb, cr = (a - b for a, b in zip(ycbcr(own), ycbcr(against), strict=True))
    delta, chroma, luma = math.dist(one, other), math.hypot(cb, cr), abs(y)
    why = ""
    if screen in BY_COLOUR:
        score = min(_ramp(delta, LAB_HARD, LAB_CLEAN), _ramp(chroma, CHROMA_HARD, CHROMA_CLEAN))
        if score < 0.99:
            why = f"{swatch.name} lies near the {NAMES[screen]} in colour"
    else:
        score = _ramp(luma, 0.25, 0.45)
        if score < 0.99:
            why = f"{swatch.name} is nearly as {'dark' if screen == 'black' else 'bright'} as the "
            why += NAMES[screen]
    return _of_its_kind(
        Separation(swatch.name, swatch.kind, delta, chroma, luma, score, why), screen
    )


#: What a kind of thing does to a key, whatever its colour: most that its score can be, and why
#: (common practice).
KIND_RULES: dict[SwatchKind, dict[str, tuple[float, str]]] = {
    "smoke": {
        "colour": (0.3, "smoke takes the screen's colour through itself; film it over black"),
    },
    "flame": {
        "colour": (0.3, "flame shines through itself; film it over black"),
        "bright": (0.1, "flame is lost before something bright"),
    },
    "glass": {
        "colour": (0.5, "glass shows the screen through itself and in its edges"),
    },
    "metal": {
        "colour": (0.6, "polished metal mirrors the screen: dull it, or turn it"),
    },
    "foliage": {},
    "hair": {"bright": (0.7, "fine hair burns out before something bright")},
}


def _of_its_kind(found: Separation, screen: ScreenColour) -> Separation:
    way = "colour" if screen in BY_COLOUR else "dark" if screen == "black" else "bright"
    rule = KIND_RULES.get(found.kind, {}).get(way)
    if rule is None or found.score <= rule[0]:
        return found
    return Separation(
        found.swatch,
        found.kind,
        found.lab,
        found.chroma,
        found.luma,
        rule[0],
        f"{found.swatch}: {rule[1]}",
    )


def choose(swatches: Sequence[Swatch]) -> tuple[ScreenChoice, ...]:
    """Every screen for these colours, best first: the one whose worst swatch separates best. A
    colour screen wins over one by brightness where both do, since shadows and folds do not matter
    to it. Empty without swatches."""
    if not swatches:
        return ()
    found = []
    for screen, name in NAMES.items():
        each = tuple(
            sorted((separation(s, screen) for s in swatches), key=lambda a: (a.score, a.lab))
        )
        worst = each[0]
        reason = worst.why or (
            f"the nearest colour is {worst.swatch}, {worst.lab:.0f} ΔE away: it keys cleanly"
        )
        found.append(ScreenChoice(screen, name, SCREENS[screen], worst.score, reason, each))
    order = list(NAMES)
    return tuple(
        sorted(
            found,
            key=lambda c: (
                -round(c.score, 1),
                c.screen not in BY_COLOUR,
                # Red light on skin is the hardest spill to take out (common practice).
                c.screen == "red",
                -_slack(c),
                order.index(c.screen),
            ),
        )
    )


def _slack(choice: ScreenChoice) -> float:
    """How far the nearest swatch lies, where all key cleanly."""
    if choice.screen in BY_COLOUR:
        return min(a.chroma for a in choice.apart)
    return min(a.luma for a in choice.apart)
