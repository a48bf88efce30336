"""Light this plate: places for the lamps owned that give the story's light in the room chosen, or
come nearest to it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..angles import turn_deg
from ..judging.evenness import judge_evenness
from ..judging.falloff import judge_falloff
from ..judging.hardness import judge_hardness
from ..judging.key_ratio import judge_ratio
from ..judging.key_side import at_direction, judge_key_side, stand_of
from ..judging.lamp_in_picture import judge_lamp_in_picture
from ..judging.light import judge_light
from ..judging.light_colour import judge_colour
from ..judging.mains import judge_mains
from ..judging.room import judge_room
from ..judging.screen_lamps import judge_screen_lamps
from ..judging.screen_level import judge_screen_level
from ..judging.screen_shadow import judge_screen_shadow
from ..judging.spill import judge_spill
from ..light import width_at_m
from ..lighting.action import action_point_m, set_points_m
from ..lighting.on_stage import lighting
from ..lighting.owned import wanted_key, wanted_ratio
from ..lighting.stage_light import StageLight
from ..plan.findings import Finding, Verdict, worst_first
from ..plan.kit import Lamp
from ..plan.loan import Loan
from ..plan.plate import PlacedLamp
from ..screens.lit import stays_dark
from ..stage.backing import backing
from ..stage.case import Case
from ..words.quantities import degrees, length
from .lamp_places import clear_of, gel_of_story, inside, left_of, lux_of, owned
from .place_screen import screened

#: Distances tried, in metres; and what the key is turned by when it does not fit in.
DISTANCES_M = (0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6)
NUDGES_DEG = ((0.0, 0.0), (0.0, -12.0), (15.0, 0.0), (-15.0, 0.0), (0.0, -25.0), (0.0, 12.0))
ROLE_NAMES: dict[str, str] = {
    "key": "Key",
    "fill": "Fill",
    "back": "Back light",
    "screen": "Screen",
    "practical": "Practical",
    "played": "Played",
}
#: A back light: so high, so far, and so much under the key (judgement).
BACK_UP_DEG, BACK_UNDER_STOPS = 50.0, 1.0
BACK_DISTANCES_M = (1.4, 2.0, 1.0, 2.8)
ASKED = (
    judge_light,
    judge_lamp_in_picture,
    judge_key_side,
    judge_hardness,
    judge_colour,
    judge_ratio,
    judge_falloff,
    judge_mains,
    judge_room,
    judge_evenness,
    judge_screen_level,
    judge_screen_lamps,
    judge_spill,
    judge_screen_shadow,
)


@dataclass(frozen=True)
class Proposal:
    """One way to light the plate: its lamps in words, the findings it would give, worst first, and
    the changes that carry it out. `light`: as it would be."""

    words: tuple[str, ...]
    verdict: Verdict
    misses: tuple[str, ...]
    holds: int
    asked: int
    lamps: tuple[PlacedLamp, ...]
    light: StageLight | None


def light_plate(case: Case, most: int = 3) -> tuple[Proposal, ...]:
    """The best ways, at most `most`, each with another lamp or another size as its key. Empty
    without lamps in the kit or without anything to light."""
    at = action_point_m(case.shot, case.plate)
    if at is None:
        return ()
    found: list[tuple[float, Case, PlacedLamp]] = []
    # Where the room takes no lamp at all, say what would do in a larger one.
    for key in list(_keys(case, at, True)) or list(_keys(case, at, False)):
        for lamps in _around(case, at, replace(key, role="key")):
            tried = replace(case, plate=replace(case.plate, lamps=lamps))
            light = lighting(tried)
            if light is not None and light.key == 0:
                found.append((_score(tried), tried, key))
    found.sort(key=lambda t: t[0])
    chosen: list[Proposal] = []
    seen: set[tuple[Lamp | None, bool]] = set()
    for _, tried, key in found:
        model = case.shot.kit.lamp(key.lamp_id)
        # Lamps that are alike in all but their names give the same light.
        alike = None if model is None else replace(model, id="", name="", count=1, loan=Loan())
        kind = (alike, key.size_m is None)
        if kind in seen:
            continue
        seen.add(kind)
        chosen.append(_proposal(tried))
        if len(chosen) == most:
            break
    return tuple(chosen)


def _around(
    case: Case, at: tuple[float, float, float], key: PlacedLamp
) -> Iterator[tuple[PlacedLamp, ...]]:
    """What stands around a key: fill, screen, back light, as far as there are lamps. Where the fill
    took one that the screen needs, the same without it too."""
    filled = _filled(case, at, key)
    with_screen = screened(case, filled)
    yield _backed(case, at, with_screen)
    if len(with_screen) == len(filled) > 1:
        alone = screened(case, (key,))
        if len(alone) > 1:
            yield _backed(case, at, alone)


def _findings(case: Case) -> list[Finding]:
    return [f for judge in ASKED if (f := judge(case)) is not None]


def _score(case: Case) -> float:
    """Fewest breaks, then strains; light that is far short counts by the stop, and a little for
    light to spare, which lets one dim."""
    ranks = [f.verdict.rank for f in _findings(case)]
    light = lighting(case)
    short = 8.0
    if light is not None and light.lux > 0:
        needed = case.stage.lux_needed
        short = math.log2(needed / light.lux)
    missing = 30.0 * min(max(short - 1.0, 0.0), 8.0) + 0.5 * min(abs(short), 8.0)
    # A screen that nothing lights keys no better than one that is lit badly.
    missing += 100.0 if stays_dark(case) else 0.0
    return sum(100.0 if r == 2 else 10.0 if r == 1 else 0.0 for r in ranks) + missing


def _keys(case: Case, at: tuple[float, float, float], within: bool) -> Iterator[PlacedLamp]:
    """Every key worth trying, lamp by lamp, the story's direction first; `within` the room."""
    shot = case.shot
    side, up = wanted_key(shot)
    wanted = shot.key_angle_deg
    points = set_points_m(shot, case.plate)
    for lamp in owned(case):
        gel = gel_of_story(case, lamp)
        for turn, lift in NUDGES_DEG:
            spots: list[PlacedLamp] = []
            for distance in DISTANCES_M:
                place = at_direction(at, side + shot.world.pan_deg + turn, up + lift, distance)
                spot = PlacedLamp(lamp.id, *place, gel=gel)
                if (not within or inside(spot, case)) and clear_of(spot, points):
                    spots.append(spot)
            for spot in spots:
                distance = math.dist(at, spot.at)
                yield spot
                if wanted is None or lamp.kind == "sun":
                    continue
                size = width_at_m(wanted, distance)
                if size < lamp.size_m / 1.5:
                    yield replace(spot, size_m=round(max(size, 0.005), 3))
                elif lamp.size_m * 1.5 < size < 2.5:
                    yield replace(spot, size_m=round(size, 2))
            if spots:
                break


