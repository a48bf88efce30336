"""Random plans of ordinary shots: every one can be filmed, and none is like the next."""

from __future__ import annotations

import math
import random

from jungoptic.core.plan.kit import Body, Kit, Lamp, Lens, Mode, Room
from jungoptic.core.plan.plate import PlacedLamp, Plate, PlateKind
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.world import Delivery, Move, WorldCamera
from jungoptic.core.stage.case import Case

LAMPS = (
    Lamp("panel", "Panel", 1800.0, 0.45, 100.0, 5600.0, kind="panel"),
    Lamp("small", "Small panel", 600.0, 0.12, 20.0, 5600.0, kind="panel"),
    Lamp("bank", "Bank", 1500.0, 1.2, 200.0, 4300.0, kind="bank"),
    Lamp("fresnel", "Fresnel", 6000.0, 0.15, 300.0, 3200.0, kind="fresnel"),
    Lamp("narrow", "Narrow fresnel", 20000.0, 0.15, 300.0, 5600.0, kind="fresnel", beam_deg=22.0),
    Lamp("bulb", "Bulb", 300.0, 0.06, 60.0, 2900.0, kind="bulb"),
    Lamp("sun", "Sun", 90_000.0, 0.0, 0.0, 5600.0, kind="sun"),
)
KINDS: tuple[PlateKind, ...] = ("miniature", "miniature", "screen", "live")
BEAMS = frozenset({"fresnel", "narrow"})


def _lens(dice: random.Random) -> Lens:
    focal = dice.choice((18.0, 25.0, 35.0, 50.0))
    return Lens(
        "lens",
        "Lens",
        focal,
        focal,
        2.0,
        22.0,
        0.2,
        dice.uniform(1.0, 1.2),
        dice.choice((0.8, 1.0, 1.3)),
    )


def _lamps(dice: random.Random, depth_m: float, wide_m: float) -> tuple[PlacedLamp, ...]:
    found = []
    kinds = [lamp.id for lamp in LAMPS if lamp.id != "sun"]
    for number in range(dice.randint(1, 3)):
        turn = math.radians(dice.uniform(-150.0, 150.0))
        far = max(depth_m * dice.uniform(0.5, 1.0), 0.8)
        found.append(
            PlacedLamp(
                dice.choice(kinds),
                far * math.sin(turn) + dice.uniform(-0.2, 0.2) * wide_m,
                depth_m - far * math.cos(turn),
                dice.uniform(0.3, 1.2) * far + 0.2,
                level=dice.uniform(0.2, 1.0),
                gel=dice.choice(("", "", "blue-4", "orange-2")),
                upright=dice.random() < 0.5,
                key=f"lamp{number}",
            )
        )
    return tuple(found)


def random_case(seed: int) -> Case:
    """A plate of a random shot, with all numbers of its sheet; the same for the same seed."""
    dice = random.Random(seed)
    while True:
        case = _tried(dice)
        if case is not None:
            return case


def _tried(dice: random.Random) -> Case | None:
    kind = dice.choice(KINDS)
    scale = dice.choice((4.0, 8.0, 12.0, 24.0)) if kind == "miniature" else 1.0
    far = dice.uniform(2.5, 6.0) if kind != "miniature" else dice.uniform(6.0, 18.0)
    sensor = dice.choice((17.3, 24.9, 36.0))
    mode = Mode(
        *(
            "mode",
            "Mode",
            sensor,
            sensor * 9.0 / 16.0,
            3840,
            2160,
            1.0,
            240.0,
            800.0,
            100.0,
            25600.0,
        )
    )
    lens = _lens(dice)
    # The story's own lens shows a little less than the stage's, so that nothing is cut away.
    world = WorldCamera(
        36.0,
        lens.focal_min_mm * 36.0 / sensor * dice.uniform(1.05, 1.5),
        dice.uniform(0.8, 2.2),
        dice.uniform(-4.0, 4.0),
        dice.uniform(-8.0, 8.0),
        dice.uniform(-2.0, 2.0),
        dice.uniform(120.0, 200.0),
    )
    things = []
    for number in range(dice.randint(2, 4)):
        y = far * dice.uniform(1.0, 1.8)
        walks = number == 0 and dice.random() < 0.5
        things.append(
            StandIn(
                f"thing{number}",
                f"Thing {number + 1}",
                dice.choice(("figure", "box", "card")),
                dice.uniform(-0.3, 0.3) * y * 36.0 / world.focal_mm,
                y,
                0.0,
                dice.uniform(0.4, 1.6),
                dice.uniform(0.8, 2.2),
                dice.uniform(0.3, 1.5),
                dice.uniform(-40.0, 40.0),
                "plate",
                dice.uniform(0.5, 2.5) if walks else 0.0,
                dice.choice((90.0, -90.0, 75.0)),
            )
        )
    move = (
        Move(dice.uniform(-0.6, 0.6), dice.uniform(-0.5, 0.8), dice.uniform(-0.2, 0.3), 2.0, -1.0)
        if dice.random() < 0.4
        else Move()
    )
    plate = Plate(
        "plate",
        "Plate",
        kind,
        scale,
        0.0,
        "body",
        "mode",
        "lens",
        f_number=dice.choice((2.8, 4.0, 5.6, 8.0, 11.0)),
        motion="powered",
        capture_fps=dice.choice((None, None, 24.0)),
        shutter_deg=dice.choice((90.0, 144.0, 180.0)),
        iso=dice.choice((400.0, 800.0, 1600.0)),
        nd_stops=dice.choice((0.0, 0.0, 0.9)),
        axis_height_m=world.height_m / scale,
        screen_width_m=6.0 if kind == "screen" else 0.0,
        screen_height_m=3.5 if kind == "screen" else 0.0,
        screen_gap_m=dice.uniform(1.0, 2.5),
        lamps=_lamps(dice, far * 1.3 / scale, far / scale),
    )
    shot = Shot(
        delivery=Delivery(1920, dice.choice((804, 1038, 1080)), 24.0),
        world=world,
        screen_time_s=dice.uniform(2.0, 6.0),
        stand_ins=tuple(things),
        plates=(plate,),
        kit=Kit(
            (Body("body", "Body", 60.0, 18.0, (mode,)),),
            (lens,),
            LAMPS,
            (Room("room", "Room", 20.0, 20.0, 6.0),),
        ),
        move=move,
        visibility_m=dice.uniform(20.0, 200.0),
    )
    case = Case.of(shot, plate)
    if case is None or case.stage.near_m is None or case.stage.focus_m <= 0.15:
        return None
    return case
