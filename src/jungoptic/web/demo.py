"""The demo production, "The Lock-Keeper's Heron". Everything here is invented.

It opens half-way through the job: shot 2 has a plate that breaks, shot 3 an issued card and a
logged take.
"""

from __future__ import annotations

from typing import Any

from django.db import transaction

from .accounts.api import DEMO_PASSWORD, DEMO_USER
from .accounts.models import User
from .kit.models import Body, Lens, Mode
from .plans.models import Plate, Shot, StandIn
from .productions.models import Membership, Production, Role
from .takes.cards import issue
from .takes.models import Take

PRODUCTION = "The Lock-Keeper's Heron"
STORY = (
    "In a drowned estuary town a lock-keeper, Ansa, mends a clockwork heron. Her twin, Ilse, wants "
    "to sell it. On the night of the spring tide the old mill breaks, the lamps go out one by one, "
    "and the heron flies."
)
#: Demo accounts: the supervisor owns the production; the others show what a role may do.
PEOPLE = ((DEMO_USER, Role.OWNER), ("friend", Role.CREW), ("visitor", Role.VIEWER))

UHD = {"width_px": 3840, "height_px": 2160, "sensor_width_mm": 36.0, "sensor_height_mm": 20.25}
FULL_FRAME_ISO = {"base_iso": 100.0, "min_iso": 100.0, "max_iso": 12800.0}
BODIES: tuple[tuple[dict[str, Any], tuple[dict[str, Any], ...]], ...] = (
    (
        {
            "name": "Super 35 cinema body",
            "axis_height_mm": 105.0,
            "flange_mm": 44.0,
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
                "bit_depth": 10,
                "subsampling": "4:2:2",
                "base_iso": 800.0,
                "min_iso": 200.0,
                "max_iso": 3200.0,
            },
        ),
    ),
    (
        {
            "name": "Full-frame stills body",
            "axis_height_mm": 62.0,
            "flange_mm": 18.0,
            "note": "Borrowed at weekends.",
        },
        (
            {
                "name": "3840 × 2160, 8-bit long-GOP",
                **UHD,
                "min_fps": 24.0,
                "max_fps": 30.0,
                "codec": "long-GOP",
                **FULL_FRAME_ISO,
            },
            {
                "name": "1920 × 1080 fast, 8-bit long-GOP",
                **UHD,
                "width_px": 1920,
                "height_px": 1080,
                "min_fps": 24.0,
                "max_fps": 120.0,
                "codec": "long-GOP",
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


def load() -> bool:
    """Make the demo if there is none; True when it was made."""
    with transaction.atomic():
        people = [_person(name) for name, _ in PEOPLE]
        if Production.objects.of(people[0]).filter(name=PRODUCTION).exists():
            return False
        production = Production.objects.create(
            name=PRODUCTION,
            story=STORY,
            delivery_width_px=1920,
            delivery_height_px=804,
            playback_fps=24.0,
        )
        for person, (_, role) in zip(people, PEOPLE, strict=True):
            Membership.objects.create(production=production, user=person, role=role)
        modes, lenses = _kit(production)
        _tide_mill(production, modes, lenses)
        _kitchen(production, people[0], modes, lenses)
    return True


def _person(name: str) -> User:
    user, made = User.objects.get_or_create(username=name)
    if made:
        user.set_password(DEMO_PASSWORD)
        user.save()
    return user


def _kit(production: Production) -> tuple[list[Mode], dict[int, Lens]]:
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
            length_mm=float(row["length"]),
            # The pupil of such lenses lies a little past the middle (invented, plausible).
            pupil_from_mount_mm=row["length"] * 0.55,
        )
    return modes, lenses


def _shot(production: Production, **values: Any) -> Shot:
    return Shot.objects.create(
        production=production,
        delivery_width_px=production.delivery_width_px,
        delivery_height_px=production.delivery_height_px,
        playback_fps=production.playback_fps,
        **values,
    )


def _uses(mode: Mode, lens: Lens) -> dict[str, Any]:
    return {"body": mode.body, "mode": mode, "lens": lens}


def _tide_mill(production: Production, modes: list[Mode], lenses: dict[int, Lens]) -> None:
    """Shot 2: the 1:12 mill asks for a lens axis lower than the cinema body can go."""
    shot = _shot(
        production,
        number="2",
        title="The tide mill, wide",
        action="Dawn. Ansa crosses the sluice bridge towards the mill; the wheel turns slowly. "
        "Painted town behind, two layers of haze.",
        place="Tide mill, outside",
        position=2.0,
        screen_time_s=6.0,
        focal_mm=32.0,
        camera_height_m=1.1,
        tilt_deg=3.0,
    )
    mill = Plate.objects.create(
        shot=shot,
        name="Mill miniature",
        kind="miniature",
        position=1.0,
        scale=12.0,
        f_number=16.0,
        iso=800.0,
        motion="powered",
        note="The mill is borrowed for one day. Wheel driven by the geared crank.",
        hazards=["smoke"],
        **_uses(modes[0], lenses[28]),
    )
    ansa = Plate.objects.create(
        shot=shot,
        name="Ansa on green",
        kind="screen",
        position=2.0,
        scale=1.0,
        ground_m=0.9,
        f_number=5.6,
        iso=800.0,
        motion="powered",
        screen_width_m=3.0,
        screen_height_m=3.0,
        screen_gap_m=2.0,
        note="In the yard: the garage is too short for this distance.",
        **_uses(modes[0], lenses[28]),
    )
    for plate, values in (
        (mill, ("Tide mill", "box", -5.0, 25.0, 0.0, 6.5, 7.0, 6.0, 12.0)),
        (mill, ("Mill wheel", "box", -1.1, 25.4, 0.0, 0.9, 4.2, 4.2, 12.0)),
        (mill, ("Sluice bridge", "box", 3.2, 15.0, 0.0, 6.0, 0.9, 1.4, 0.0)),
        (mill, ("Lock gate", "box", 6.4, 18.0, 0.0, 0.5, 2.6, 3.2, 0.0)),
        (mill, ("Painted town", "card", 0.0, 42.0, 0.0, 38.0, 6.0, 0.0, 0.0)),
        (mill, ("Mud flat", "ground", 0.0, 9.0, 0.0, 16.0, 0.0, 24.0, 0.0)),
        (ansa, ("Ansa", "figure", 2.6, 15.4, 0.9, 0.5, 1.68, 0.0, 0.0)),
    ):
        _stand_in(shot, plate, *values)


def _kitchen(
    production: Production, user: User, modes: list[Mode], lenses: dict[int, Lens]
) -> None:
    """Shot 3: one performer twice; half A is filmed, its tripod a little high."""
    shot = _shot(
        production,
        number="3",
        title="Kitchen: the twins argue",
        action="Ansa left, Ilse right of the table. Ilse leans in; neither may cross the lamp.",
        place="Kitchen",
        position=3.0,
        screen_time_s=11.0,
        focal_mm=30.0,
        camera_height_m=1.25,
        tilt_deg=-3.0,
    )
    first = {"kind": "live", "f_number": 5.6, "iso": 800.0, "scale": 1.0}
    half_a = Plate.objects.create(
        shot=shot, name="Half A: Ansa", position=1.0, **first, **_uses(modes[0], lenses[28])
    )
    half_b = Plate.objects.create(
        shot=shot, name="Half B: Ilse", position=2.0, **first, **_uses(modes[0], lenses[28])
    )
    clean = Plate.objects.create(
        shot=shot, name="Clean plate", position=3.0, **first, **_uses(modes[0], lenses[28])
    )
    for plate, values in (
        (half_a, ("Ansa", "figure", -0.75, 2.35, 0.0, 0.5, 1.68, 0.0, 0.0)),
        (half_b, ("Ilse", "figure", 0.75, 2.35, 0.0, 0.5, 1.68, 0.0, 0.0)),
        (clean, ("Table", "box", 0.0, 2.0, 0.0, 1.4, 0.75, 0.75, 0.0)),
        (clean, ("Lamp", "box", 0.0, 2.3, 0.75, 0.18, 0.4, 0.18, 0.0)),
        (clean, ("Window wall", "card", 0.0, 3.5, 0.0, 3.6, 2.4, 0.0, 0.0)),
    ):
        _stand_in(shot, plate, *values)
    card = issue(user, half_a)
    planned = card.content["planned"]
    Take.objects.create(
        card=card,
        number=1,
        logged_by=user,
        axis_height_m=round(planned["axis_height_m"] + 0.018, 3),
        distance_m=round(planned["distance_m"] + 0.01, 3),
        tilt_deg=-2.6,
        f_number=4.0,
        note="Column slipped; noticed after the take. Best performance so far.",
        circled=True,
    )


def _stand_in(
    shot: Shot,
    plate: Plate,
    name: str,
    kind: str,
    x_m: float,
    y_m: float,
    z_m: float,
    width_m: float,
    height_m: float,
    depth_m: float,
    heading_deg: float,
) -> None:
    StandIn.objects.create(
        shot=shot,
        plate=plate,
        name=name,
        kind=kind,
        x_m=x_m,
        y_m=y_m,
        z_m=z_m,
        width_m=width_m,
        height_m=height_m,
        depth_m=depth_m,
        heading_deg=heading_deg,
    )
