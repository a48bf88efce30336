"""The light on one stage as a meter and an eye would find it, from the lamps placed there."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..angles import turn_deg
from ..camera import Array
from ..light import mired_shift, shadow_length_m, width_at_m
from ..plan.plate import DAYLIGHT_K, LampRole, Plate
from ..plan.shot import Shot
from .action import action_point_m, set_points_m
from .gels import gelled_k
from .room_light import Walls, given_back
from .shine import OneSpot, Source, angular_size_deg, illuminance
from .sources import sources_of

Role = Literal["key", "fill", "back", "screen", "practical", "played"]
#: In the order in which a key is looked for: what is meant to be one, what is meant for nothing
#: else, and what shines for other reasons. A lamp for the screen never is the key.
KEYS: tuple[tuple[LampRole, ...], ...] = (("key",), ("",), ("practical", "played"))
#: A lamp this far round from straight ahead still comes from behind the action, degrees.
BACK_TO_DEG = 75.0
#: A lamp aimed no nearer to the screen than this lights the screen, not the action.
AT_THE_SCREEN_M = 0.3
#: A millionth of the darkest night: a lamp that gives less gives nothing.
NOTHING_LUX = 1e-9


@dataclass(frozen=True)
class LampLight:
    """What one lamp does at the action.

    `face_lux`: on a receptor that faces it; `meter_lux`: on the one that faces the key.
    `from_deg`: 0 ahead of the camera's first direction, 90 from its right, 180 from behind it;
    `size_deg`: how wide it looks from the action; `penumbra_m`: soft edge of the shadow that the
    middle of the action throws on the ground, None for a lamp below it or one for the screen.
    """

    number: int
    name: str
    role: Role
    face_lux: float
    meter_lux: float
    from_deg: float
    elevation_deg: float
    distance_m: float
    size_deg: float
    penumbra_m: float | None
    shadow_m: float | None
    temperature_k: float


@dataclass(frozen=True)
class StageLight:
    """Light of one stage. `lux`: on a flat receptor that faces the key, from all that shines on it,
    what lights the screen and what the room gives back too; a lamp that plays comes on top.
    `ratio_stops`: key side over shadow side, None where nothing reaches that. `falloff_stops`:
    brightest over darkest point of what stands there, in the key. `shadow_side_lux`: all light on
    the shadow side, which faces the fill; where no lamp fills, it faces away from the key. Of lamps
    for the screen what reaches a surface turned to the camera counts. `room_lux` and
    `room_shadow_lux`: what of the two the room gives back.
    `lights_off_stops`: how far under the take a pass without the key is, None when nothing is left.
    """

    at_m: tuple[float, float, float]
    lamps: tuple[LampLight, ...]
    key: int | None
    lux: float
    shadow_side_lux: float
    ratio_stops: float | None
    falloff_stops: float
    #: Nearest and farthest that the key is from what stands there.
    key_near_m: float
    key_far_m: float
    lights_off_stops: float | None
    room_lux: float = 0.0
    room_shadow_lux: float = 0.0

    @property
    def key_lamp(self) -> LampLight | None:
        """The key, if there is one."""
        return next((x for x in self.lamps if x.number == self.key), None)


def direction(way: Array, pan_deg: float) -> tuple[float, float]:
    """(from, elevation) in degrees of a way from the action to a light, as `Shot.key_from_deg`
    tells it; from lies in -180..180."""
    flat = math.hypot(float(way[0]), float(way[1]))
    turn = math.degrees(math.atan2(float(way[0]), float(way[1]))) - pan_deg
    return turn_deg(turn), math.degrees(math.atan2(float(way[2]), flat))


def lights_screen(plate: Plate, number: int, screen_y_m: float | None) -> bool:
    """Whether a lamp is there for the screen, or aimed at it and meant for nothing else."""
    if plate.lamps[number].role:
        return plate.lamps[number].role == "screen"
    aim = plate.lamps[number].aim
    if screen_y_m is None or aim is None:
        return False
    return aim[1] >= screen_y_m - AT_THE_SCREEN_M


def _meant(plate: Plate, number: int, screen_y_m: float | None) -> LampRole:
    """What a lamp is there for, as far as that is told or seen from its aim and its cue."""
    if plate.lamps[number].role:
        return plate.lamps[number].role
    if lights_screen(plate, number, screen_y_m):
        return "screen"
    return "played" if number in map(plate.lamp_of, plate.cues) else ""


def _key_among(meant: list[LampRole], faces: Array) -> int | None:
    """The brightest of the lamps that light the action; None where none does."""
    for roles in KEYS:
        lit = [i for i, role in enumerate(meant) if role in roles and faces[i] > 0.0]
        if lit:
            return max(lit, key=lambda i: faces[i])
    return None


def _role(meant: LampRole, turn_deg: float) -> Role:
    """What a lamp that is not the key does."""
    if meant == "" or meant == "key":
        return "back" if abs(turn_deg) < BACK_TO_DEG else "fill"
    return meant


def stage_light(
    shot: Shot,
    plate: Plate,
    names: list[str | None],
    screen_y_m: float | None = None,
    sources: tuple[Source, ...] | None = None,
    walls: Walls | None = None,
) -> StageLight | None:
    """The light at the action of `plate`; None without lamps or action. `names` by lamp; `walls` of
    a room that gives light back."""
    at = action_point_m(shot, plate)
    if at is None or not plate.lamps:
        return None
    sources = sources_of(shot, plate) if sources is None else sources
    if not sources:
        return None
    point = np.array([at])
    spot = OneSpot(sources, point)
    faces = _seen(spot.on(None))
    meant = [_meant(plate, s.number, screen_y_m) for s in sources]
    best = _key_among(meant, faces)
    key = None if best is None else sources[best]
    facing = None if key is None else _towards(key, point[0])
    meter = _seen(spot.on(facing)) if facing is not None else faces
    pan = math.radians(shot.world.pan_deg)
    to_camera = np.array([-math.sin(pan), -math.cos(pan), 0.0])
    lamps = []
    for source, face, flat, role in zip(sources, faces, meter, meant, strict=True):
        way = _towards(source, point[0])
        turn, up = direction(way, shot.world.pan_deg)
        distance = float(np.linalg.norm(source.at_m - point[0]))
        size = angular_size_deg(source, point[0])
        lamps.append(
            LampLight(
                source.number,
                names[source.number] or "",
                "key" if source is key else _role(role, turn),
                float(face),
                float(flat),
                turn,
                up,
                math.inf if source.parallel else distance,
                size,
                _penumbra(at[2], up, size) if role != "screen" else None,
                shadow_length_m(at[2], up) if up > 1.0 and at[2] > 0 and role != "screen" else None,
                gelled_k(source.lamp.temperature_k, plate.lamps[source.number].gel),
            )
        )
    fill = sum(x.face_lux for x in lamps if x.role in ("fill", "practical"))
    rest = sum(x.meter_lux for x in lamps if x.role in ("fill", "back", "practical"))
    # Cards of then leave out what lamps for the screen throw on the action.
    if not shot.old_rules:
        cloth = [x.role == "screen" for x in lamps]
        fill += float(_seen(spot.on(to_camera))[cloth].sum())
        rest += sum(x.meter_lux for x in lamps if x.role == "screen")
    back, in_shadow = _from_room(walls, sources, point[0], facing, lamps)
    still = np.array([x.role != "played" for x in lamps])
    room, room_shadow = float(back[still].sum()), float(in_shadow[still].sum())
    off = np.array([x.role not in ("key", "played") for x in lamps])
    rest += float(back[off].sum())
    fill += room_shadow
    key_lux = 0.0 if best is None else float(faces[best])
    ratio = math.log2((key_lux + fill) / fill) if fill > 0.0 and key_lux > 0.0 else None
    total = rest + sum(x.meter_lux for x in lamps if x.role == "key")
    total += float(back[still & ~off].sum())
    falloff, near, far = _across(shot, plate, key)
    return StageLight(
        at,
        tuple(lamps),
        None if key is None else key.number,
        total,
        fill,
        ratio,
        falloff,
        near,
        far,
        math.log2(total / rest) if rest > 0.0 and total > 0.0 else None,
        room,
        room_shadow,
    )


def _from_room(
    walls: Walls | None,
    sources: tuple[Source, ...],
    at: Array,
    facing: Array | None,
    lamps: list[LampLight],
) -> tuple[Array, Array]:
    """What the room gives back of each lamp to a receptor that faces the key, and to one on the
    shadow side (s,): towards the fill, or away from the key where there is none."""
    if walls is None or facing is None:
        return np.zeros(len(sources)), np.zeros(len(sources))
    fills = [
        _towards(s, at) * x.face_lux
        for s, x in zip(sources, lamps, strict=True)
        if x.role in ("fill", "practical")
    ]
    shadow = np.sum(fills, axis=0) if fills else -facing
    long = float(np.linalg.norm(shadow))
    both = np.stack([facing, shadow / long if long > 1e-9 else -facing])
    back, in_shadow = given_back(walls, sources, at, both).T
    return back, in_shadow


def _seen(lux: Array) -> Array:
    """Light (lamps,) with what no meter could find taken as none."""
    found: Array = np.where(lux < NOTHING_LUX, 0.0, lux)
    return found


def _towards(source: Source, point: Array) -> Array:
    """Unit vector from a point to the lamp."""
    if source.parallel:
        away: Array = -source.axis
        return away
    way = source.at_m - point
    found: Array = way / max(float(np.linalg.norm(way)), 1e-9)
    return found


def _penumbra(height_m: float, elevation_deg: float, size_deg: float) -> float | None:
    """Soft edge on the ground, across the light, of what stands `height_m` high: the way from
    there to the ground times the angle of the source."""
    if elevation_deg <= 1.0 or height_m <= 0.0:
        return None
    way = height_m / math.sin(math.radians(min(elevation_deg, 90.0)))
    return width_at_m(size_deg, way)


def _across(shot: Shot, plate: Plate, key: Source | None) -> tuple[float, float, float]:
    """(fall-off in stops, nearest, farthest) of the key over everything that stands there."""
    points = set_points_m(shot, plate)
    if key is None or not len(points) or key.parallel:
        return 0.0, math.inf, math.inf
    away = np.linalg.norm(points - key.at_m, axis=1)
    lit = illuminance((key,), points)[0]
    least = float(lit.min())
    stops = math.log2(float(lit.max()) / least) if least > 0.0 else math.inf
    return stops, float(away.min()), float(away.max())


def colour_off_mired(shot: Shot, plate: Plate, temperature_k: float) -> float | None:
    """How far the key's colour in the picture is from the story's, mired; None while the story
    does not say. Both are told against what their camera is balanced to."""
    if shot.key_temperature_k is None:
        return None
    story = mired_shift(DAYLIGHT_K, shot.key_temperature_k)
    return mired_shift(plate.white_k, temperature_k) - story
