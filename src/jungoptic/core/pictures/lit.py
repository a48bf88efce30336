"""Light as it is read off a picture."""

from __future__ import annotations

from dataclasses import dataclass

#: Right, down and ahead of the camera.
Direction = tuple[float, float, float]


@dataclass(frozen=True)
class Light:
    """A light as a ball shows it: the unit vector towards it (right, down, ahead of the camera),
    give or take `off_deg` in nine cases of ten; how wide it is, or with `at_most` no wider, None
    where a ball does not tell; how far it lies under the brightest by what it throws on the ball,
    None where the recording was burnt out."""

    towards: Direction
    off_deg: float
    size_deg: float | None = None
    at_most: bool = False
    stops: float | None = 0.0
