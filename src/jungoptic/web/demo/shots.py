"""The fourteen shots of the demo as data: what the script says, and how each one is built."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

#: Weekends of the shoot, past and to come, by a short name.
DAYS = {
    "kitchen": "2026-10-10",
    "kitchen2": "2026-10-11",
    "table": "2026-11-07",
    "mill": "2026-11-28",
    "yard": "2026-11-29",
}
MILL, KITCHEN, BANK = "Tide mill, outside", "Kitchen", "Embankment"


@dataclass(frozen=True)
class Told:
    """One shot as the breakdown tells it. `recipes`: (key, passes wanted or None for required)."""

    number: str
    title: str
    action: str
    place: str
    time_of_day: str
    seconds: float
    edit_name: str
    world: dict[str, Any]
    recipes: tuple[tuple[str, tuple[str, ...] | None], ...] = ()
    light: dict[str, Any] = field(default_factory=dict)
    film_on: str | None = None
    #: What the advisor was told that the shot must show.
    shows: tuple[str, ...] = ("performer",)
    #: Stand-ins beyond those of the recipes: name, kind, x, y, z, width, height, depth.
    scenery: tuple[tuple[str, str, float, float, float, float, float, float], ...] = ()


def _light(bearing: float, key: float, up: float, note: str = "") -> dict[str, Any]:
    return {
        "camera_bearing_deg": bearing,
        "key_from_deg": key,
        "key_elevation_deg": up,
        "light_note": note,
    }


def _camera(focal: float, height: float, tilt: float = 0.0, pan: float = 0.0) -> dict[str, Any]:
    return {"focal_mm": focal, "camera_height_m": height, "tilt_deg": tilt, "pan_deg": pan}


SHOTS: tuple[Told, ...] = (
    Told(
        "1",
        "Dawn over the flooded town",
        "Along the sea wall while the night goes; roofs stand in the water.",
        "Sea wall",
        "dawn",
        6.0,
        "LKH_010",
        _camera(24.0, 1.6, 2.0),
        (("hyper-lapse", None),),
        _light(80.0, 15.0, 4.0),
        shows=("weather",),
    ),
    Told(
        "2",
        "The tide mill, wide",
        "Dawn. Ansa crosses the sluice bridge towards the mill; the wheel turns slowly. "
        "Painted town behind, two layers of haze.",
        MILL,
        "dawn",
        6.0,
        "LKH_020",
        _camera(32.0, 1.1, 3.0),
        (),
        _light(60.0, 40.0, 12.0),
        "mill",
        shows=("performer", "place"),
    ),
    Told(
        "3",
        "Kitchen: the twins argue",
        "Ansa left, Ilse right of the table. Ilse leans in; neither may cross the lamp.",
        KITCHEN,
        "evening",
        11.0,
        "LKH_030",
        _camera(30.0, 1.25, -3.0),
        (),
        _light(0.0, -60.0, 35.0),
        "kitchen",
        shows=("performer", "double"),
    ),
    Told(
        "4",
        "The key slides to Ilse's hand",
        "Across the table, by itself, past the lamp. Shadow and reflection stay.",
        KITCHEN,
        "evening",
        3.5,
        "LKH_040",
        _camera(50.0, 1.1, -5.5),
        (("unseen-hand", None),),
        _light(90.0, 25.0, 35.0),
        "kitchen2",
        shows=("object",),
    ),
    Told(
        "5",
        "The heron turns its head under glass",
        "Inside a bell jar on the bench; the glass bends its beak.",
        "Workbench",
        "night",
        4.0,
        "LKH_050",
        _camera(60.0, 1.15, -4.0),
        (("puppet-in-plate", ("clean", "acting", "puppet", "distortion")),),
        _light(180.0, 50.0, 40.0),
        "table",
        shows=("creature",),
    ),
    Told(
        "6",
        "The heron unfolds its wings",
        "On the bench, joint by joint; the crank drives the camera in.",
        "Workbench",
        "night",
        5.0,
        "LKH_060",
        _camera(50.0, 1.2, -5.0),
        (("puppet-stage", None),),
        _light(200.0, 35.0, 40.0),
        "table",
        shows=("creature", "place"),
    ),
    Told(
        "7",
        "The oilskin",
        "Ilse throws the oilskin; Ansa lands wearing it.",
        KITCHEN,
        "evening",
        2.5,
        "LKH_070",
        _camera(28.0, 1.3, -2.0),
        (("moving-split", None),),
        _light(0.0, -55.0, 35.0),
        "kitchen2",
        shows=("performer", "double", "transformation"),
    ),
    Told(
        "8",
        "The mill in the storm, from the kitchen door",
        "Ansa in the doorway; lightning shows the mill.",
        KITCHEN,
        "night",
        4.5,
        "LKH_080",
        _camera(35.0, 1.4, 1.0),
        (("view-through", ("front", "backing", "sky", "haze")),),
        _light(30.0, 10.0, 20.0),
        "yard",
        shows=("performer", "opening"),
    ),
    Told(
        "9",
        "The spring tide breaks the wheel",
        "Water over the sluice, splinters, the wheel leans and goes.",
        MILL,
        "night",
        3.0,
        "LKH_090",
        _camera(40.0, 1.2, 2.0),
        (("fire-element", ("element", "guess")),),
        _light(60.0, -30.0, 30.0),
        "mill",
        shows=("water", "impact"),
    ),
    Told(
        "10",
        "Forty lamp-bearers",
        "All the town on the embankment, a lamp in every hand.",
        BANK,
        "night",
        5.0,
        "LKH_100",
        # From the roof of the sluice: over the heads of the first row.
        _camera(28.0, 3.0, -4.0),
        (("small-crowd", ("tiles", "clean", "low")),),
        _light(120.0, 150.0, 25.0),
        "yard",
        shows=("crowd",),
    ),
    Told(
        "11",
        "Fire in the kitchen windows",
        "The panes glow and move; nobody sees a flame.",
        KITCHEN,
        "night",
        4.0,
        "LKH_110",
        _camera(35.0, 1.4, 0.0),
        (("fire-by-light", None),),
        _light(210.0, 190.0, 10.0),
        shows=("fire", "night"),
    ),
    Told(
        "12",
        "The lantern drifts through the room",
        "Off its hook, past Ansa's face, out at the door.",
        KITCHEN,
        "night",
        6.0,
        "LKH_120",
        _camera(32.0, 1.4, 0.0),
        (("wire-rod-rig", None),),
        _light(30.0, 20.0, 20.0),
        shows=("object",),
    ),
    Told(
        "13",
        "The heron flies over the moonlit flats",
        "Ilse seen from behind; the heron crosses the moon. The old poplar stays out of the sky.",
        "Flats",
        "night",
        7.0,
        "LKH_130",
        _camera(28.0, 1.5, 3.0),
        (("parallax-extension", None), ("day-for-night", ("take", "moon"))),
        _light(150.0, 5.0, 35.0),
        None,
        shows=("performer", "place", "flight", "night"),
        scenery=(
            ("Poplar", "box", 5.2, 31.0, 0.0, 1.6, 7.4, 1.6),
            ("Ilse", "figure", -1.6, 7.0, 0.0, 0.5, 1.68, 0.0),
        ),
    ),
    Told(
        "14",
        "The photograph of 1911",
        "On the wall a picture of the same view; it comes to life.",
        MILL,
        "day",
        8.0,
        "LKH_140",
        _camera(45.0, 1.6, 1.0),
        (("old-photo-match", None), ("lock-off-join", None)),
        _light(60.0, 120.0, 45.0),
        shows=("picture",),
    ),
)


def edit_list(fps: int = 24) -> str:
    """The shots as the edit list that the production began with (CMX 3600)."""
    lines = ["TITLE: THE LOCK-KEEPERS HERON", "FCM: NON-DROP FRAME", ""]
    record = 3600 * fps
    for number, told in enumerate(SHOTS, start=1):
        frames = round(told.seconds * fps)
        times = [_timecode(t, fps) for t in (0, frames, record, record + frames)]
        lines.append(f"{number:03d}  AX       V     C        {' '.join(times)}")
        lines.append(f"* FROM CLIP NAME: {told.edit_name}")
        record += frames
    return "\n".join(lines) + "\n"


def _timecode(frames: int, fps: int) -> str:
    seconds, rest = divmod(frames, fps)
    return f"{seconds // 3600:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d}:{rest:02d}"
