"""Where the demo's plates are filmed: rooms, tables, lamps, moves, eyelines.

Shots 2, 3, 8, 9 and 13 are planned on the Bench; 2, 8, 10, 11 and 13 are lit. Three plates break,
each in a way worth learning from: the mill's lens axis (shot 2), a key on the wrong side (shot 8)
and the rate that a breaking wheel asks for (shot 9). The screen of shot 8 is lit unevenly.
Two more plates break by their tricks; see `tricks`.
"""

from __future__ import annotations

import datetime
import uuid
from typing import Any

from ..kit.models import Lamp, Lens, Mode, Room
from ..plans.models import Plate, Shot, StandIn

#: The beat of shot 11 that a lamp waits for.
ROOF = str(uuid.uuid5(uuid.NAMESPACE_OID, "the roof gives way"))
#: Moves, air, padding and light of the story, by shot.
WORLDS: dict[str, dict[str, Any]] = {
    "2": {
        "padding": 0.04,
        "visibility_m": 900.0,
        # The sun just up, wide and warm in the haze.
        "key_kind": "sun",
        "key_size_deg": 5.0,
        "key_temperature_k": 4300.0,
        "key_ratio_stops": 2.0,
    },
    "8": {
        "move_away_m": 0.6,
        "padding": 0.05,
        "visibility_m": 400.0,
        "key_kind": "lamp",
        "key_size_deg": 4.0,
        "key_level_stops": -1.0,
    },
    "10": {
        "key_kind": "lamp",
        "key_ratio_stops": 2.5,
        "key_level_stops": -1.5,
        "visibility_m": 700.0,
    },
    "11": {
        "key_kind": "lamp",
        "key_temperature_k": 2300.0,
        "key_level_stops": -1.0,
        "beats": [{"id": ROOF, "name": "The roof gives way", "frame": 61}],
    },
    "13": {
        "move_right_m": 3.0,
        "move_pan_deg": -4.0,
        "padding": 0.05,
        "visibility_m": 4000.0,
        # The moon through thin cloud; by day the sun plays it.
        "key_kind": "sun",
        "key_size_deg": 4.0,
        "key_level_stops": -2.0,
    },
}


def _lamp(
    name: str, x: float, y: float, z: float, level: float = 1.0, **more: Any
) -> tuple[str, dict[str, Any]]:
    """A lamp of a stage by name, stage metres."""
    return name, {"x_m": x, "y_m": y, "z_m": z, "level": level, **more}


def _at(x: float, y: float, z: float) -> dict[str, float]:
    """Where a lamp is aimed."""
    return {"aim_x_m": x, "aim_y_m": y, "aim_z_m": z}


Placed = tuple[str, dict[str, Any]]
#: The sun of shot 2 is the fresnel, through the gap between wall and set; a panel fills.
MILL_LAMPS: tuple[Placed, ...] = (
    _lamp("650 W fresnel", 1.9, 4.15, 0.85),
    _lamp("LED panel", -1.4, 0.4, 0.8, 0.6, gel="orange-34"),
)
KITCHEN_LAMPS: tuple[Placed, ...] = (
    _lamp("LED panel", -1.4, 0.8, 1.9, 0.4, gel="orange-34"),
    _lamp("650 W fresnel", -1.7, 2.95, 2.05, 0.5),
)
#: Both banks on one side: the shortest cable, and an uneven screen.
DOOR_LAMPS: tuple[Placed, ...] = (
    _lamp("LED panel", -0.7, 12.0, 2.0, 0.5),
    _lamp("Tube bank, 1.2 m", -2.4, 12.6, 1.3, 1.0, **_at(-0.1, 14.55, 1.3)),
    _lamp("Tube bank, 1.2 m", -2.4, 12.2, 1.3, 1.0, **_at(-0.1, 14.55, 1.3)),
)
BANK_LAMPS: tuple[Placed, ...] = (
    _lamp("650 W fresnel", -2.57, 13.3, 2.55),
    _lamp("LED panel", -6.3, 14.0, 1.6, 0.7, gel="orange-34"),
)
FIRE_LAMPS: tuple[Placed, ...] = (
    _lamp("650 W fresnel", -3.4, 8.0, 1.5, gel="orange-34"),
    _lamp("LED panel", -3.6, 7.4, 2.2, key="roof", gel="orange-34"),
)
#: A panel, wide and far: the moon lights all of the heron's way alike.
HERON_LAMPS: tuple[Placed, ...] = (_lamp("LED panel", -1.3, 9.16, 3.89),)


