"""The invented shot of `examples` on a set with lamps and a room, shared by the Bench's tests."""

from __future__ import annotations

from dataclasses import replace

from jungoptic.core.judging import judge_plate
from jungoptic.core.plan import Kit, Lamp, Move, PlacedLamp, Plate, Room, Shot
from jungoptic.core.plan.findings import Finding
from jungoptic.core.stage.case import Case

from .examples import KIT, MILL, shot

PANEL = Lamp("panel", "Panel", 2600.0, 0.45, 90.0, count=3)
TUBES = Lamp("tubes", "Tubes", 1400.0, 1.2, 80.0, flicker_free=False)
#: Hung with black: what rooms give back is asked about in `test_room_light`.
GARAGE = Room("garage", "Garage", 6.0, 5.4, 2.4, 50.0, reflectance=0.0)
#: The demo's invented town, on the east coast of England.
YARD = Room(
    "yard",
    "Yard",
    22.0,
    12.0,
    latitude_deg=52.6,
    longitude_deg=1.7,
    time_zone="Europe/London",
)
FRESNEL = Lamp("fresnel", "Fresnel", 9000.0, 0.15, 650.0, 3200.0, kind="fresnel")
BANK = Lamp("bank", "Bank", 1400.0, 1.2, 80.0, count=2, kind="bank")
FULL = Kit(KIT.bodies, KIT.lenses, (PANEL, TUBES, FRESNEL, BANK), (GARAGE, YARD))
TRACK = Move(right_m=2.0)


def one(plate: Plate = MILL, **changes: object) -> Shot:
    """A shot with the full kit and only this plate. Changes of the plate come with `plate_`."""
    own = {k.removeprefix("plate_"): v for k, v in changes.items() if k.startswith("plate_")}
    rest = {k: v for k, v in changes.items() if not k.startswith("plate_")}
    return shot(kit=FULL, plates=(replace(plate, **own),), **rest)  # type: ignore[arg-type]


def case_of(found: Shot) -> Case:
    """The case of the shot's first plate."""
    case = Case.of(found, found.plates[0])
    assert case is not None
    return case


def findings(found: Shot) -> dict[str, Finding]:
    """Every finding of the first plate, by its key."""
    return {f.key: f for f in judge_plate(case_of(found))}


def placed(lamp: str = "panel", x: float = 0.0, y: float = 1.0, z: float = 0.3) -> PlacedLamp:
    """A lamp on the stage."""
    return PlacedLamp(lamp, x, y, z)
