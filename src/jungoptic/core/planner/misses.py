"""When nothing holds: the candidates that break in a single place, and what each would take."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..camera import Array
from ..judging import JUDGES, position, rate, view
from ..judging.light import more_lamps
from ..stage.backing import backing
from ..words.quantities import degrees, length, percent, pixels, scale, stops
from ..words.quantities import rate as fps_said
from .names import name_of
from .table import Rule, Table, changes_of
from .table import at_index as _at

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
            if rule.key == "impossible" or not (rule.ranks == 2).any():
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


def _miss(table: Table, rule: Rule, at: tuple[int, ...]) -> Miss:
    setup = table.space.setups[at[0]]
    words = _TAKES.get(rule.key)
    if words is None:
        takes, by = _as_judged(table, at, rule.key)
    else:
        takes, by = words(table, at, _at(rule.short, at))
    return Miss(
        rule.key,
        takes,
        by,
        changes_of(table, at),
        (),
        f"{setup.body.name}, {setup.mode.name}, {setup.lens.name}, "
        f"{scale(table.space.scales[at[1]])}",
    )


def _as_judged(table: Table, at: tuple[int, ...], key: str) -> tuple[str, str]:
    """The first remedy that the judgement itself has tried for this candidate, and what it says of
    the candidate; a sentence of its own where it has none to offer."""
    setup, scale_ = table.space.setups[at[0]], table.space.scales[at[1]]
    place = table.place(setup, scale_)
    case = None if place is None else place.case.tried(changes_of(table, at))
    otherwise = _OTHERWISE.get(key, f"Something else for this: {name_of(key)}.")
    if case is None:
        return otherwise, ""
    # Only the judge of this rule is asked for ways out: looking for them is the dear part.
    judge = next((j for j in JUDGES if (f := j(case)) is not None and f.key == key), None)
    found = None if judge is None else judge(replace(case, trial=False))
    if found is None:
        return otherwise, ""
    said = found.sentence.rstrip(".")
    return (found.remedies[0].sentence if found.remedies else otherwise), said


def _view(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    kept = 1.0 + 2.0 * table.shot.padding
    crop = max(_at(table.crop_across, at), _at(table.crop_down, at)) * kept
    focal, share = _at(table.focal_mm, at), _at(table.pixels, at) / table.shot.delivery.width_px
    if crop > view.COVERED_TO:
        wanted = math.floor(focal / crop * view.COVERED_TO * 10.0) / 10.0
        return f"A {wanted:g} mm lens, or shorter.", f"{percent(1.0 - 1.0 / crop)} of view missing"
    needed = table.shot.delivery.width_px * view.STRAINS_FROM
    mode = needed / max(_at(table.crop_across, at), 1e-9)
    longest = focal * min(view.STRAINS_FROM / share, view.COVERED_TO / max(crop, 1e-9))
    return (
        f"A mode {math.ceil(mode):,} px wide, or a lens of {longest:.3g} mm.",
        f"{pixels(_at(table.pixels, at))} left of {pixels(needed)}",
    )


def _floor(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    mm = math.ceil(short * 1000.0 / 5.0 - 1e-9) * 5.0
    return (
        f"The camera base {length(mm / 1000.0)} below this stage's ground (past the table's edge, "
        "or in a cut-out), or a mirror at 45°.",
        f"{length(short)} too high",
    )


def _mismatch(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    place = table.place(table.space.setups[at[0]], table.space.scales[at[1]])
    stage = None if place is None else place.case.stage
    by = f"{pixels(short + table.tolerance_px * position.STRAINS_TO)} apart"
    if stage is not None and stage.floor_axis_m > stage.ideal_axis_m + 1e-6:
        # Too high is why: lowered as far as the floor asks, it is mended too.
        return _floor(table, at, stage.floor_axis_m - stage.ideal_axis_m)[0], by
    return _as_judged(table, at, "mismatch")[0], by


def _close(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    nearest = _at(table.pass_focus_m[0], at) + _at(table.sensor_to_pupil_m, at)
    return f"A lens that focuses to {length(nearest)}.", f"{length(short)} short"


def _depth(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    count = int(_at(table.pass_count, at))
    return f"{count} focus passes on one lock-off.", f"worst end blurs {short:.1f} times too far"


def _rate(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    needed = _at(table.needed_fps, at) / (1.0 + (rate.STRAINS_TO - 1.0) * table.relaxed)
    largest = (_at(table.capture_fps, at) / table.shot.delivery.fps) ** 2
    larger = f", or build at {scale(math.floor(largest))}" if largest >= 1 else ""
    return f"A mode that records {fps_said(needed)}{larger}.", f"{percent(short)} too slow"


def _light(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    place = table.place(table.space.setups[at[0]], table.space.scales[at[1]])
    need = _at(table.lux_needed, at)
    # Enough to strain no more: the light rule breaks beyond a stop.
    missing = need * (2.0 ** -(table.relaxed / 3.0) - 2.0**-short)
    said = more_lamps(place.case, missing) if place is not None else None
    if said is None:
        return f"{2.0**short:.1f} times the light.", f"{stops(short)} short"
    return said[0], f"{stops(short)} short"


def _backing(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    place = table.place(table.space.setups[at[0]], table.space.scales[at[1]])
    needed = backing(place.case) if place is not None else None
    if needed is None:
        return _as_judged(table, at, "backing")
    return f"A screen {length(needed.width_m)} × {length(needed.top_m)}.", "too small"


def _room(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    return f"{length(short)} more room.", f"{length(short)} missing"


def _blur(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    ratio = _at(table.capture_fps, at) / _at(table.needed_fps, at)
    return f"A shutter of {degrees(table.shot.world.shutter_deg * ratio)}.", "blur differs"


def _diffraction(table: Table, at: tuple[int, ...], short: float) -> tuple[str, str]:
    return "A wider stop, with more focus passes.", f"diffraction {short:.1f} times the limit"


#: By rule; the others are told as they are judged.
_TAKES = {
    "view": _view,
    "floor": _floor,
    "mismatch": _mismatch,
    "close_focus": _close,
    "depth": _depth,
    "rate": _rate,
    "light": _light,
    "backing": _backing,
    "room": _room,
    "blur": _blur,
    "diffraction": _diffraction,
}

_LAMPS = "Lamps placed anew: see what Light this plate proposes."
#: What to say where a judgement has no remedy to offer.
_OTHERWISE = {
    **dict.fromkeys(("key-side", "hardness", "colour", "ratio", "falloff"), _LAMPS),
    **dict.fromkeys(("evenness", "screen-level", "spill", "screen-shadow"), _LAMPS),
    "loan": "Another day, while the borrowed things are there.",
    "flicker": "Lamps on direct current or high frequency.",
    "sun": "Another day or another place: see its windows.",
    "recording": "A mode with full chroma, or one twice as wide.",
    "move": "A smaller camera move, or a body that goes as low as the move does.",
    "passes": "Fewer focus passes, or a lens whose view changes less with focus.",
    "skew": "A mode that reads out faster, or slower movement.",
    "mains": "Lamps that draw less, or another circuit.",
    "sweep": "A longer floor of the screen, or feet out of frame.",
    "screen-colour": "Another screen, or other clothes.",
}
