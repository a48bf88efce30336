"""What balls that were traced in a picture say of the light."""

from __future__ import annotations

from collections.abc import Sequence

from numpy.typing import ArrayLike

from ..impossible import Impossible
from ..pictures.ball import Circle, chrome, grey
from .seen import ByBall, PickedBall


def by_balls(
    picture: ArrayLike, balls: Sequence[PickedBall], focal_widths: float
) -> tuple[ByBall, ...]:
    """What each ball says of the light in a `picture` (h, w, 3) as recorded; `focal_widths`: the
    pinhole distance in widths of it."""
    return tuple(_by_ball(picture, ball, focal_widths) for ball in balls)


def _by_ball(picture: ArrayLike, ball: PickedBall, focal_widths: float) -> ByBall:
    high, wide = getattr(picture, "shape", (0, 0))[:2]
    circle = Circle(ball.x * wide, ball.y * high, ball.radius * wide)
    try:
        if ball.kind == "chrome":
            return ByBall("chrome", chrome(picture, circle, focal_widths * wide))
        found = grey(picture, circle, focal_widths * wide)
    except Impossible as error:
        return ByBall(ball.kind, problem=str(error))
    lights = (found.key,) if found.fill is None else (found.key, found.fill)
    return ByBall("grey", lights, found.ratio_stops)
