"""The ways of moving a thing that nobody is seen to move."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ...plan.tricks import RigColour, RigKind


@dataclass(frozen=True)
class Kind:
    """One way. `diameter_mm` is the usual thickness of what shows (0: nothing does); it comes
    `from_` above, the side, ahead along the ground or a little above it, or stands `below`; `cover`
    is the part of the thing that it hides; `carries`: it holds the weight, `pulls`: it drags it;
    `shadow`: shadow and reflection stay those of the real thing; `only`: what it can do, where it
    cannot do everything."""

    key: RigKind
    name: str
    diameter_mm: float
    from_: Literal["above", "side", "ground", "ahead", "below", ""]
    cover: float
    carries: bool
    shadow: bool
    only: str
    note: str
    pulls: bool = False

    @property
    def loaded(self) -> bool:
        """Whether a line or a rod is asked to bear something; what a hand bears it feels."""
        return (self.carries or self.pulls) and self.key != "hand"


#: Usual sizes (common practice; a caliper says better).
KINDS: tuple[Kind, ...] = (
    Kind(
        "thread",
        "Thread",
        0.2,
        "above",
        0.0,
        True,
        True,
        "",
        "sways; catches light at a grazing angle",
    ),
    Kind("line", "Clear line", 0.35, "above", 0.0, True, True, "", "glints in a hard back light"),
    Kind(
        "rod",
        "Rod",
        6.0,
        "side",
        0.1,
        True,
        True,
        "",
        "steady; in the screen's colour before a screen, else painted out",
    ),
    Kind(
        "hand",
        "Hand in a sleeve",
        90.0,
        "side",
        0.25,
        True,
        False,
        "",
        "moves it most naturally",
    ),
    Kind(
        "magnet",
        "Magnet under the table",
        0.0,
        "",
        0.0,
        False,
        True,
        "on the table top",
        "thin table without iron; the thing slides, it does not rise or spin",
    ),
    Kind(
        "turntable",
        "Turntable",
        0.0,
        "",
        0.0,
        False,
        True,
        "turning on the spot",
        "hidden below the thing or its cloth",
    ),
    Kind(
        "sled",
        "Sled on a pulled line",
        0.35,
        "ground",
        0.0,
        False,
        True,
        "along the ground",
        "the line lies on the ground and is hidden by it",
    ),
    Kind(
        "pull",
        "Pull thread",
        0.2,
        "ahead",
        0.0,
        False,
        True,
        "along what it stands on",
        "tied a quarter of the way up, so that the thing slides and does not tip",
        pulls=True,
    ),
    Kind(
        "mirror",
        "Upright mirror below it",
        3.0,
        "below",
        0.0,
        False,
        True,
        "staying where it is, a little above what is below it",
        "a stand hides behind it; it shows what is beside, which has to look as what is behind",
    ),
)
BY_KIND: Mapping[RigKind, Kind] = {kind.key: kind for kind in KINDS}
#: How strongly what shows stands off what is behind it, 0..1 (judgement; look at a still).
CONTRAST: Mapping[RigColour, float] = {"plain": 1.0, "matched": 0.2, "clear": 0.35}
COLOURS: Mapping[RigColour, str] = {
    "plain": "plain",
    "matched": "in the tone of what is behind it",
    "clear": "clear",
}
