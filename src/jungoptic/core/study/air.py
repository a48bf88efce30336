"""Haze as layers of a composite: how strong and of what colour over each thing, where fog cards
stand, and how much smoke a scaled set wants."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .. import haze
from ..angles import turn_deg
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.clip import Flags
from ..stage.in_frame import in_story

#: Layers whose opacity differs by more want a card of fog between them (judgement).
CARD_STEP = 0.12


@dataclass(frozen=True)
class Veil:
    """Haze over one stand-in: its distance in the story as it first comes into the picture, the
    opacity of the overlay 1 - T, and the part of its contrast that is left there."""

    stand_in_id: str
    name: str
    plate_id: str | None
    distance_m: float
    opacity: float
    contrast_left: float


@dataclass(frozen=True)
class FogCard:
    """A card of fog between two neighbours in depth, at this distance: so opaque that the layers
    behind it, up to the next card, come out right over what lies before it."""

    before: str
    behind: str
    distance_m: float
    opacity: float


@dataclass(frozen=True)
class Smoke:
    """Smoke for one scaled set. `visibility_m`: on the stage; `depth_m`: from the lens to the far
    end of what is filmed; `through`: part of the contrast of a black and a white card left there,
    which is how it is measured: with a spot meter beside the lens, at the far end against close
    by."""

    visibility_m: float
    per_m: float
    depth_m: float
    through: float
    cautions: tuple[str, ...]


@dataclass(frozen=True)
class Air:
    """Everything about the air of a shot: `tint` sRGB hex of the haze."""

    visibility_m: float
    tint: str
    veils: tuple[Veil, ...]
    cards: tuple[FogCard, ...]


SMOKE_CAUTIONS = (
    "Smoke and haze machines: air the room between takes, keep exits clear, mind asthma; tell "
    "neighbours and isolate smoke detectors only where the house allows it.",
)


def tint_of(shot: Shot) -> str:
    """The colour of the haze as sRGB hex, from where the key stands: pale before the sun, bluer
    away from it, warm when it is low (judgement; pick it from the sky plate when there is one)."""
    up = 30.0 if shot.key_elevation_deg is None else shot.key_elevation_deg
    side = 90.0 if shot.key_from_deg is None else abs(turn_deg(shot.key_from_deg))
    near = 1.0 - min(side, 120.0) / 120.0
    low = min(max((15.0 - up) / 15.0, 0.0), 1.0)
    base = (178.0, 190.0, 204.0)
    bright = (226.0, 226.0, 222.0)
    warm = (232.0, 196.0, 158.0)
    mixed = [b + (w - b) * 0.6 * near for b, w in zip(base, bright, strict=True)]
    part = low * (0.35 + 0.5 * near)
    mixed = [m + (w - m) * part for m, w in zip(mixed, warm, strict=True)]
    dark = 2.0 ** (min(shot.key_level_stops, 0.0) / 2.2)
    return "#" + "".join(f"{round(v * dark):02x}" for v in mixed)


def air_of(shot: Shot) -> Air | None:
    """Haze over everything in the picture, near to far, and the cards between; None in clear air.
    Source: Koschmieder's law."""
    if shot.visibility_m is None:
        return None
    visibility, seen = shot.visibility_m, in_story(shot)
    veils = []
    shows: Flags = np.isfinite(seen.near_m)
    first = shows.argmax(axis=1)[:, None]
    near, far = (np.take_along_axis(of, first, axis=1)[:, 0] for of in (seen.near_m, seen.far_m))
    distances = ((near + far) / 2.0).tolist()
    for thing, distance, ever in zip(
        seen.things, distances, np.any(shows, axis=1).tolist(), strict=True
    ):
        if thing.kind == "ground" or not ever:
            continue
        through = haze.transmission(distance, visibility)
        veils.append(Veil(thing.id, thing.name, thing.plate_id, distance, 1.0 - through, through))
    veils.sort(key=lambda v: v.distance_m)
    return Air(visibility, tint_of(shot), tuple(veils), _cards(veils))


def _cards(veils: list[Veil]) -> tuple[FogCard, ...]:
    """Where layers part. Those that differ little from the first of their group share its haze;
    between two groups of T1 and T2 a card of 1 - T2/T1 gives the farther ones their share, and it
    stands before the nearest of them."""
    cards: list[FogCard] = []
    first = 0
    for i in range(1, len(veils)):
        if veils[i].opacity - veils[first].opacity <= CARD_STEP:
            continue
        before, behind = veils[i - 1], veils[i]
        cards.append(
            FogCard(
                before.name,
                behind.name,
                math.sqrt(before.distance_m * behind.distance_m),
                1.0 - behind.contrast_left / veils[first].contrast_left,
            )
        )
        first = i
    return tuple(cards)


def smoke_for(case: Case) -> Smoke | None:
    """Smoke that gives a scaled set the story's air, b d alike: a visibility S times shorter; None
    for life size, clear air, or nothing in the picture."""
    visibility, scale = case.shot.visibility_m, case.plate.scale
    if visibility is None or scale == 1.0 or case.plate.kind not in ("miniature", "puppet"):
        return None
    there = visibility / scale
    depth = case.stage.far_m
    if depth is None:
        return None
    return Smoke(
        there,
        haze.extinction_per_m(there),
        depth,
        haze.transmission(depth, there),
        SMOKE_CAUTIONS,
    )
