"""When nothing holds: the candidates that break in a single place, and what each would take."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..camera import Array
from ..judging.rules import name_of
from ..judging.trying import ways_out
from ..words.quantities import scale
from .axes import at_index as _at
from .table import Ranked, Table, changes_of

#: What a broken rule weighs in the ranking, and what cannot be built at all.
BREAK, IMPOSSIBLE = 1_000_000.0, 100_000_000.0


@dataclass(frozen=True)
class Miss:
    """One near miss: the rule that alone breaks (or breaks with others, named in `also` as people
    call them), what it would take, and the decisions that the rest of it is made of."""

    rule: str
    takes: str
    by: str
    changes: dict[str, Any]
    also: tuple[str, ...]
    setup: str


def near_misses(table: Table, code: Array, key: Array, most: int = 6) -> tuple[Miss, ...]:
    """The nearest candidate for every rule that can be the only one broken; when always several
    break together, the candidate with the fewest, and what each of those would take.

    `code` and `key` are the ranking without and with the wishes, of the full shape.
    """
    shape = table.space.shape
    least = math.floor(float(code.min()) / BREAK)
    fewest = np.floor(code / BREAK) == max(least, 1)
    found: list[tuple[float, Miss]] = []
    if least <= 1:
        for rule in table.rules:
            if not (rule.ranks == 2).any():
                continue
            alone = fewest & (rule.ranks == 2)
            if not alone.any():
                continue
            short = np.where(alone, rule.short, np.inf)
            # Among those that miss by as little, the one the wishes like best.
            near = short <= short.min() * (1.0 + 1e-6) + 1e-12
            at = _index(np.where(near & alone, key, np.inf), shape)
            found.append((float(key[at]), _miss(table, rule, at)))
        found.sort(key=lambda pair: pair[0])
        return tuple(miss for _, miss in found[:most])
    if bool((code >= IMPOSSIBLE).all()):
        return ()
    at = _index(np.where(fewest, key, np.inf), shape)
    together = [_miss(table, r, at) for r in table.rules if _at(r.ranks, at) >= 2]
    # What mends two of them is said once.
    once = list({miss.takes: miss for miss in reversed(together)}.values())[::-1]
    return tuple(
        replace(miss, also=tuple(name_of(o.rule) for o in once if o is not miss)) for miss in once
    )


def _index(values: Array, shape: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(int(i) for i in np.unravel_index(int(values.argmin()), shape))


def _miss(table: Table, ranked: Ranked, at: tuple[int, ...]) -> Miss:
    setup = table.space.setups[at[0]]
    takes, by = _words(table, ranked, at)
    return Miss(
        ranked.key,
        takes,
        by,
        changes_of(table, at),
        (),
        f"{setup.body.name}, {setup.mode.name}, {setup.lens.name}, "
        f"{scale(table.space.scales[at[1]])}",
    )


def _words(table: Table, ranked: Ranked, at: tuple[int, ...]) -> tuple[str, str]:
    """What one candidate would take by one rule, and what is wrong: as the rule has it, else the
    first way out that its judgement has tried, else its usual advice."""
    rule = ranked.rule
    place = table.places.at(table.space.setups[at[0]], table.space.scales[at[1]])
    case = None if place is None else place.case.tried(_decided(table, at))
    if case is None:
        return rule.otherwise, ""
    short = _at(ranked.short, at)
    said = None if rule.takes is None else rule.takes(case, short)
    if said is not None and said[0]:
        return said
    found = rule.speak(case)
    if found is None:
        return rule.otherwise, ""
    ways = ways_out(case, rule, found)
    takes = ways[0].sentence if ways else rule.otherwise
    by = found.sentence.rstrip(".") if said is None else said[1]
    return takes or f"Something else for this: {rule.name}.", by


def _decided(table: Table, at: tuple[int, ...]) -> dict[str, Any]:
    """What the plate of a place has to be told to be the candidate: the place leaves the focus open
    and may have been worked out for another lens."""
    setup, plate = table.space.setups[at[0]], table.plate
    return {
        "body_id": setup.body.id,
        "mode_id": setup.mode.id,
        "lens_id": setup.lens.id,
        "focus_world_m": plate.focus_world_m,
        "f_number": plate.f_number,
        "focus_passes": plate.focus_passes,
        **changes_of(table, at),
    }
