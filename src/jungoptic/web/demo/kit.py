"""The demo's bodies, lenses, lamps, rooms and grip. Invented; no maker is meant."""

from __future__ import annotations

import datetime
from typing import Any

from ..kit.models import Body, Cloth, Cord, Lamp, Lens, Mode, MoveRig, Person, Room, Support
from ..plans.models import StandIn
from ..productions.models import Production

UHD = {"width_px": 3840, "height_px": 2160, "sensor_width_mm": 36.0, "sensor_height_mm": 20.25}
FULL_FRAME_ISO = {"base_iso": 100.0, "min_iso": 100.0, "max_iso": 12800.0}
BODIES: tuple[tuple[dict[str, Any], tuple[dict[str, Any], ...]], ...] = (
    (
        {
            "name": "Super 35 cinema body",
            "axis_height_mm": 105.0,
            "flange_mm": 44.0,
            "socket_mm": 12.0,
            "note": "With baseplate. Ours.",
        },
        (
            {
                "name": "4096 × 2160, 10-bit intra",
                "sensor_width_mm": 24.9,
                "sensor_height_mm": 13.1,
                "width_px": 4096,
                "height_px": 2160,
                "min_fps": 1.0,
                "max_fps": 60.0,
                "codec": "intra",
                "bitrate_mbps": 600.0,
                "bit_depth": 10,
                "subsampling": "4:2:2",
                "base_iso": 800.0,
                "min_iso": 200.0,
                "max_iso": 3200.0,
                "readout_ms": 13.0,
            },
        ),
    ),
    (
        {
            "name": "Full-frame stills body",
            "axis_height_mm": 62.0,
            "flange_mm": 18.0,
            "note": "Borrowed at weekends.",
            "borrowed": True,
        },
        (
            {
                "name": "3840 × 2160, 8-bit long-GOP",
                **UHD,
                "bitrate_mbps": 100.0,
                "readout_ms": 24.0,
                "min_fps": 24.0,
                "max_fps": 30.0,
                "codec": "long-GOP",
                "long_gop": True,
                **FULL_FRAME_ISO,
            },
            {
                "name": "1920 × 1080 fast, 8-bit long-GOP",
                **UHD,
                "bitrate_mbps": 60.0,
                "readout_ms": 8.0,
                "width_px": 1920,
                "height_px": 1080,
                "min_fps": 24.0,
                "max_fps": 120.0,
                "codec": "long-GOP",
                "long_gop": True,
                **FULL_FRAME_ISO,
            },
        ),
    ),
)
LENSES: tuple[dict[str, Any], ...] = (
    {"name": "20 mm prime", "focal": 20.0, "widest_stop": 2.0, "close_focus_m": 0.2, "length": 78},
    {"name": "28 mm prime", "focal": 28.0, "widest_stop": 2.0, "close_focus_m": 0.25, "length": 72},
    {"name": "50 mm prime", "focal": 50.0, "widest_stop": 1.4, "close_focus_m": 0.45, "length": 74},
    {"name": "85 mm prime", "focal": 85.0, "widest_stop": 1.8, "close_focus_m": 0.85, "length": 92},
    {
        "name": "60 mm close-focus",
        "focal": 60.0,
        "widest_stop": 2.8,
        "close_focus_m": 0.19,
        "length": 96,
    },
)
#: What is borrowed of them, by focal length.
LOANS: dict[int, dict[str, Any]] = {
    85: {
        "borrowed": True,
        "loan_first": datetime.date(2026, 10, 3),
        "loan_last": datetime.date(2026, 11, 29),
    }
}
LAMPS: tuple[dict[str, Any], ...] = (
    {"name": "LED panel", "lux_at_1m": 2600.0, "size_m": 0.45, "watts": 90.0, "count": 3},
    {
        "name": "650 W fresnel",
        "lux_at_1m": 9000.0,
        "size_m": 0.15,
        "kind": "fresnel",
        "beam_deg": 50.0,
        "watts": 650.0,
        "temperature_k": 3200.0,
    },
    {
        "name": "Tube bank, 1.2 m",
        "lux_at_1m": 1400.0,
        "size_m": 1.2,
        "width_m": 0.3,
        "kind": "bank",
        "watts": 80.0,
        "flicker_free": False,
        "count": 2,
    },
    {
        "name": "White card, 1 m",
        "kind": "bounce",
        "lux_at_1m": 1.0,
        "size_m": 1.0,
        "count": 2,
    },
)
RIGS: tuple[dict[str, Any], ...] = (
    {
        "name": "Slider with a geared crank",
        "axis": "track",
        "per_turn": 1.0,
        "steps_per_turn": 4,
        "travel": 800.0,
        "backlash": 0.5,
    },
    {
        "name": "Wing crank, 1:50",
        "axis": "crank",
        "per_turn": 7.2,
        "steps_per_turn": 12,
        "backlash": 1.8,
        "radius_mm": 40.0,
    },
)
SUPPORTS: tuple[dict[str, Any], ...] = (
    {"name": "Tripod", "lowest_mm": 450.0, "highest_mm": 1650.0},
    {"name": "Low stand with a head", "lowest_mm": 80.0, "highest_mm": 200.0},
    {
        "name": "Rail head on the old tripod",
        "lowest_mm": 520.0,
        "highest_mm": 1500.0,
        "turns_about": "pupil",
        "slide_mm": 150.0,
    },
    {
        "name": "Pram wheels and a plank",
        "lowest_mm": 500.0,
        "highest_mm": 1700.0,
        "travel_mm": 4000.0,
    },
    {"name": "Tripod on the barn platform", "lowest_mm": 1950.0, "highest_mm": 3150.0},
)
CLOTHS: tuple[dict[str, Any], ...] = (
    {"name": "Green cloth, 3 × 6 m", "width_m": 3.0, "length_m": 6.0},
    {"name": "Green board", "width_m": 1.5, "length_m": 1.5, "stiff": True},
    {"name": "Black velvet, 3 × 3 m", "width_m": 3.0, "length_m": 3.0, "colour": "black"},
)
CORDS: tuple[dict[str, Any], ...] = (
    {"name": "Black sewing thread", "diameter_mm": 0.18, "rated_kg": 1.2},
    {"name": "Clear line, 0.30 mm", "diameter_mm": 0.3, "rated_kg": 6.0, "clear": True},
)
#: Invented, all of them.
PEOPLE: tuple[dict[str, Any], ...] = (
    {"name": "Ansa", "height_m": 1.68},
    {"name": "Ilse", "height_m": 1.68},
    *(
        {"name": name, "height_m": height}
        for name, height in (
            ("Runa", 1.63),
            ("Mats", 1.82),
            ("Eyla", 1.59),
            ("Jonte", 1.76),
            ("Sif", 1.70),
            ("Odd", 1.88),
        )
    ),
    {"name": "Tove", "height_m": 1.74, "roles": ["driver"]},
    {"name": "Nils", "height_m": 1.81, "roles": ["animator", "driver"], "reach_m": 0.75},
)
#: (azimuth, elevation) of what stands around the yard: hedges, sheds, and the house to the west.
SKYLINE = ((0, 4), (70, 3), (110, 1), (200, 2), (235, 9), (250, 24), (300, 22), (320, 6))
ROOMS: tuple[dict[str, Any], ...] = (
    {
        "name": "Garage",
        "length_m": 6.0,
        "width_m": 5.4,
        "height_m": 2.4,
        "mains_hz": 50.0,
        "circuits": 2,
        # Bare blocks, and a shelf of tins.
        "reflectance": 0.35,
    },
    {"name": "Kitchen", "length_m": 4.2, "width_m": 3.6, "height_m": 2.5, "mains_hz": 50.0},
    {
        "name": "Yard",
        "length_m": 22.0,
        "width_m": 12.0,
        # The invented town, on the coast of the North Sea; the house stands to the west.
        "latitude_deg": 52.6,
        "longitude_deg": 1.7,
        "time_zone": "Europe/London",
        "horizon": [
            {"azimuth_deg": a, "elevation_deg": e}
            for a, e in (
                (0, 4),
                (70, 3),
                (110, 1),
                (200, 2),
                (235, 9),
                (250, 24),
                (300, 22),
                (320, 6),
            )
        ],
    },
    {
        "name": "Embankment",
        "length_m": 90.0,
        "width_m": 72.0,
        "latitude_deg": 52.6,
        "longitude_deg": 1.71,
        "time_zone": "Europe/London",
    },
)


