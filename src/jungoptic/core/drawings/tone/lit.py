"""How bright the faces of a stage are, and how a screen shows that."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...camera import Array
from ...lighting.facing import on_faces
from ...lighting.on_stage import lighting
from ...lighting.owned import wanted_ratio
from ...lighting.shine import Source
from ...lighting.sources import sources_of
from ...lighting.story_key import towards_key
from ...stage.case import Case
from ..rail import haze_along

#: How bright air is against a white in normal light (judgement).
AIR = 0.35


def shining(case: Case) -> tuple[Source, ...]:
    """The lamps of a stage, worked out once."""
    return case.once("lamps in tone", lambda: sources_of(case.shot, case.plate, fine=False))


@dataclass(frozen=True)
class Lit:
    """What lights a stage: by its lamps, or before there are any by the story's key."""

    case: Case
    normal_lux: float
    room_lux: float

    @staticmethod
    def of(case: Case) -> Lit:
        light = lighting(case)
        room = 0.0 if light is None else (light.room_lux + light.room_shadow_lux) / 2.0
        normal = case.stage.lux_needed * 2.0**-case.shot.key_level_stops
        return Lit(case, normal, room)

    def shown(self, points: Array, normals: Array, gives: Array, away_m: Array) -> Array:
        """Greys (n,) as shown, 0..1, of faces at stage `points` that look along `normals` and give
        back a part of their light, seen through so much of the story's air."""
        case = self.case
        sources = shining(case)
        if sources:
            lux = on_faces(sources, points, normals).sum(axis=0) + self.room_lux
            bright = gives * lux / self.normal_lux
        else:
            bright = gives * self._story(normals)
        air = np.array(haze_along(case.shot, tuple(away_m.tolist())) or np.zeros(len(points)))
        return coded(bright * (1.0 - air) + AIR * air)

    def _story(self, normals: Array) -> Array:
        shot = self.case.shot
        if shot.key_from_deg is None or shot.key_elevation_deg is None:
            even: Array = 0.75 + 0.25 * normals[:, 2]
            return even
        way = towards_key(shot.key_from_deg + shot.world.pan_deg, shot.key_elevation_deg)
        ratio = max(wanted_ratio(shot), 0.1)
        lit: Array = np.maximum(normals @ way, 0.0) + 1.0 / (2.0**ratio - 1.0)
        found: Array = lit * 2.0**shot.key_level_stops
        return found


def coded(bright: Array) -> Array:
    """Light, 1 for a white in normal light, as a screen shows it (IEC 61966-2-1)."""
    x = np.clip(bright, 0.0, 1.0)
    found: Array = np.where(
        x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 1e-9) ** (1 / 2.4) - 0.055
    )
    return np.round(found, 3)
