"""The demo's tricks: dividers, a throw, a crowd, rigs, a reframe and a card that is replaced.

Two of them break, to be learnt from: Ilse's elbow over the line of shot 3, and the thread in front
of Ansa's face in shot 12.
"""

from __future__ import annotations

import uuid
from typing import Any

from jungoptic.core.lockoff.throw import following

from ..plans.bridge import load
from ..plans.models import Plate, Shot, StandIn
from ..plans.stored import plan_json

#: Any ids will do, as long as they are the same each time.
_SPACE = uuid.UUID("5f6f1d0e-8f0b-4b7a-9d57-3f8a2a6c1e00")


def _id(word: str) -> str:
    return str(uuid.uuid5(_SPACE, word))


def _line(*points: tuple[float, ...], frame: int = 1) -> dict[str, Any]:
    return {"frame": frame, "points": [list(p) for p in points]}


def _split(
    word: str, first: Plate, second: Plate, *keys: dict[str, Any], **more: Any
) -> dict[str, Any]:
    return {
        "id": _id(word),
        "name": "the line",
        "first_id": str(first.pk),
        "second_id": str(second.pk),
        "upright": True,
        "feather_px": 16.0,
        "keys": list(keys),
        "shine_m": None,
        "throw": None,
        **more,
    }


def _beat(word: str, name: str, frame: int, plate: Plate, **more: Any) -> dict[str, Any]:
    values = {"with_id": None, "gap": 0, "allowed": 1, "cue": False, **more}
    return {"id": _id(word), "name": name, "frame": frame, "plate_id": str(plate.pk), **values}


def _place(shot: Shot, called: str, **values: Any) -> StandIn:
    """A stand-in of the shot, put elsewhere."""
    thing = StandIn.objects.get(shot=shot, name=called)
    for field, value in values.items():
        setattr(thing, field, value)
    thing.save()
    return thing


def set_up(shots: dict[str, Shot]) -> None:
    """Plan the tricks of the shots that are built on them."""
    _kitchen_twins(shots["3"])
    _sliding_key(shots["4"])
    _oilskin(shots["7"])
    _lamp_bearers(shots["10"])
    _lantern(shots["12"])
    _photograph(shots["14"])


def _kitchen_twins(shot: Shot) -> None:
    half_a, half_b = (shot.plates.get(name__startswith=n) for n in ("Half A", "Half B"))
    # The middle of all three: each for itself would focus elsewhere.
    shot.plates.update(focus_world_m=2.35)
    _place(shot, "Ansa", reach_m=0.25)
    _place(shot, "Ilse", reach_m=0.52)
    shot.splits = [
        _split("kitchen", half_a, half_b, _line((0.5, 0.0), (0.5, 1.0)), shine_m=0.75),
    ]
    shot.beats = [
        _beat("asks", "Ansa asks for the heron", 96, half_a),
        _beat(
            "leans", "Ilse leans in", 118, half_b, with_id=_id("asks"), gap=20, allowed=6, cue=True
        ),
    ]
    shot.save()


def _sliding_key(shot: Shot) -> None:
    plate = shot.plates.get(name__startswith="Object with the hand")
    key = _place(
        shot,
        "Object",
        name="Key",
        x_m=-0.45,
        width_m=0.09,
        height_m=0.03,
        depth_m=0.04,
        speed_m_s=0.25,
        course_deg=90.0,
    )
    plate.rig = {
        "thing_id": str(key.pk),
        "kind": "hand",
        "weight_kg": 0.08,
        "diameter_mm": None,
        "rated_kg": None,
        "colour": "plain",
        "turns_per_s": 0.0,
    }
    plate.save()
    shot.plates.update(room=None, white_k=3200.0, key_every=12)
    # Decided before anything is masked: the hand comes in where nobody will look.
    shot.reframe = {
        "aspects": [{"name": "Upright, 9:16", "width_px": 720, "height_px": 1280}],
        "keys": [
            {"frame": 1, "x": 0.44, "y": 0.5, "closer": 1.0},
            {"frame": 84, "x": 0.56, "y": 0.5, "closer": 1.1},
        ],
        "shake_px": 0.0,
    }
    shot.save()