def make_rooms_and_lamps(production: Production) -> tuple[dict[str, Room], dict[str, Lamp]]:
    """Rooms and lamps by name."""
    rooms = {r["name"]: Room.objects.create(production=production, **r) for r in ROOMS}
    lamps = {x["name"]: Lamp.objects.create(production=production, **x) for x in LAMPS}
    for rig in RIGS:
        MoveRig.objects.create(production=production, **rig)
    for support in SUPPORTS:
        Support.objects.create(production=production, **support)
    for cloth in CLOTHS:
        Cloth.objects.create(production=production, **cloth)
    for cord in CORDS:
        Cord.objects.create(production=production, **cord)
    for person in PEOPLE:
        Person.objects.create(production=production, **person)
    return rooms, lamps


def cast(production: Production) -> None:
    """Figures stand for those of whom they have the name."""
    figures = StandIn.objects.filter(shot__production=production, kind="figure")
    for person in production.persons.all():
        figures.filter(name=person.name).update(person=person)


def make_kit(production: Production) -> tuple[list[Mode], dict[int, Lens]]:
    """The kit: modes in order, lenses by focal length."""
    modes = []
    for body_values, mode_rows in BODIES:
        body = Body.objects.create(production=production, **body_values)
        modes += [Mode.objects.create(body=body, **row) for row in mode_rows]
    lenses = {}
    for row in LENSES:
        focal = row["focal"]
        lenses[int(focal)] = Lens.objects.create(
            production=production,
            name=row["name"],
            focal_min_mm=focal,
            focal_max_mm=focal,
            widest_stop=row["widest_stop"],
            smallest_stop=22.0,
            close_focus_m=row["close_focus_m"],
            t_over_f=1.08,
            **LOANS.get(int(focal), {}),
            length_mm=float(row["length"]),
            # The pupil of such lenses lies a little past the middle (invented, plausible).
            pupil_from_mount_mm=row["length"] * 0.55,
        )
    return modes, lenses
