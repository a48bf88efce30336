"""An invented kitchen with one performer twice, shared by the tests of lock-offs and splits."""

from __future__ import annotations

from dataclasses import replace

from jungoptic.core.lockoff.joins import judge_joins
from jungoptic.core.plan import Plate, Shot
from jungoptic.core.plan.findings import Finding
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import DividerKey, Split
from jungoptic.core.stage.case import Case

from .examples import USES, shot
from .stages import FULL

LEFT = Plate("left", "Half A", "live", lock_group="A", cut="split", focus_world_m=2.4, **USES)
RIGHT = replace(LEFT, id="right", name="Half B")
CLEAN = replace(LEFT, id="clean", name="Clean plate", motion="still", cut="none")
ANNA = StandIn("anna", "Anna", "figure", -0.75, 2.4, 0, 0.5, 1.3, plate_id="left")
BETH = StandIn("beth", "Beth", "figure", 0.75, 2.4, 0, 0.5, 1.3, plate_id="right")
UPRIGHT = Split(
    "s", "the line", "left", "right", keys=(DividerKey(1, ((0.5, 0.0), (0.5, 1.0))),), feather_px=16
)


def twins(*things: StandIn, **changes: object) -> Shot:
    """The kitchen, with other stand-ins or fields of the shot."""
    values: dict[str, object] = {
        "stand_ins": things or (ANNA, BETH),
        "plates": (LEFT, RIGHT, CLEAN),
        "splits": (UPRIGHT,),
        "kit": FULL,
        "height_m": 1.2,
        "tilt_deg": 0.0,
    }
    return shot(**{**values, **changes})


def case_of(found: Shot, plate: str) -> Case:
    """The case of one plate."""
    case = Case.of(found, next(p for p in found.plates if p.id == plate))
    assert case is not None
    return case


def joined(found: Shot, plate: str) -> dict[str, Finding]:
    """What the judgements on joining say of one plate, by key."""
    return {f.key: f for f in judge_joins(case_of(found, plate))}


def changed(found: Shot, plate: str, **changes: object) -> Shot:
    """The shot with decisions of one plate changed."""
    return replace(
        found,
        plates=tuple(replace(p, **changes) if p.id == plate else p for p in found.plates),  # type: ignore[arg-type]
    )
