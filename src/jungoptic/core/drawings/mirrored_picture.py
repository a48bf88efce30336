"""A mirrored plate's picture as post mirrors it back."""

from __future__ import annotations

from dataclasses import replace

from ..words.outlines import Outline, Picture, Whisker


def picture_back(picture: Picture, width_px: float) -> Picture:
    """What a mirrored plate shows once post has mirrored it again."""
    horizon = picture.horizon
    return Picture(
        outlines_back(picture.outlines, width_px),
        None if horizon is None else (horizon[1], horizon[0]),
    )


def outlines_back(outlines: tuple[Outline, ...], width_px: float) -> tuple[Outline, ...]:
    """Outlines with left and right exchanged."""
    return tuple(
        Outline(o.stand_in_id, tuple(path_back(path, width_px) for path in o.paths))
        for o in outlines
    )


def path_back(
    path: tuple[tuple[float, float], ...], width_px: float
) -> tuple[tuple[float, float], ...]:
    """A path of pixels with left and right exchanged."""
    return tuple((round(width_px - x, 1), y) for x, y in path)


def whisker_back(whisker: Whisker, width_px: float) -> Whisker:
    """A departure with left and right exchanged."""
    return replace(
        whisker, from_x_px=width_px - whisker.from_x_px, to_x_px=width_px - whisker.to_x_px
    )
