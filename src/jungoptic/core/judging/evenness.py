"""Is the screen lit evenly behind the action?"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import PlacedLamp
from ..screens.lit import lit_screen, screen_lamps, screen_spread
from ..stage.backing import backing
from ..stage.case import Case
from ..words.quantities import length, lux, stops
from .limits import EVEN_HOLDS, EVEN_STRAINS
from .rule import Rule
from .way import Way


def judge_evenness(case: Case) -> Finding | None:
    """Brightest over darkest of the screen behind the action."""
    lit = lit_screen(case)
    if lit is None:
        return None
    verdict = banded(lit.spread_stops, EVEN_HOLDS, EVEN_STRAINS)
    sentence = (
        f"Behind the action the screen varies by {stops(lit.spread_stops)} about "
        f"{lux(lit.level_lux)}"
        + (
            ": it keys as one colour."
            if verdict is Verdict.HOLDS
            else "; within ⅔ stop it keys as one colour."
        )
    )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="evenness = log₂(E brightest / E darkest), E = Σ I cosⁿα cosβ / d²",
                inputs=(
                    Quantity("w", "part behind the action, wide", lit.right_m - lit.left_m, "m"),
                    Quantity("h", "and high", lit.top_m - lit.bottom_m, "m"),
                    Quantity("E", "mean level", lit.level_lux, "lx"),
                ),
                result=Quantity("e", "evenness", lit.spread_stops, "stops"),
                source="Inverse square and cosine law; within a third of a stop either way is "
                "common practice.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """The lamps of the screen moved apart, back, up and down, the best of each."""
    own = screen_lamps(case)
    screen = backing(case)
    lit = lit_screen(case)
    if screen is None or lit is None:
        return []
    if not own:
        return [
            Way(
                "Aim two lamps of their own at the screen, one from each side, from the height of "
                "its middle.",
                effect="Then their places can be evened out here.",
                promises=Verdict.STRAINS,
            )
        ]
    centre = screen.centre_x_m
    lamps = case.plate.lamps

    def moved(
        change: Callable[[PlacedLamp], PlacedLamp], base: tuple[PlacedLamp, ...] = lamps
    ) -> tuple[PlacedLamp, ...]:
        return tuple(change(x) if i in own else x for i, x in enumerate(base))

    def apart_by(metres: float) -> Callable[[PlacedLamp], PlacedLamp]:
        def change(x: PlacedLamp) -> PlacedLamp:
            way = 1.0 if x.x_m >= centre else -1.0
            return replace(x, x_m=round(x.x_m + way * metres / 2.0, 2))

        return change

    def back_by(metres: float) -> Callable[[PlacedLamp], PlacedLamp]:
        return lambda x: replace(x, y_m=round(x.y_m - metres, 2))

    def at_height(x: PlacedLamp) -> PlacedLamp:
        middle = round((lit.bottom_m + lit.top_m) / 2.0, 2)
        return replace(x, z_m=middle, aim_z_m=middle)

    def aimed_across(x: PlacedLamp) -> PlacedLamp:
        # Each lamp at the far half: the near half gets light enough by being near.
        way = -1.0 if x.x_m >= centre else 1.0
        return replace(x, aim_x_m=round(centre + way * (lit.right_m - lit.left_m) / 4.0, 2))

    def mirrored(x: PlacedLamp) -> PlacedLamp:
        aim = x.aim_x_m
        return replace(
            x,
            x_m=round(2.0 * centre - x.x_m, 2),
            aim_x_m=None if aim is None else round(2.0 * centre - aim, 2),
        )

    # Every second lamp to the other side, aimed as before from there.
    shared = tuple(mirrored(x) if i in own[1::2] else x for i, x in enumerate(lamps))
    groups: list[list[tuple[str, tuple[PlacedLamp, ...]]]] = [
        [
            *((f"{length(m)} farther apart", moved(apart_by(m))) for m in (0.4, 0.8, 1.2, 1.6)),
            *((f"{length(m)} closer together", moved(apart_by(-m))) for m in (0.4, 0.8, 1.2)),
        ],
        [(f"{length(m)} farther from the screen", moved(back_by(m))) for m in (0.3, 0.6, 1.0, 1.5)],
        [("at the height of its middle, aimed level", moved(at_height))],
        [
            ("shared out to both sides of it", shared),
            (
                "shared out to both sides of it, at the height of its middle",
                moved(at_height, shared),
            ),
        ],
        [("each aimed at the far half of it", moved(aimed_across))],
        [
            (
                f"{length(m)} farther from the screen and each aimed at its far half",
                moved(aimed_across, moved(back_by(m))),
            )
            for m in (0.5, 1.0, 1.5)
        ],
    ]

    def effect(spread: float) -> Callable[[Case], str]:
        return lambda _: f"Evenness {stops(lit.spread_stops)} → {stops(spread)}."

    found: list[Way] = []
    for group in groups:
        tries: list[tuple[float, str, tuple[PlacedLamp, ...]]] = []
        for words, changed in group:
            spread = screen_spread(case, changed)
            if spread is not None and spread < lit.spread_stops - 0.05:
                tries.append((spread, words, changed))
        if tries:
            spread, words, changed = min(tries, key=lambda t: t[0])
            found.append(Way(f"Lamps of the screen {words}.", {"lamps": changed}, effect(spread)))
    return found


RULE = Rule(
    key="evenness",
    title="Even screen",
    name="even screen",
    speak=judge_evenness,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