def _oilskin(shot: Shot) -> None:
    first, second = (shot.plates.get(name__startswith=n) for n in ("A:", "B:"))
    shot.plates.update(focus_world_m=3.2)
    _place(shot, "Thrower", x_m=-0.95, y_m=3.2, reach_m=0.2)
    _place(shot, "Landing self", x_m=0.95, y_m=3.2, reach_m=0.2)
    throw = {
        "from_x_m": -0.6, "from_y_m": 3.2, "from_z_m": 1.4,
        "to_x_m": 0.72, "to_y_m": 3.2, "to_z_m": 1.35,
        "frame": 14, "frames": 11,
    }  # fmt: skip
    shot.splits = [
        _split("oilskin", first, second, _line((0.5, 0.0), (0.5, 1.0)), throw=throw),
    ]
    shot.beats = [
        _beat("throws", "Ilse throws the oilskin", 14, first, cue=True),
        _beat("lands", "Ansa lands in it", 26, second, with_id=_id("throws"), gap=12),
    ]
    shot.save()
    core = load(plan_json(Shot.objects.get(pk=shot.pk)))
    # The line runs ahead of it, as its finding proposes.
    follow = following(core, core.splits[0])
    assert follow is not None
    shot.splits[0]["keys"] = [_line(*key.points, frame=key.frame) for key in follow.keys]
    shot.save()


def _lamp_bearers(shot: Shot) -> None:
    tiles = shot.plates.get(name__startswith="Tiles")
    tiles.crowd = {
        "people": 8, "wanted": 40,
        "left_m": -5.5, "right_m": 5.5, "near_m": 12.0, "far_m": 18.4,
        "spacing_m": 0.9, "row_m": 1.6, "ground_m": 0.0,
        "wardrobe": 3, "poses": 3,
    }  # fmt: skip
    tiles.save()
    shot.plates.filter(name="Clean plate").update(
        white_k=tiles.white_k, room=tiles.room, lamps=tiles.lamps
    )


def _lantern(shot: Shot) -> None:
    rig = shot.plates.get(name="Rig take")
    lantern = _place(
        shot, "Object on a wire", name="Lantern", x_m=-0.75, y_m=3.0, z_m=1.15, width_m=0.18,
        height_m=0.3, depth_m=0.18, speed_m_s=0.22, course_deg=90.0,
    )  # fmt: skip
    StandIn.objects.create(
        shot=shot, plate=rig, name="Ansa", kind="figure", x_m=0.1, y_m=3.7, height_m=1.68
    )
    rig.rig = {
        "thing_id": str(lantern.pk),
        "kind": "thread",
        "weight_kg": 0.45,
        "diameter_mm": 0.8,
        "rated_kg": 4.0,
        "colour": "plain",
        "turns_per_s": 0.0,
    }
    rig.save()
    shot.plates.update(focus_world_m=3.2)


def _photograph(shot: Shot) -> None:
    half_a, half_b = (shot.plates.get(name=n) for n in ("Half A", "Half B"))
    shot.splits = [
        _split(
            "photograph",
            half_a,
            half_b,
            _line((0.52, 0.0), (0.5, 0.45), (0.47, 0.6), (0.47, 1.0)),
            feather_px=40.0,
        )
    ]
    shot.save()
    reference = shot.plates.get(name="Reference picture")
    wall = Plate.objects.create(
        shot=shot,
        name="Photograph on the wall",
        kind="live",
        position=reference.position + 0.5,
        why="The picture in its frame is replaced by the view that comes to life.",
        body=reference.body,
        mode=reference.mode,
        lens=reference.lens,
    )
    frame = StandIn.objects.create(
        shot=shot, plate=wall, name="Picture in its frame", kind="card",
        x_m=0.0, y_m=1.4, z_m=1.48, width_m=0.6, height_m=0.25,
    )  # fmt: skip
    wall.markers = {
        "surface_id": str(frame.pk),
        "insert": True,
        "size_mm": 6.0,
        "spacing_m": 0.1,
        "colour": [230, 120, 30],
        "surface": [128, 128, 128],
    }
    wall.save()