def _filled(case: Case, at: tuple[float, float, float], key: PlacedLamp) -> tuple[PlacedLamp, ...]:
    """Key and fill: the largest lamp left, beside the camera on the other side, dimmed to the
    ratio."""
    shot = case.shot
    spare = sorted(left_of(case, (key,)), key=lambda x: -x.size_m)
    ratio = wanted_ratio(shot)
    key_lux = lux_of(case, at, key)
    if not spare or key_lux <= 0.0 or ratio <= 0.05:
        return (key,)
    side, _ = wanted_key(shot)
    other = -150.0 if turn_deg(side) > 0 else 150.0
    wanted = key_lux / (2.0**ratio - 1.0)
    for lamp in spare:
        for distance in (2.8, 2.0, 1.4, 1.0, 4.0):
            place = at_direction(at, other + shot.world.pan_deg, 15.0, distance)
            fill = PlacedLamp(lamp.id, *place, gel=gel_of_story(case, lamp), role="fill")
            if not inside(fill, case):
                continue
            given = lux_of(case, at, fill)
            if given >= wanted:
                return key, replace(fill, level=round(max(wanted / given, 0.01), 3))
    return (key,)


def _backed(
    case: Case, at: tuple[float, float, float], lamps: tuple[PlacedLamp, ...]
) -> tuple[PlacedLamp, ...]:
    """With a lamp behind what is cut out of a screen, so that its edge stands off: high, opposite
    the key, out of frame, a stop under it."""
    if backing(case) is None:
        return lamps
    side, _ = wanted_key(case.shot)
    turn = -30.0 if turn_deg(side) > 0 else 30.0
    wanted = lux_of(case, at, lamps[0]) * 2.0**-BACK_UNDER_STOPS
    delivery = case.shot.delivery
    size = np.array([delivery.width_px, delivery.height_px], dtype=np.float64)
    for lamp in sorted(left_of(case, lamps), key=lambda x: x.size_m):
        for distance in BACK_DISTANCES_M:
            place = at_direction(at, turn + case.shot.world.pan_deg, BACK_UP_DEG, distance)
            back = PlacedLamp(lamp.id, *place, gel=gel_of_story(case, lamp), role="back")
            pixel = case.stage.camera.project(np.array([place]), *size)[0]
            shows = bool(((pixel > -0.1 * size) & (pixel < 1.1 * size)).all())
            given = lux_of(case, at, back)
            if shows or not inside(back, case) or given < wanted:
                continue
            return (*lamps, replace(back, level=round(max(wanted / given, 0.01), 3)))
    return lamps


def _proposal(case: Case) -> Proposal:
    findings = worst_first(_findings(case))
    light = lighting(case)
    bad = [f for f in findings if f.verdict is not Verdict.HOLDS]
    misses = [f"{f.title}: {f.sentence}" for f in bad]
    if stays_dark(case):
        misses.append("Screen: no lamp is left that would light it.")
    return Proposal(
        _words(case, light),
        findings[0].verdict if findings else Verdict.HOLDS,
        tuple(misses),
        len(findings) - len(bad),
        len(findings) + len(misses) - len(bad),
        case.plate.lamps,
        light,
    )


def _words(case: Case, light: StageLight | None) -> tuple[str, ...]:
    if light is None:
        return ()
    said = []
    for lamp in light.lamps:
        placed = case.plate.lamps[lamp.number]
        more = "" if placed.level >= 0.995 else f", at {placed.level * 100:.0f} %"
        if placed.size_m is not None:
            model = case.shot.kit.lamp(placed.lamp_id)
            kind = "opening" if model is not None and placed.size_m < model.size_m else "diffusion"
            more += f", {kind} {length(placed.size_m)}"
        role = ROLE_NAMES[lamp.role]
        told = f" ({degrees(lamp.elevation_deg)} up)" if lamp.role == "key" else ""
        said.append(f"{role}: {lamp.name}, {stand_of(placed)}{more}{told}")
    return tuple(said)
