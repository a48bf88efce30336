"""The way without a trick, so that every trick is compared with it."""

from __future__ import annotations

from ...cost.work import Work
from .model import Pass, Recipe, clean, performer

RECIPES: tuple[Recipe, ...] = (
    Recipe(
        key="as-it-is",
        name="As it is",
        family="plain",
        effect="Filmed in one piece, where it happens.",
        suits=("It can be done safely, and the place can be had.",),
        avoid=("Fire, deep water, height, traffic or an unwilling animal near people.",),
        passes=(
            Pass(
                "take",
                "The take",
                "What happens, in front of the lens.",
                "live",
                lock="a",
                things=(performer("Performer", 0.0, 1.0),),
                work=Work(takes=5),
            ),
            clean(required=False, why="Costs half a minute and mends what nobody foresaw."),
        ),
        right=("Nothing to match.",),
        betrays=("Nothing, if it is safe.",),
        post=("Grade",),
        shows=frozenset(
            {"performer", "vehicle", "fire", "water", "smoke", "animal", "height", "impact"}
            | {"weather", "picture", "night"}
        ),
        camera=frozenset({"locked", "moving"}),
        people=2,
        risk=1,
        risk_why="everything must go well in the same moment",
    ),
)
