"""Four ordinary shots of the demo that were written between the others, a close-up cut into
another, and a shot from the set-up of another: what the frame shows, and when, decides in each.

Somebody walks towards the lens and leaves the focus; a camera pans over a table and does not turn
about its entrance pupil; a face fills the picture, and the cloth need only be behind it; somebody
stands small and high in the picture, and is filmed near, in a kitchen.
"""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from jungoptic.core.lockoff.group import LOCKED

from ..kit.models import Lamp, Lens, Mode, Room
from ..plans.fields import ViewFields
from ..plans.models import Plate, Shot, StandIn
from ..plans.trick_fields import RampFields
from ..productions.models import Production

#: What the camera in the story has that stands where another shot left it.
AS_BEFORE = (
    *("delivery_width_px", "delivery_height_px", "playback_fps", "sensor_width_mm", "focal_mm"),
    *("camera_height_m", "tilt_deg", "key_from_deg", "key_elevation_deg", "key_kind"),
    *("key_ratio_stops", "key_size_deg", "key_temperature_k", "key_level_stops", "light_note"),
)
#: The view cut into shot 3.
CLOSE = uuid.uuid5(uuid.NAMESPACE_OID, "Ansa, close")
#: number, after which shot, title, action, place, decisions of the shot.
SHOTS: tuple[tuple[str, float, str, str, str, dict[str, Any]], ...] = (
    (
        "7A",
        7.5,
        "Ilse comes to the lamp",
        "Out of the dark of the kitchen, towards us, until the lamp is in her face.",
        "Kitchen",
        {"focal_mm": 52.0, "camera_height_m": 1.45, "tilt_deg": 0.0, "screen_time_s": 3.0},
    ),
    (
        "9A",
        9.5,
        "Along the drowned street",
        "The camera turns along the street of the drowned town, gable by gable.",
        "Street, on a table",
        {
            "focal_mm": 35.0,
            "camera_height_m": 1.5,
            "tilt_deg": 1.5,
            "pan_deg": -10.0,
            "move_pan_deg": 20.0,
            "screen_time_s": 5.0,
        },
    ),
    (
        "10A",
        10.5,
        "One face among the lamps",
        "Ansa looks for her sister among the lamp-bearers; as she finds her, time slows.",
        "Embankment",
        {
            "focal_mm": 64.0,
            "camera_height_m": 1.5,
            "tilt_deg": 0.0,
            "screen_time_s": 2.5,
            "story_speed_keys": [{"frame": 31, "speed": 0.5}],
        },
    ),
    (
        "10B",
        10.5,
        "One light on the lock gate",
        "High over the water one bearer stays when the others have gone.",
        "Lock gate",
        {
            "focal_mm": 35.0,
            "camera_height_m": 1.6,
            "tilt_deg": 5.0,
            "screen_time_s": 4.0,
            "visibility_m": 500.0,
            # The bearer is what it ends on.
            "move_zoom": 1.6,
        },
    ),
)


def set_up(
    production: Production,
    between: dict[str, Shot],
    rooms: dict[str, Room],
    lamps: dict[str, Lamp],
    modes: list[Mode],
    lenses: dict[int, Lens],
) -> None:
    """Write the four shots in between the others."""
    made = {}
    for number, after, title, action, place, values in SHOTS:
        whole = str(int(after))
        made[number] = Shot.objects.create(
            production=production,
            number=number,
            title=title,
            action=action,
            place=place,
            time_of_day="night",
            position=between[whole].position + (0.7 if number.endswith("B") else 0.5),
            delivery_width_px=production.delivery_width_px,
            delivery_height_px=production.delivery_height_px,
            playback_fps=production.playback_fps,
            **values,
        )

    def uses(mode: int, lens: int) -> dict[str, Any]:
        return {"body": modes[mode].body, "mode": modes[mode], "lens": lenses[lens]}

    walk = Plate.objects.create(
        shot=made["7A"],
        name="Ilse, towards us",
        kind="live",
        f_number=2.8,
        iso=1600.0,
        room=rooms["Kitchen"],
        **uses(0, 50),
    )
    # From the far wall to a metre and a half before the lens.
    _thing(walk, "Ilse", "figure", 0.05, 3.3, 1.66, speed_m_s=0.6, course_deg=180.0)
    street = Plate.objects.create(
        shot=made["9A"],
        name="Street miniature",
        kind="miniature",
        scale=12.0,
        f_number=15.0,
        iso=1600.0,
        table_m=0.8,
        drop_m=0.04,
        room=rooms["Garage"],
        **uses(0, 28),
    )
    for name, x, y, wide, high in (
        ("Near gable", -1.9, 8.1, 2.2, 4.6),
        ("Second gable", 0.4, 10.0, 3.0, 6.2),
        ("Far gable", 3.0, 11.8, 3.4, 7.0),
    ):
        _thing(street, name, "box", x, y, high, width_m=wide, depth_m=2.4, heading_deg=8.0)
    walker = Plate.objects.create(
        shot=made["9A"],
        name="Ansa in the street",
        kind="screen",
        cut="key",
        position=2.0,
        f_number=5.6,
        iso=800.0,
        screen_width_m=3.0,
        screen_height_m=3.0,
        screen_gap_m=2.0,
        screen_sweep_m=3.0,
        turns_about="pupil",
        room=rooms["Yard"],
        **uses(0, 28),
    )
    _thing(walker, "Ansa", "figure", 1.0, 9.4, 1.68)
    face = Plate.objects.create(
        shot=made["10A"],
        name="Ansa's face on green",
        kind="screen",
        f_number=4.0,
        iso=800.0,
        screen_width_m=3.0,
        screen_height_m=2.2,
        screen_gap_m=2.0,
        shutter_deg=172.8,
        room=rooms["Garage"],
        lamps=_lit(lamps),
        **uses(0, 60),
    )
    _thing(face, "Ansa", "figure", 0.0, 1.7, 1.68)
    _on_the_gate(made["10B"], rooms, uses)
    _close_up(between["3"], rooms["Kitchen"], uses(0, 60))


