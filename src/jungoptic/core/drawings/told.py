"""A stage's drawings as the story's picture has them: mirrored back, and laid in where post places
what was filmed."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array
from ..plan.placing import deeper_m
from ..stage.case import Case
from ..stage.told import to_story
from ..words.outlines import Outline, Path, Picture, Whisker
from .tone import Tone


@dataclass(frozen=True)
class Told:
    """What post does to a stage's picture: `there` (3, 3) takes its pixels to the story's, None
    where it is not in the picture; what it shows lies `deeper_m` farther away in the story."""

    there: Array | None
    deeper_m: float = 0.0
    placed: bool = False

    def path(self, path: Path) -> Path:
        """A line of pixels; none of what is not in the picture."""
        if self.there is None or not path:
            return ()
        at = np.asarray(path) @ self.there[:2, :2].T + self.there[:2, 2]
        return tuple((round(x, 1), round(y, 1)) for x, y in at.tolist())

    def paths(self, paths: tuple[Path, ...]) -> tuple[Path, ...]:
        """Lines of pixels."""
        return tuple(moved for path in paths if (moved := self.path(path)))

    def outlines(self, outlines: tuple[Outline, ...]) -> tuple[Outline, ...]:
        """The drawn lines of things."""
        return tuple(Outline(o.stand_in_id, self.paths(o.paths)) for o in outlines)

    def picture(self, picture: Picture) -> Picture:
        """Outlines and horizon; what is laid in has no horizon of its own."""
        horizon = picture.horizon
        if self.placed or horizon is None:
            return Picture(self.outlines(picture.outlines), None)
        return Picture(self.outlines(picture.outlines), (horizon[1], horizon[0]))

    def whisker(self, whisker: Whisker) -> Whisker:
        """A departure."""
        ends = (whisker.from_x_px, whisker.from_y_px), (whisker.to_x_px, whisker.to_y_px)
        (from_x, from_y), (to_x, to_y) = self.path(ends)
        return Whisker(whisker.name, from_x, from_y, to_x, to_y)

    def tones(self, tones: tuple[Tone, ...]) -> tuple[Tone, ...]:
        """Flat parts of the picture, as far away as the story has them."""
        if self.there is None:
            return ()
        grows = float(np.hypot(*self.there[:2, 0]))
        return tuple(
            replace(
                tone,
                paths=self.paths(tone.paths),
                far_m=tone.far_m + self.deeper_m,
                soft_px=(tone.soft_px[0] * grows, tone.soft_px[1] * grows),
            )
            for tone in tones
        )


def back_of(case: Case, part: float = 0.0) -> Told | None:
    """What post does to the picture of a stage after a part (0..1) of the screen time; None where
    it is shown as it is filmed."""
    placed = case.shot.placing is not None
    if not placed and not case.plate.flop:
        return None
    there = to_story(case, part)
    deeper = deeper_m(case.shot, part) if placed and there is not None else 0.0
    return Told(there, deeper, placed)


def told_tones(case: Case, tones: tuple[Tone, ...], part: float) -> tuple[Tone, ...]:
    """A plate's tones as the story's picture has them."""
    found = back_of(case, part)
    return tones if found is None else found.tones(tones)
