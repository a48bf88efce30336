"""The recipe book: ways of building a shot, as data, and its reader.

The files hold the recipes family by family; `model` says what one is; `apply` turns one into plates
of a shot; `diagram` draws it to scale. All of it is trade knowledge (common practice) unless a line
names a source.
"""

from __future__ import annotations

from dataclasses import replace

from ...cost.work import CUTS, Cut, Work
from . import doubles, elements, frames, objects, performers, plain, poses, sets, views
from .model import FAMILIES, REFERENCES, Pass, Recipe, Thing
from .said import SAID

_WRITTEN: tuple[Recipe, ...] = (
    *plain.RECIPES,
    *sets.RECIPES,
    *views.RECIPES,
    *doubles.RECIPES,
    *performers.RECIPES,
    *poses.RECIPES,
    *objects.RECIPES,
    *elements.RECIPES,
    *frames.RECIPES,
)
BOOK = tuple(replace(recipe, said=SAID.get(recipe.key, "")) for recipe in _WRITTEN)
BY_KEY = {recipe.key: recipe for recipe in BOOK}

__all__ = [
    "BOOK",
    "BY_KEY",
    "CUTS",
    "FAMILIES",
    "REFERENCES",
    "Cut",
    "Pass",
    "Recipe",
    "Thing",
    "Work",
    "find",
]


def find(words: str, book: tuple[Recipe, ...] = BOOK) -> tuple[Recipe, ...]:
    """Recipes that contain every one of `words` somewhere in their text; all for no words.

    Hits in the name or the effect come first.
    """
    wanted = words.lower().split()

    def text(recipe: Recipe) -> str:
        parts = [recipe.key, recipe.name, recipe.effect, recipe.said]
        parts += [*recipe.suits, *recipe.avoid]
        parts += [*recipe.right, *recipe.betrays, *recipe.post, *recipe.shows, *recipe.needs]
        parts += [w for p in recipe.passes for w in (p.name, p.why)]
        return " ".join(parts).lower()

    found = [r for r in book if all(w in text(r) for w in wanted)]
    return tuple(
        sorted(found, key=lambda r: not all(w in f"{r.name} {r.effect}".lower() for w in wanted))
    )