def _swatch(name: str, kind: str, red: int, green: int, blue: int) -> dict[str, Any]:
    """A colour before a screen."""
    return {"name": name, "kind": kind, "red": red, "green": green, "blue": blue}


ANSA = [
    _swatch("Ansa's face", "skin", 205, 160, 135),
    _swatch("Ansa's hair", "hair", 74, 52, 40),
    _swatch("Oilskin", "wardrobe", 214, 172, 52),
]
FLICKER = {"kind": "fire", "lamp": 0, "low": 0.25, "high": 1.0, "per_s": 1.2, "seed": 11}
STORM = {"kind": "lightning", "lamp": 0, "low": 0.0, "high": 1.0, "per_s": 0.5, "seed": 4}
#: By hand: a flare as the roof gives way, that sinks to a glow.
FLARE = {
    "kind": "drawn",
    "lamp": 1,
    "lamp_key": "roof",
    "beat_id": ROOF,
    "keys": [
        {"at_s": 0.0, "level": 0.05},
        {"at_s": 0.25, "level": 0.9},
        {"at_s": 0.75, "level": 0.45},
        {"at_s": 1.25, "level": 0.3},
    ],
}
NEXT_SPRING = datetime.date(2027, 4, 10)
#: Decisions of plates, by shot and by the beginning of the plate's name.
STAGES: tuple[tuple[str, str, dict[str, Any], str | None, tuple[Placed, ...]], ...] = (
    (
        "2",
        "Mill miniature",
        {"table_m": 0.8, "iso": 3200.0, "white_k": 3870.0},
        "Garage",
        MILL_LAMPS,
    ),
    ("2", "Ansa on green", {"screen_sweep_m": 3.0, "swatches": ANSA}, "Yard", ()),
    ("3", "Half A", {"white_k": 3200.0}, "Kitchen", KITCHEN_LAMPS),
    ("3", "Half B", {"white_k": 3200.0}, "Kitchen", KITCHEN_LAMPS),
    ("3", "Clean plate", {"white_k": 3200.0}, "Kitchen", KITCHEN_LAMPS),
    (
        "8",
        "Foreground",
        {
            "screen_width_m": 3.0,
            "screen_height_m": 3.0,
            "swatches": [*ANSA[:2], _swatch("Moss shawl", "wardrobe", 84, 116, 62)],
        },
        "Yard",
        DOOR_LAMPS,
    ),
    (
        "8",
        "Backing plate",
        {"table_m": 0.75, "white_k": 3200.0, "cue": STORM},
        "Garage",
        # On the wrong side: in front, where the story has lightning behind the mill.
        (_lamp("650 W fresnel", 1.0, 3.6, 1.2),),
    ),
    ("9", "Wheel, breaking", {}, "Garage", ()),
    ("9", "Element", {}, "Yard", ()),
    ("10", "Tiles of the crowd", {"white_k": 3200.0}, "Embankment", BANK_LAMPS),
    ("11", "Take with moving", {"cue": FLICKER, "more_cues": [FLARE]}, "Yard", FIRE_LAMPS),
    ("11", "Lamps off", {}, "Yard", ()),
    ("13", "Heron on green", {"white_k": 3200.0, "iso": 1600.0}, None, HERON_LAMPS),
    ("13", "Plate on a slider", {"film_on": NEXT_SPRING}, "Embankment", ()),
    ("13", "Day plate", {"film_on": NEXT_SPRING}, "Embankment", ()),
)


