"""Places for two lamps that light a screen evenly and keep off the action."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise, product

from ..judging.limits import EVEN_HOLDS, SCREEN_LAMPS_UNDER
from ..judging.screen_lamps import thrown_from
from ..lighting.on_stage import lighting
from ..plan.kit import Lamp
from ..plan.plate import PlacedLamp
from ..screens.lit import at_screen, lit_screen
from ..stage.backing import Backing, backing
from ..stage.case import Case
from .lamp_places import inside, left_of

#: Two lamps light a screen from its sides, one at most so many times as bright as the other, which
#: it is then dimmed to (judgement).
PAIR_AT_MOST = 2.0
#: Where they are tried: beside the screen's edges, before it, and aimed so far to the other side of
#: its middle, as a part of its half width.
OUTWARDS_M, BEFORE_M, ACROSS = (0.0, 0.4, 0.8), (0.5, 0.8, 1.2, 1.6, 2.0), (0.5, 0.0, -0.5)
#: The screen is made so much darker than the action, stops (common practice: half a stop).
SCREEN_UNDER_STOPS = 0.5


def screened(case: Case, lamps: tuple[PlacedLamp, ...]) -> tuple[PlacedLamp, ...]:
    """`lamps` with two of its own on the screen, where there is one: as bright as the action or
    half a stop under; the others dimmed where it cannot be."""
    screen, plate = backing(case), case.plate
    if screen is None or plate.screen_width_m <= 0.0 or plate.screen_colour in ("sky", "black"):
        return lamps
    pair = _pair(case, lamps)
    if pair is None:
        return lamps
    own = case.once(f"screen lit by {pair[0].id} {pair[1].id}", lambda: _best(case, screen, pair))
    if own is None:
        return lamps
    tried = _with(case, (*lamps, *own))
    lit, light = lit_screen(tried), lighting(tried)
    if lit is None or light is None or light.lux <= 0.0:
        return (*lamps, *own)
    wanted = light.lux * 2.0**-SCREEN_UNDER_STOPS / lit.level_lux
    # A screen that cannot be bright enough is met by an action with light to spare.
    down = min(max(wanted, 1.0), max(light.lux / case.stage.lux_needed, 1.0))
    return (
        *(replace(x, level=round(x.level / down, 3)) for x in lamps),
        *(replace(x, level=round(max(min(wanted, 1.0) * x.level, 0.01), 3)) for x in own),
    )


def _with(case: Case, lamps: tuple[PlacedLamp, ...]) -> Case:
    return replace(case, plate=replace(case.plate, lamps=lamps))


def _pair(case: Case, used: tuple[PlacedLamp, ...]) -> tuple[Lamp, Lamp] | None:
    """Two lamps left for the screen, one for each side: banks first, the largest; of one kind, so
    that their light is alike, and nearly as bright."""
    spare = sorted(
        (x for x in left_of(case, used) if x.kind in ("bank", "panel")),
        key=lambda x: (x.kind != "bank", -x.size_m, -x.lux_at_1m),
    )
    free = [
        lamp for lamp in spare for _ in range(lamp.count - sum(p.lamp_id == lamp.id for p in used))
    ]
    for one, other in pairwise(free):
        weaker, brighter = sorted((one.lux_at_1m, other.lux_at_1m))
        if one.kind == other.kind and brighter <= PAIR_AT_MOST * weaker:
            return one, other
    return None


def _best(
    case: Case, screen: Backing, pair: tuple[Lamp, Lamp]
) -> tuple[PlacedLamp, PlacedLamp] | None:
    """Both where they light the screen as one colour and throw least on the action, or come nearest
    to that."""
    found = []
    for own in _places(case, screen, pair):
        tried = _with(case, own)
        lit, light = lit_screen(tried), lighting(tried)
        if lit is None:
            continue
        # The key that goes with such a screen.
        key_lux = lit.level_lux * 2.0**SCREEN_UNDER_STOPS
        thrown = None if light is None else thrown_from(light.lamps, key_lux)
        short = 0.0 if thrown is None else max(SCREEN_LAMPS_UNDER - thrown.under, 0.0)
        uneven = max(lit.spread_stops - EVEN_HOLDS, 0.0)
        found.append((2.0 * uneven + short, lit.spread_stops, own))
    return min(found, key=lambda one: one[:2])[2] if found else None


def _places(
    case: Case, screen: Backing, pair: tuple[Lamp, Lamp]
) -> Iterator[tuple[PlacedLamp, PlacedLamp]]:
    """The pair in every place inside the room, one to each side, at the height of what is seen of
    the screen."""
    plate = case.plate
    centre, half = screen.centre_x_m, plate.screen_width_m / 2.0
    foot = max(screen.bottom_m, plate.screen_foot_m)
    top = max(min(screen.top_m, plate.screen_top_m), foot)
    middle = round((foot + top) / 2.0, 2)
    weaker = min(lamp.lux_at_1m for lamp in pair)
    for out, before, across in product(OUTWARDS_M, BEFORE_M, ACROSS):
        left, right = (
            at_screen(
                PlacedLamp(
                    lamp.id,
                    round(centre + way * (half + out), 2),
                    0.0,
                    middle,
                    level=round(weaker / lamp.lux_at_1m, 3),
                    role="screen",
                ),
                screen,
                plate,
                before,
                -way * across,
            )
            for lamp, way in zip(pair, (-1.0, 1.0), strict=True)
        )
        if inside(left, case) and inside(right, case):
            yield left, right
