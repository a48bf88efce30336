"""The demo's exposure sheets: shot 6, whose wing is turned by a crank and half of which is made,
shot 5, whose puppet blinks by replacement, and shot 1, photographed along the sea wall.
"""

from __future__ import annotations

from typing import Any

from jungoptic.core.frames.follows import blink

from ..frames.fields import SheetFields
from ..frames.models import Sheet
from ..kit.models import MoveRig
from ..plans.models import Plate, Shot, StandIn


def _mark(frame: int, name: str = "", every: int = 0) -> dict[str, Any]:
    return {"frame": frame, "name": name, "every": every}


def _keep(
    plate: Plate, columns: list[dict[str, Any]], set_map: dict[str, Any] | None = None
) -> None:
    told = SheetFields.model_validate({"columns": columns, "set_map": set_map})
    Sheet.objects.create(shot=plate.shot, plate_id=plate.pk, **told.model_dump(mode="json"))


def set_up(shots: dict[str, Shot]) -> None:
    """Sheets for the puppets of shots 5 and 6, and for the walk along the sea wall."""
    _wings(shots["6"])
    _blinks(shots["5"])
    _wall(shots["1"])


def _wall(shot: Shot) -> None:
    """Shot 1: forty metres along the sea wall, the far tower kept in its place."""
    plate = shot.plates.get(name="Marked path")
    tower = StandIn.objects.get(shot=shot, name="Reference point")
    lapse = {
        "interval_s": 12.0,
        "exposure_s": 0.5,
        "path_right_m": 30.0,
        "path_ahead_m": 26.0,
        "aim_id": str(tower.pk),
        "held": "marks",
    }
    told = SheetFields.model_validate({"lapse": lapse})
    Sheet.objects.create(shot=shot, plate_id=plate.pk, **told.model_dump(mode="json"))


def _wings(shot: Shot) -> None:
    plate = shot.plates.get(name="Animation")
    heron = StandIn.objects.get(shot=shot, name="Puppet")
    crank = MoveRig.objects.get(production=shot.production, axis="crank")
    turn = crank.per_turn
    columns: list[dict[str, Any]] = [
        {
            "key": "part-1",
            "name": "Heron",
            "kind": "part",
            "thing_id": str(heron.pk),
            "marks": [
                _mark(1, "folded"),
                _mark(9, every=1),
                _mark(49, "half open"),
                _mark(57, every=1),
                _mark(97, "open", 2),
            ],
        },
        {
            "key": "axis-1",
            "name": "Wing",
            "kind": "axis",
            "axis": "crank",
            "rig_id": str(crank.pk),
            "thing_id": str(heron.pk),
            "arm_mm": 120.0,
            "legs": [
                {"first": 9, "frames": 40, "way": 8 * turn, "ease": "both"},
                {"first": 57, "frames": 40, "way": 9 * turn, "ease": "both"},
                {"first": 100, "frames": 8, "way": -turn, "ease": "both"},
            ],
        },
        {
            "key": "words-1",
            "name": "Sound and words",
            "kind": "words",
            "marks": [_mark(9, "ratchet"), _mark(49, "silence"), _mark(97, "spring")],
        },
    ]
    # How long it took is told by its pictures.
    _keep(plate, columns, _marsh(StandIn.objects.get(shot=shot, name="Bench")))


def _marsh(bench: StandIn) -> dict[str, Any]:
    """The set under the heron: farther in than an arm reaches, but for a bank that rolls out."""
    pieces = [
        {
            "key": "piece-1",
            "name": "Reed bank",
            "x_m": 0.2,
            "y_m": 1.67,
            "width_m": 0.9,
            "depth_m": 0.5,
            "height_m": 0.12,
            "turn_deg": -8.0,
            "opens": "rolls",
            "note": "reeds pinned in rows of nine",
        },
        {"key": "piece-2", "name": "Bench", "thing_id": str(bench.pk), "opens": ""},
        {
            "key": "piece-3",
            "name": "Painted sky",
            "x_m": 0.1,
            "y_m": 3.7,
            "width_m": 1.9,
            "depth_m": 0.02,
            "height_m": 1.1,
            "note": "its middle seam behind the bench",
        },
        {
            "key": "piece-4",
            "name": "Mooring post",
            "x_m": -0.55,
            "y_m": 2.7,
            "width_m": 0.06,
            "depth_m": 0.06,
            "height_m": 0.4,
            "turn_deg": 20.0,
        },
    ]
    edges = {"left_m": -0.95, "right_m": 1.05, "near_m": 1.6, "far_m": 3.75}
    return {**edges, "sides": ["near", "left", "right"], "pieces": pieces}


def _blinks(shot: Shot) -> None:
    plate = shot.plates.get(name="Puppet against a screen")
    heron = StandIn.objects.get(shot=shot, name="Creature")
    shut = [_mark(m.frame, m.name) for m in blink(40, shot.playback_fps)]
    columns: list[dict[str, Any]] = [
        {
            "key": "part-1",
            "name": "Head",
            "kind": "part",
            "thing_id": str(heron.pk),
            "marks": [_mark(1, "down"), _mark(13, every=2), _mark(61, "listening")],
        },
        {
            "key": "piece-1",
            "name": "Eyes",
            "kind": "piece",
            "pieces": [{"key": k} for k in ("open", "half", "shut")],
            "marks": [_mark(1, "open"), *shut],
        },
    ]
    _keep(plate, columns)
