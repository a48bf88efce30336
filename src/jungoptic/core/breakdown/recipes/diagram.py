"""A recipe drawn to scale: the stage of each of its passes, from above and from the side.

The same drawings as on the Bench, of an example camera with a lens that matches exactly.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from ...drawings.stage.above import plan
from ...drawings.stage.elevation import elevation
from ...plan.kit import Body, Kit, Lens, Mode
from ...plan.plate import Plate
from ...plan.shot import Shot
from ...plan.world import Delivery, WorldCamera
from ...stage.case import Case
from ...words.drawing import Drawing, share_distances
from .apply import fill
from .model import Recipe

#: An example camera of no maker: a super 35 sensor and a zoom that reaches every angle of view.
EXAMPLE_KIT = Kit(
    bodies=(
        Body(
            "body",
            "example body",
            90.0,
            44.0,
            (Mode("mode", "example", 24.9, 14.0, 4096, 2304, 1.0, 240.0, 800.0, 100.0, 12800.0),),
        ),
    ),
    lenses=(Lens("lens", "example lens", 8.0, 400.0, 1.4, 32.0, 0.1, length_mm=80.0),),
)


#: The dimensions that a diagram keeps, by how their words begin.
KEPT = ("axis height", "sensor mark")


@dataclass(frozen=True)
class PassDrawing:
    """One pass, drawn."""

    pass_key: str
    name: str
    elevation: Drawing
    plan: Drawing


@lru_cache(maxsize=256)
def drawings(recipe_key: str) -> tuple[PassDrawing, ...]:
    """The drawings of a recipe of the book, kept: they never change. KeyError if there is none."""
    from . import BY_KEY

    return draw_recipe(BY_KEY[recipe_key])


def draw_recipe(recipe: Recipe) -> tuple[PassDrawing, ...]:
    """The passes of `recipe` that have something in front of the lens, in filming order."""
    shot = Shot(
        delivery=Delivery(1920, 1080, 24.0),
        world=WorldCamera(24.9, 35.0, 1.5, 0.0),
        kit=EXAMPLE_KIT,
    )
    found = []
    for new in fill(shot, recipe, [p.key for p in recipe.passes]):
        if not any(s.kind != "ground" for s in new.stand_ins):
            continue
        known = {k: v for k, v in new.fields.items() if k in Plate.__dataclass_fields__}
        plate = Plate(id=new.recipe_pass.key, **known)
        filled = Shot(shot.delivery, shot.world, 4.0, None, new.stand_ins, (plate,), EXAMPLE_KIT)
        case = Case.of(filled, plate)
        if case is not None:
            side, above = share_distances(elevation(case), plan(case))
            # A small diagram: where the camera stands is enough, sizes belong to the real shot.
            kept = tuple(d for d in side.dimensions if d.label.startswith(KEPT))
            side = replace(side, dimensions=kept)
            found.append(PassDrawing(new.recipe_pass.key, new.recipe_pass.name, side, above))
    return tuple(found)
