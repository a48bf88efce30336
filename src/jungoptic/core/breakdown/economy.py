"""The economy rules of the trade, spoken with the numbers of the shot (common practice)."""

from __future__ import annotations

from dataclasses import dataclass

from ..impossible import Impossible
from ..plan.shot import Shot
from ..stage.coverage import coverage
from ..words.quantities import length
from .advisor import Facts
from .recipes.model import Recipe

#: An effect longer than this is looked at closely (judgement).
BRIEF_S = 5.0


@dataclass(frozen=True)
class Advice:
    """One rule, said for this shot."""

    key: str
    sentence: str


def economy(shot: Shot, facts: Facts, recipe: Recipe | None = None) -> tuple[Advice, ...]:
    """What saves work here. Distances and sizes come from the shot's own camera and stand-ins."""
    found = []
    if facts.seen_again > 1:
        found.append(
            Advice(
                "whole-once",
                f"This is seen in {facts.seen_again} shots: show the whole set in one of them and "
                "stay close in the rest; only that one needs all of it.",
            )
        )
        found.append(
            Advice(
                "move-rocks",
                "Move three rocks between shots rather than build twenty: what was on the left "
                "dresses the right next time, at another angle.",
            )
        )
    found += _coverage(shot)
    if recipe is not None and recipe.reusable:
        found.append(
            Advice(
                "film-once",
                f"{recipe.name}: film its elements once, longer and from two heights, and keep "
                "them for other shots.",
            )
        )
    limit = BRIEF_S if recipe is None or recipe.longest_s is None else recipe.longest_s
    if facts.seconds > limit:
        found.append(
            Advice(
                "brief",
                f"{facts.seconds:g} s is long for an effect: show it for {limit:g} s and cut to a "
                "face for the rest.",
            )
        )
    if recipe is not None and any(p.work.cut in {"split", "roto"} for p in recipe.passes):
        found.append(
            Advice(
                "hide-join",
                "Plan where the join hides: behind a whip of the camera, a body that wipes the "
                "frame, motion blur, or smoke.",
            )
        )
    return tuple(found)


def _coverage(shot: Shot) -> list[Advice]:
    """How much of each distance the lens sees: no more than that is built."""
    ahead = sorted({round(s.y_m, 1): s for s in shot.stand_ins if s.kind != "ground"}.items())
    if not ahead:
        return []
    camera = shot.world.camera(shot.delivery)
    words = []
    for distance, stand_in in (ahead[0], ahead[-1])[: len(ahead)]:
        if distance <= 0:
            continue
        try:
            seen = coverage(camera, distance)
        except Impossible:
            continue
        words.append(
            f"at the {stand_in.name} ({length(distance)}) {length(seen.width_m)} wide, up to "
            f"{length(max(seen.top_m, 0.0))} high"
        )
    if not words:
        return []
    return [
        Advice(
            "only-what-is-seen",
            f"Build only what the lens covers: {'; '.join(dict.fromkeys(words))}.",
        )
    ]
