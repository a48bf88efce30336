"""Is the screen lit for a key: evenly, at the right level, without spill or shadows?"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..camera import Array
from ..findings import Change, Finding, Quantity, Remedy, Verdict, Working, banded
from ..keying.colours import NAMES
from ..keying.screen_light import (
    REFLECTANCE,
    ScreenLight,
    ScreenShadow,
    screen_light,
    screen_shadows,
    spill_lux,
)
from ..lighting.sources import Source, sources_of
from ..lighting.stage_light import lights_screen
from ..plan import PlacedLamp
from ..quantities import length, lux, percent, stops
from ..standins import outlines
from .backing import backing
from .case import Case, remedy, sentence_of, sought
from .key_light import with_lamp
from .lit import lighting, screen_y_m

#: Within plus and minus a third of a stop behind the action (common practice); twice that strains.
EVEN_HOLDS = 2.0 / 3.0
EVEN_STRAINS = 4.0 / 3.0
#: The screen lies as bright as the key or up to a stop under it (common practice).
LEVEL_LOW, LEVEL_HIGH = -1.0, 0.0
LEVEL_STRAINS = 0.7
#: Spill on an edge as a part of the key (judgement: four and three stops under).
SPILL_HOLDS = 1.0 / 16.0
SPILL_STRAINS = 1.0 / 8.0
#: A shadow on the screen, stops darker (judgement).
SHADOW_HOLDS = 1.0 / 3.0
SHADOW_STRAINS = 1.0


def sources(case: Case) -> tuple[Source, ...]:
    """The lamps of the stage, coarsely: the screen is large and far."""
    return case.once("sources", lambda: sources_of(case.shot, case.plate, fine=False))


def lit_screen(case: Case) -> ScreenLight | None:
    """Light on the screen behind the action; None without screen or lamps."""

    def make() -> ScreenLight | None:
        screen = backing(case)
        if screen is None or not case.plate.lamps or case.plate.screen_colour == "sky":
            return None
        return screen_light(sources(case), case.plate, screen)

    return case.once("lit screen", make)


def screen_lamps(case: Case) -> list[int]:
    """Numbers of the lamps aimed at the screen."""
    y = screen_y_m(case)
    return [i for i in range(len(case.plate.lamps)) if lights_screen(case.plate, i, y)]


# --- evenness ----------------------------------------------------------------------------------


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
    return Finding(
        key="evenness",
        title="Even screen",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="evenness = log₂(E brightest / E darkest), E = Σ I cosⁿα cosβ / d²",
                inputs=(
                    Quantity("w", "part behind the action, wide", lit.right_m - lit.left_m, "m"),
                    Quantity("h", "and high", lit.top_m, "m"),
                    Quantity("E", "mean level", lit.level_lux, "lx"),
                ),
                result=Quantity("e", "evenness", lit.spread_stops, "stops"),
                source="Inverse square and cosine law; within a third of a stop either way is "
                "common practice.",
            ),
        ),
        remedies=sought(case, verdict, lambda: _evener(case, verdict)),
    )


def _evener(case: Case, before: Verdict) -> list[Remedy | None]:
    """The lamps of the screen moved apart, back, up and down, the best of each."""
    own = screen_lamps(case)
    screen = backing(case)
    lit = lit_screen(case)
    if screen is None or lit is None:
        return []
    if not own:
        return [
            Remedy(
                "Aim two lamps of their own at the screen, one from each side, from the height of "
                "its middle.",
                "Then their places can be evened out here.",
                Verdict.STRAINS,
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
        middle = round(lit.top_m / 2.0, 2)
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

    found: list[Remedy | None] = []
    for group in groups:
        tries: list[tuple[float, str, tuple[PlacedLamp, ...]]] = []
        for words, changed in group:
            spread = screen_spread(case, changed)
            if spread is not None and spread < lit.spread_stops - 0.05:
                tries.append((spread, words, changed))
        if tries:
            spread, words, changed = min(tries, key=lambda t: t[0])
            found.append(
                remedy(
                    case,
                    judge_evenness,
                    before,
                    {"lamps": changed},
                    f"Lamps of the screen {words}.",
                    effect(spread),
                )
            )
    return found


def screen_spread(case: Case, lamps: tuple[PlacedLamp, ...]) -> float | None:
    """Evenness in stops with other lamps, without deriving the stage anew."""
    screen = backing(case)
    plate = replace(case.plate, lamps=lamps)
    if screen is None:
        return None
    lit = screen_light(sources_of(case.shot, plate, fine=False), plate, screen)
    return None if lit is None else lit.spread_stops


# --- level -------------------------------------------------------------------------------------


def judge_screen_level(case: Case) -> Finding | None:
    """Brightness of the screen against the key on the action."""
    lit, light = lit_screen(case), lighting(case)
    if lit is None or light is None or light.lux <= 0.0 or case.plate.screen_colour == "black":
        return None
    over = math.log2(lit.level_lux / light.lux)
    off = max(LEVEL_LOW - over, over - LEVEL_HIGH, 0.0)
    verdict = banded(off, 1e-9, LEVEL_STRAINS)
    side = "under" if over < 0 else "over"
    sentence = (
        f"The screen lies {stops(over)} {side} the light on the action ({lux(lit.level_lux)} "
        f"against {lux(light.lux)})"
        + ("." if verdict is Verdict.HOLDS else "; as bright to one stop under is usual.")
    )

    def ways() -> list[Remedy | None]:
        own = screen_lamps(case)
        wanted = 2.0 ** ((LEVEL_LOW + LEVEL_HIGH) / 2.0 - over)
        changed = tuple(
            replace(x, level=round(min(x.level * wanted, 1.0), 3)) if i in own else x
            for i, x in enumerate(case.plate.lamps)
        )
        found: list[Remedy | None] = []
        if own and changed != case.plate.lamps:
            top = max(changed[i].level for i in own)
            found.append(
                remedy(
                    case,
                    judge_screen_level,
                    verdict,
                    {"lamps": changed},
                    f"Set the lamps of the screen to {top * 100:.0f} %.",
                )
            )
        if over < LEVEL_LOW:
            others = tuple(
                x if i in own else replace(x, level=round(x.level / max(wanted, 1.0), 3))
                for i, x in enumerate(case.plate.lamps)
            )
            found.append(
                remedy(
                    case,
                    judge_screen_level,
                    verdict,
                    {"lamps": others},
                    "Dim the lamps on the action to suit the screen.",
                )
            )
        return found

    return Finding(
        key="screen-level",
        title="Screen level",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="level = log₂(E screen / E action)",
                inputs=(
                    Quantity("E_s", "on the screen", lit.level_lux, "lx"),
                    Quantity("E_a", "at the action", light.lux, "lx"),
                ),
                result=Quantity("l", "screen against action", over, "stops"),
                source="0 to 1 stop under the key is common practice.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )


# --- spill -------------------------------------------------------------------------------------


def judge_spill(case: Case) -> Finding | None:
    """Light from the screen on an edge of the action, as a part of the key."""
    lit, light, screen = lit_screen(case), lighting(case), backing(case)
    if lit is None or light is None or screen is None or light.lux <= 0.0:
        return None
    thrown = spill_lux(lit.level_lux, case.plate, screen, light.at_m)
    share = thrown / light.lux
    verdict = banded(share, SPILL_HOLDS, SPILL_STRAINS)
    gap = screen.distance_m - light.at_m[1]
    sentence = (
        f"The {NAMES[case.plate.screen_colour]} throws {lux(thrown)} on edges that face it, "
        f"{percent(share)} of the key, from {length(gap)} behind"
        + (
            ": little to suppress."
            if verdict is Verdict.HOLDS
            else "; under 6 % it is easily taken out."
        )
    )

    def ways() -> list[Remedy | None]:
        found: list[Remedy | None] = []
        for more in (1.25, 1.5, 2.0, 3.0):
            wider = round(case.plate.screen_gap_m * more, 1)
            found.append(
                remedy(
                    case,
                    judge_spill,
                    verdict,
                    {"screen_gap_m": wider},
                    f"Hang the screen {length(wider)} behind the action.",
                )
            )
        own = screen_lamps(case)
        dimmed = tuple(
            replace(x, level=round(x.level / 2.0, 3)) if i in own else x
            for i, x in enumerate(case.plate.lamps)
        )
        if own:
            found.append(
                remedy(
                    case,
                    judge_spill,
                    verdict,
                    {"lamps": dimmed},
                    "Halve the lamps of the screen.",
                    lambda t: f"{sentence_of(judge_spill, t)} {sentence_of(judge_screen_level, t)}",
                )
            )
        return found

    given = REFLECTANCE[case.plate.screen_colour]
    factor = thrown / max(given * lit.level_lux, 1e-9)
    return Finding(
        key="spill",
        title="Spill",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="spill = ρ · E screen · F / E key",
                inputs=(
                    Quantity(
                        "ρ", "reflectance of the screen", REFLECTANCE[case.plate.screen_colour], ""
                    ),
                    Quantity("E_s", "on the screen", lit.level_lux, "lx"),
                    Quantity("F", "form factor to an edge that faces it", factor, ""),
                    Quantity("E_k", "key at the action", light.lux, "lx"),
                ),
                result=Quantity("s", "spill over key", share, ""),
                source="Form factor of a parallel rectangle (Howell, B-4, from memory); "
                "reflectances and limits are judgement.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )


# --- shadows -----------------------------------------------------------------------------------


def action_outline(case: Case) -> Array:
    """Points (n, 3) of everything that plays before the screen, stage metres."""
    own = [s for s in case.shot.stand_ins_of(case.plate) if s.kind != "ground"]
    lines = [line for s in own for line in outlines(s)]
    return case.plate.on_stage(np.concatenate(lines)) if lines else np.empty((0, 3))


def shadows_there(case: Case) -> tuple[ScreenShadow, ...]:
    """Shadows of the action that fall on the screen where the lens sees it behind the action."""
    screen, lit = backing(case), lit_screen(case)
    points = action_outline(case)
    if screen is None or lit is None or not len(points):
        return ()
    return tuple(
        s
        for s in screen_shadows(sources(case), points, screen)
        if s.right_m > lit.left_m and s.left_m < lit.right_m
    )


def judge_screen_shadow(case: Case) -> Finding | None:
    """Whether a lamp throws the action's shadow on the screen behind it."""
    if lit_screen(case) is None:
        return None
    found = shadows_there(case)
    worst = max(found, key=lambda s: s.darker_stops, default=None)
    darker = 0.0 if worst is None else worst.darker_stops
    verdict = banded(darker, SHADOW_HOLDS, SHADOW_STRAINS)
    light = lighting(case)
    name = ""
    if worst is not None and light is not None:
        name = next((x.name for x in light.lamps if x.number == worst.lamp), "")
    if worst is None or verdict is Verdict.HOLDS:
        sentence = "No shadow that shows falls on the screen behind the action."
    else:
        sentence = f"{name} throws the action's shadow on the screen behind it, " + (
            f"{stops(darker)} darker there."
            if math.isfinite(darker)
            else "where nothing else lights it."
        )

    def ways() -> list[Remedy | None]:
        if worst is None or light is None:
            return []
        lamp = case.plate.lamps[worst.lamp]
        tries: list[tuple[dict[str, Change], str]] = []
        for gap in (1.5, 2.0, 3.0):
            wider = round(max(case.plate.screen_gap_m, 1.0) * gap, 1)
            words = f"Hang the screen {length(wider)} behind the action."
            tries.append(({"screen_gap_m": wider}, words))
        for more in (0.5, 1.0, 1.5):
            raised = with_lamp(case, worst.lamp, z_m=round(lamp.z_m + more, 2))
            words = f"Raise {name} by {length(more)}: the shadow drops below the part that counts."
            tries.append(({"lamps": raised}, words))
            out = math.copysign(more, lamp.x_m - light.at_m[0])
            aside = with_lamp(case, worst.lamp, x_m=round(lamp.x_m + out, 2))
            words = f"Move {name} {length(more)} outwards: the shadow leaves at the side."
            tries.append(({"lamps": aside}, words))
        return [
            remedy(
                case,
                judge_screen_shadow,
                verdict,
                changes,
                words,
            )
            for changes, words in tries
        ]

    return Finding(
        key="screen-shadow",
        title="Shadow on screen",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="darker = log₂(E all / (E all − E of this lamp)) where the shadow falls",
                inputs=(
                    Quantity("left", "shadow from", 0.0 if worst is None else worst.left_m, "m"),
                    Quantity("right", "to", 0.0 if worst is None else worst.right_m, "m"),
                ),
                result=Quantity("d", "darker", darker, "stops"),
                source="Central projection of the action from each lamp; limits are judgement.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )
