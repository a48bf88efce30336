"""The search itself: rank every candidate, keep the best of each kind, name the near misses."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..impossible import Impossible
from ..judging import worst_rank
from ..judging.limits import PIXELS_HOLD_FROM
from ..judging.rule import VERDICTS
from ..judging.rules import name_of
from ..plan.findings import Verdict
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..stage.case import Case
from ..words.quantities import lux, percent, pixels, rate, scale, stop, stops
from .axes import SETUP, along, at_index
from .misses import BREAK, IMPOSSIBLE, Miss, near_misses
from .space import Space, Wishes, space_for
from .table import Ranked, Table, changes_of

#: More candidates than this take more memory than one request may.
MOST_CANDIDATES = 2_000_000

#: A rule that breaks outweighs all that strain (`misses.BREAK`), and one that strains all wishes.
STRAIN = 1_000.0


@dataclass(frozen=True)
class Way:
    """One way to film the plate: what to change, its numbers, and why it stands where it does.

    `changes` are decisions of the plate (field to value). `broken` and `strained` name rules.
    """

    changes: dict[str, Any]
    body: str
    mode: str
    lens: str
    verdict: Verdict
    broken: tuple[str, ...]
    strained: tuple[str, ...]
    pixels_across: float
    f_number: float
    iso: float
    passes: int
    scale: float
    capture_fps: float
    shutter_deg: float
    lux_needed: float
    stops_short: float | None
    score: float
    reasons: tuple[str, ...]


@dataclass(frozen=True)
class Search:
    """The answer: how many candidates and rules were tried, the best ways, and for a plate that
    nothing holds the nearest misses."""

    candidates: int
    rules: tuple[str, ...]
    ways: tuple[Way, ...]
    misses: tuple[Miss, ...]


def search(
    shot: Shot,
    plate: Plate,
    wishes: Wishes | None = None,
    *,
    space: Space | None = None,
    most: int = 6,
    table: Table | None = None,
    misses: bool = True,
) -> Search:
    """Search the kit of `shot` for ways to film `plate`.

    The best of every setup and scale is kept, fewest rules broken first, then fewest strained, then
    by `wishes`. Without any candidate the lists are empty. A `table` made before spares its rules
    being asked again. Without `misses` none are named.

    Raises Impossible for a kit with more candidates than `MOST_CANDIDATES`.
    """
    wishes = wishes or Wishes()
    shot = seen_from_own(shot, plate)
    space = table.space if table is not None else space or space_for(shot, plate, wishes)
    if 0 in space.shape:
        return Search(0, (), (), ())
    if math.prod(space.shape) > MOST_CANDIDATES:
        raise Impossible(
            f"This kit gives {math.prod(space.shape):,} ways to film the plate, more than can be "
            f"searched at once ({MOST_CANDIDATES:,}). Keep the scale or thin out the kit."
        )
    table = table or Table(shot, plate, space)
    code = ranking(table.rules, table.possible, space.shape)
    key = code + _score(table, wishes)
    flat = key.reshape(len(space.setups) * len(space.scales), -1)
    best = flat.argmin(axis=1)
    order = np.argsort(flat[np.arange(len(flat)), best], kind="stable")[:most]
    ways: list[Way] = []
    for group in order:
        at = np.unravel_index(int(group) * flat.shape[1] + int(best[group]), space.shape)
        if code[at] >= IMPOSSIBLE:
            continue
        ways.append(_way(table, wishes, tuple(int(i) for i in at), float(key[at] - code[at])))
    missed = misses and (not ways or bool(ways[0].broken))
    return Search(
        int(np.prod(space.shape)),
        tuple(r.key for r in table.rules),
        tuple(ways),
        near_misses(table, code, key) if missed else (),
    )


def ranking(rules: list[Ranked], possible: NDArray[np.bool_], shape: tuple[int, ...]) -> Array:
    """Broken and strained rules of every candidate in one number, `BREAK` and `STRAIN` each, and
    `IMPOSSIBLE` for what cannot be built.

    Rules are added where they have the same axes, so that few sums span all of them.
    """
    worth = np.array([0.0, STRAIN, BREAK])
    by_axes: dict[tuple[int, ...], Array] = {}
    for value in (worth[r.ranks.astype(np.int8)] for r in rules):
        axes = value.shape
        by_axes[axes] = by_axes[axes] + value if axes in by_axes else value
    total = np.zeros((1,) * len(shape))
    by_axes[possible.shape] = by_axes.get(possible.shape, 0.0) + np.where(possible, 0.0, IMPOSSIBLE)
    for value in sorted(by_axes.values(), key=lambda v: v.size):
        total = total + value
    return np.broadcast_to(total, shape) if total.shape != shape else total


def _score(table: Table, wishes: Wishes) -> Array:
    """What the wishes say of every candidate; less is better. Weights are judgements."""
    plate, space = table.plate, table.space
    delivery = table.shot.delivery
    # Quality: pixels missing or barely there, diffraction, noise above the base ISO, extra passes.
    with np.errstate(divide="ignore", invalid="ignore"):
        share = table.pixels / delivery.width_px
        thin = np.clip(np.log2(2.0 / share), 0.0, 4.0)
        soft = np.clip(table.working_stop * 2.44 * 550e-6 / table.coc_mm, 0.0, 3.0)
    noise = np.clip(np.log2(table.iso / table.mode("base_iso")), 0.0, 8.0)
    quality = thin + soft + 0.6 * noise
    quality = quality + 0.4 * (table.passes - 1.0)
    # Changes: each decision that is not what the plate, or another plate of the shot, has now.
    used = {(p.body_id, p.lens_id) for p in table.shot.plates if p.id != plate.id}
    change = along(
        SETUP,
        [
            (s.body.id != plate.body_id) * 2.0
            + (s.lens.id != plate.lens_id) * 1.0
            + (s.mode.id != plate.mode_id) * 0.5
            - ((s.body.id, s.lens.id) in used) * 0.5
            for s in space.setups
        ],
    )
    change = change + (table.scale != plate.scale) * 4.0
    # Every pass is set, checked and joined again: a set-up of its own.
    change = change + (table.passes - 1.0) * 0.8
    change = change + (table.shutter_deg != plate.shutter_deg) * 0.3
    small = np.abs(np.log2(table.f_number / plate.f_number)) * 0.2
    tiny = np.abs(np.log2(table.iso / plate.iso)) * 0.1
    # Light: a little for every doubling, more for what eats into the last stop to spare.
    per_light = 0.15 * np.clip(np.nan_to_num(_log_lux(table)), 0.0, 12.0)
    per_light = per_light + np.clip(np.nan_to_num(table.stops_short, nan=-1.0) + 1.0, 0.0, 6.0)
    found: Array = wishes.quality * quality + wishes.changes * (change + small + tiny)
    found = found + wishes.light * per_light
    return np.nan_to_num(found, nan=900.0)


def _log_lux(table: Table) -> Array:
    """Doublings of the light needed above 100 lx, split so that logs are taken of short lists."""
    stop = table.working_stop * table.lens("t_over_f")
    with np.errstate(divide="ignore", invalid="ignore"):
        found: Array = (
            2.0 * np.log2(stop)
            + (np.log2(250.0 / 100.0) + table.plate.nd_stops)
            - np.log2(table.exposure_s)
            - np.log2(table.iso)
        )
    return found


def _way(table: Table, wishes: Wishes, index: tuple[int, ...], score: float) -> Way:
    space = table.space
    setup = space.setups[index[0]]
    ranks = {rule.key: int(at_index(rule.ranks, index)) for rule in table.rules}
    broken = tuple(k for k, r in ranks.items() if r >= 2)
    strained = tuple(k for k, r in ranks.items() if r == 1)
    short = at_index(table.stops_short, index)
    way = Way(
        changes=changes_of(table, index),
        body=setup.body.name,
        mode=setup.mode.name,
        lens=setup.lens.name,
        verdict=Verdict.BREAKS if broken else Verdict.STRAINS if strained else Verdict.HOLDS,
        broken=broken,
        strained=strained,
        pixels_across=at_index(table.pixels, index),
        f_number=space.stops[index[4]],
        iso=space.isos[index[5]],
        passes=space.passes[index[6]],
        scale=space.scales[index[1]],
        capture_fps=at_index(table.capture_fps, index),
        shutter_deg=space.shutters[index[3]],
        lux_needed=at_index(table.lux_needed, index),
        stops_short=None if np.isnan(short) else short,
        score=score,
        reasons=(),
    )
    return replace(way, reasons=_reasons(table, way))


_SAID = {
    "body_id": "another body",
    "mode_id": "another mode",
    "lens_id": "another lens",
    "scale": "another scale",
    "capture_fps": "another rate",
    "shutter_deg": "another shutter",
    "f_number": "another stop",
    "iso": "another ISO",
    "focus_passes": "other focus passes",
}


def _reasons(table: Table, way: Way) -> tuple[str, ...]:
    """Why it stands where it does, in the order the ranking looks."""
    said = []
    if way.broken:
        said.append("Breaks: " + ", ".join(name_of(k) for k in way.broken) + ".")
    if way.strained:
        said.append("Strains: " + ", ".join(name_of(k) for k in way.strained) + ".")
    if not way.broken and not way.strained:
        said.append("Every rule holds.")
    share = way.pixels_across / table.shot.delivery.width_px
    said.append(
        f"{pixels(way.pixels_across)} left across ({percent(share)})"
        + ("" if share >= PIXELS_HOLD_FROM else ", fewer than delivered")
        + f"; {stop(way.f_number)}"
        + (f", {way.passes} focus passes" if way.passes > 1 else "")
        + f", {rate(way.capture_fps)}, {scale(way.scale)}."
    )
    light = f"Needs {lux(way.lux_needed)}"
    if way.stops_short is not None:
        light += f", {stops(way.stops_short)} " + ("short" if way.stops_short > 0 else "to spare")
    said.append(light + ".")
    if way.changes:
        named = [_SAID[k] for k in way.changes]
        # A body brings its mode along; saying both is saying it twice.
        if "body_id" in way.changes and "mode_id" in way.changes:
            named.remove("another mode")
        said.append("Changes: " + ", ".join(named) + ".")
    else:
        said.append("As it is planned now.")
    return tuple(said)


def verdict_now(shot: Shot, plate: Plate) -> Verdict | None:
    """The verdict on the plate exactly as it is planned, without words; None while its kit is not
    chosen."""
    try:
        case = Case.of(shot, plate)
    except Impossible:
        return Verdict.BREAKS
    return None if case is None else VERDICTS[worst_rank(case)]


def verdict_in(table: Table) -> Verdict | None:
    """The same, read off a table whose candidates include the plate as it is planned; None where
    they do not, or where a search may not propose what was decided."""
    plate, space = table.plate, table.space
    own = (plate.body_id, plate.mode_id, plate.lens_id)
    ids = [(s.body.id, s.mode.id, s.lens.id) for s in space.setups]
    if plate.capture_fps is not None or own not in ids:
        return None
    index = (
        ids.index(own),
        space.scales.index(plate.scale),
        space.slowdowns.index(1.0),
        space.shutters.index(plate.shutter_deg),
        space.stops.index(plate.f_number),
        space.isos.index(plate.iso),
        space.passes.index(plate.focus_passes),
    )
    if not at_index(table.possible, index):
        return None
    return VERDICTS[int(max(at_index(r.ranks, index) for r in table.rules))]
