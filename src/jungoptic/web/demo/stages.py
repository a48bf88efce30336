"""Where the demo's plates are filmed: rooms, tables, lamps, moves, eyelines.

Shots 2, 3, 8, 9 and 13 are planned on the Bench. Two plates break, each in a way worth learning
from: the mill's lens axis (shot 2) and the rate that a breaking wheel asks for (shot 9).
"""

from __future__ import annotations

from typing import Any

from ..kit.models import Lamp, Lens, Mode, Room
from ..plans.models import Plate, Shot, StandIn

#: Moves, air and padding of the world camera, by shot.
WORLDS: dict[str, dict[str, Any]] = {
    "2": {"padding": 0.04, "visibility_m": 900.0},
    "8": {"move_away_m": 0.6, "padding": 0.05, "visibility_m": 400.0},
    "13": {"move_right_m": 3.0, "move_pan_deg": -4.0, "padding": 0.05, "visibility_m": 4000.0},
}
#: Lamps of a stage: name, x, y, z in stage metres, level.
Placed = tuple[str, float, float, float, float]
MILL_LAMPS: tuple[Placed, ...] = (
    ("LED panel", 0.35, 1.5, 0.75, 1.0),
    ("LED panel", -0.1, 1.25, 0.85, 1.0),
    ("LED panel", -1.2, 1.4, 0.9, 1.0),
)
KITCHEN_LAMPS: tuple[Placed, ...] = (
    ("LED panel", -1.4, 0.8, 1.9, 1.0),
    ("650 W fresnel", -1.5, 2.9, 2.1, 0.5),
)
#: Decisions of plates, by shot and by the beginning of the plate's name.
STAGES: tuple[tuple[str, str, dict[str, Any], str | None, tuple[Placed, ...]], ...] = (
    ("2", "Mill miniature", {"table_m": 0.8, "iso": 800.0}, "Garage", MILL_LAMPS),
    ("2", "Ansa on green", {}, "Yard", ()),
    ("3", "Half A", {}, "Kitchen", KITCHEN_LAMPS),
    ("3", "Half B", {}, "Kitchen", KITCHEN_LAMPS),
    ("3", "Clean plate", {}, "Kitchen", KITCHEN_LAMPS),
    ("8", "Foreground", {"screen_width_m": 3.0, "screen_height_m": 3.0}, "Yard", ()),
    ("8", "Backing plate", {"table_m": 0.75}, "Garage", (("650 W fresnel", 1.0, 3.6, 1.2, 1.0),)),
    ("9", "Wheel, breaking", {}, "Garage", ()),
    ("9", "Element", {}, "Yard", ()),
    ("13", "Plate on a slider", {}, "Yard", ()),
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
        plate.lamps = [
            {"lamp_id": str(lamps[one].pk), "x_m": x, "y_m": y, "z_m": z, "level": level}
            for one, x, y, z, level in placed
        ]
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
        speed_m_s=0.8,
        course_deg=85.0,
    )