def empty_chairs(before: Shot) -> None:
    """The kitchen after the twins have left it, a shot of its own from the set-up of shot 3: the
    tripod has not been touched."""
    shot = Shot.objects.create(
        production=before.production,
        number="3A",
        title="The empty chairs",
        action="They have gone. The lamp over the table burns on.",
        place=before.place,
        time_of_day=before.time_of_day,
        position=before.position + 0.5,
        screen_time_s=2.0,
        **{name: getattr(before, name) for name in AS_BEFORE},
    )
    half = before.plates.get(name="Half A: Ansa")
    Plate.objects.create(
        shot=shot,
        name="Kitchen, nobody",
        kind="live",
        lock_group=half.lock_group,
        film_on=half.film_on,
        lamps=half.lamps,
        takes_planned=2,
        why="Filmed when the twins have gone, before the tripod is moved.",
        **{name: getattr(half, name) for name in LOCKED},
    )


def _on_the_gate(
    shot: Shot, rooms: dict[str, Room], uses: Callable[[int, int], dict[str, Any]]
) -> None:
    """The gate is a miniature; who stands on it is filmed in the kitchen and placed in post."""
    gate = Plate.objects.create(
        shot=shot,
        name="Gate miniature",
        kind="miniature",
        scale=12.0,
        f_number=13.0,
        iso=1600.0,
        table_m=0.8,
        drop_m=0.2,
        room=rooms["Garage"],
        **uses(0, 28),
    )
    _thing(gate, "Upper gate", "box", 0.5, 36.0, 5.2, width_m=13.0, depth_m=0.8)
    _thing(gate, "Winch house", "box", -8.0, 37.0, 6.8, width_m=3.4, depth_m=3.0)
    bearer = Plate.objects.create(
        shot=shot,
        name="Bearer, in the kitchen",
        kind="screen",
        position=2.0,
        ground_m=5.2,
        f_number=5.6,
        iso=800.0,
        screen_width_m=2.4,
        screen_height_m=2.3,
        screen_gap_m=0.9,
        screen_sweep_m=1.4,
        placed_in_post=True,
        placed_from_m=2.6,
        room=rooms["Kitchen"],
        why="Small and high in the picture: no room is long enough to film it from there.",
        **uses(1, 20),
    )
    _thing(bearer, "Lamp-bearer", "figure", 2.4, 36.0, 1.7, z_m=5.2)


def _close_up(shot: Shot, room: Room, kit: dict[str, Any]) -> None:
    """Another view cut into shot 3: Ansa's face as she asks for the heron, and time slows. The
    camera stands at the table, turned to her."""
    view = ViewFields(
        id=str(CLOSE),
        name="Ansa, close",
        focal_mm=80.0,
        camera_height_m=1.24,
        screen_time_s=2.5,
        stands_right_m=-0.2,
        stands_ahead_m=0.55,
        turned_deg=-17.0,
        story_speed_keys=[RampFields(frame=25, speed=0.5)],
    )
    shot.views = [view.model_dump()]
    # The edit knows how long both are together.
    shot.screen_time_s -= view.screen_time_s
    shot.save()
    face = Plate.objects.create(
        shot=shot,
        name="Ansa's face",
        kind="live",
        view_id=CLOSE,
        position=9.0,
        f_number=4.0,
        iso=800.0,
        takes_planned=3,
        why="Her face as she asks: the split of the wide is never seen here.",
        room=room,
        **kit,
    )
    _thing(face, "Ansa, asking", "figure", -0.75, 2.35, 1.32)


def _thing(
    plate: Plate, name: str, kind: str, x: float, y: float, high: float, **more: Any
) -> StandIn:
    return StandIn.objects.create(
        shot=plate.shot, plate=plate, name=name, kind=kind, x_m=x, y_m=y, height_m=high, **more
    )


def _lit(lamps: dict[str, Lamp]) -> list[dict[str, Any]]:
    """A panel on the face, and both banks on the cloth at the height of what is in the picture."""

    def lamp(name: str, x: float, y: float, z: float, level: float, **aim: float) -> dict[str, Any]:
        place = {"x_m": x, "y_m": y, "z_m": z, "level": level}
        return {"lamp_id": str(lamps[name].pk), **place, **aim}

    at = {"aim_x_m": 0.0, "aim_y_m": 3.7, "aim_z_m": 1.55}
    return [
        lamp("LED panel", -1.0, 0.9, 1.9, 0.75),
        lamp("Tube bank, 1.2 m", -1.5, 2.4, 1.55, 0.85, **at),
        lamp("Tube bank, 1.2 m", 1.5, 2.4, 1.55, 0.85, **at),
    ]