def set_up(
    shots: dict[str, Shot],
    rooms: dict[str, Room],
    lamps: dict[str, Lamp],
    modes: list[Mode],
    lenses: dict[int, Lens],
) -> None:
    """Set up the stages of the shots that are planned on the Bench."""
    # A move with padding takes a wider view than the recipes found for a locked camera.
    shots["13"].plates.update(lens=lenses[20])
    shots["8"].plates.update(body=modes[0].body, mode=modes[0], lens=lenses[28])
    _wheel(shots["9"], shots["2"])
    _heron(shots["13"])
    for number, values in WORLDS.items():
        Shot.objects.filter(pk=shots[number].pk).update(**values)
    for number, name, values, room, placed in STAGES:
        plate = Plate.objects.get(shot=shots[number], name__startswith=name)
        for field, value in values.items():
            setattr(plate, field, value)
        plate.room = rooms[room] if room else None
        plate.lamps = [{"lamp_id": str(lamps[one].pk), **values} for one, values in placed]
        plate.save()
    _walks(shots)


def _walks(shots: dict[str, Shot]) -> None:
    """Who moves, and who looks where."""
    ansa = StandIn.objects.get(shot=shots["2"], name="Ansa")
    # Towards the mill, slowly: she is tired, and the bridge is wet.
    ansa.speed_m_s, ansa.course_deg = 0.25, 270.0
    ansa.looks_at = StandIn.objects.get(shot=shots["2"], name="Tide mill")
    ansa.save()
    left, right = (StandIn.objects.get(shot=shots["3"], name=n) for n in ("Ansa", "Ilse"))
    for one, other in ((left, right), (right, left)):
        one.looks_at = other
        one.save()
    door = StandIn.objects.get(shot=shots["8"], name="Performer")
    door.looks_at = StandIn.objects.get(shot=shots["8"], name="Building outside")
    door.save()


def _wheel(shot: Shot, mill_shot: Shot) -> None:
    """Shot 9: the same model at 1:12, broken by falling water; gravity sets the rate."""
    mill = Plate.objects.get(shot=mill_shot, name="Mill miniature")
    wheel = Plate.objects.create(
        shot=shot,
        name="Wheel, breaking",
        kind="miniature",
        position=0.5,
        scale=12.0,
        f_number=11.0,
        iso=1600.0,
        motion="gravity",
        body=mill.body,
        mode=mill.mode,
        lens=mill.lens,
        drop_m=0.03,
        table_m=0.8,
        film_on=mill.film_on,
        why="The wheel itself leans and goes; splinters and spray are laid over it.",
        note="One take only: the wheel is sawn half through beforehand.",
        hazards=["water"],
        takes_planned=1,
    )
    for name, x, y, z, width, height, depth, speed in (
        ("Mill wheel", -1.4, 17.0, 0.0, 0.9, 4.2, 4.2, 1.5),
        ("Mill wall", -5.4, 17.5, 0.0, 5.5, 7.0, 5.0, 0.0),
    ):
        StandIn.objects.create(
            shot=shot,
            plate=wheel,
            name=name,
            kind="box",
            x_m=x,
            y_m=y,
            z_m=z,
            width_m=width,
            height_m=height,
            depth_m=depth,
            speed_m_s=speed,
            course_deg=80.0,
        )


def _heron(shot: Shot) -> None:
    """Shot 13: the heron on its own plate, crossing the picture while the camera tracks."""
    first = shot.plates.order_by("position").first()
    assert first is not None
    heron = Plate.objects.create(
        shot=shot,
        name="Heron on green",
        kind="puppet",
        position=first.position - 0.5,
        scale=2.0,
        f_number=8.0,
        motion="still",
        body=first.body,
        mode=first.mode,
        lens=first.lens,
        why="Animated against the cloth; the move is put on it in post.",
        cut="key",
        takes_planned=1,
    )
    StandIn.objects.create(
        shot=shot,
        plate=heron,
        name="Heron",
        kind="box",
        x_m=-3.2,
        y_m=11.0,
        z_m=2.4,
        width_m=1.4,
        height_m=0.5,
        depth_m=0.5,
        speed_m_s=0.4,
        course_deg=85.0,
    )
