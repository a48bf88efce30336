"""Plates that share one lock-off: what they share, and what would orphan takes already filmed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ..impossible import Impossible
from ..plan.beside import Beside
from ..plan.kit import Kit
from ..plan.plate import PassFor, Plate
from ..plan.shot import Shot
from ..stage.derive import Stage, choose, derive
from ..stage.turning import TURNS
from ..words.quantities import degrees, length, rate, scale, stop

#: Decisions that plates of one lock-off share, and their names.
LOCKED: Mapping[str, str] = {
    "body_id": "body",
    "mode_id": "recording mode",
    "lens_id": "lens",
    "scale": "scale",
    "ground_m": "ground",
    "focal_mm": "focal length",
    "f_number": "stop",
    "focus_world_m": "focus",
    "focus_passes": "focus passes",
    "capture_fps": "capture rate",
    "shutter_deg": "shutter",
    "iso": "ISO",
    "nd_stops": "ND",
    "white_k": "white balance",
    "axis_height_m": "lens axis height",
    "drop_m": "camera base",
    "tilt_deg": "tilt",
    "setback_m": "setback",
    "turns_about": "turning point",
    "slide_mm": "slide",
    "support_id": "support",
    "on_side": "side that is down",
    "mirror": "mirror",
    "table_m": "table",
    "room_id": "room",
    "room_turned": "way round in the room",
    "room_behind_m": "wall behind",
    "room_left_m": "wall at the left",
    "heading_deg": "heading",
}
#: Those that a pass does not share, by what it is for. Lamps are no part of what is shared.
OWN: Mapping[PassFor, frozenset[str]] = {
    "": frozenset(),
    "focus": frozenset({"focus_world_m", "focus_passes"}),
    "light": frozenset(),
}
#: Decisions that may be left to follow from the rest: what they come to on the stage is compared,
#: and how far apart that may be, as a part (judgement: nobody reads a tape or a ring better).
DERIVED: Mapping[str, tuple[str, float]] = {
    "focus_world_m": ("focus_m", 0.005),
    "capture_fps": ("capture_fps", 1e-6),
    "focal_mm": ("marked_mm", 1e-3),
    "axis_height_m": ("axis_m", 1e-3),
    "tilt_deg": ("tilt_deg", 1e-3),
}


@dataclass(frozen=True)
class Difference:
    """One thing in which a plate departs from its lock-off: of the plate `plate_id`, as it is
    (`mine`) and as the first plate of the group, or the takes filmed, have it (`theirs`)."""

    plate_id: str
    field: str
    name: str
    mine: str
    theirs: str


@dataclass(frozen=True)
class LockGroup:
    """One lock-off of a shot: its plates in filming order, who leads, what departs, and which have
    takes already; and what it has in other shots and views, by name."""

    key: str
    plate_ids: tuple[str, ...]
    filmed_ids: tuple[str, ...]
    differences: tuple[Difference, ...]
    #: Departures from what has been filmed: those takes no longer fit the plan.
    orphaned: tuple[Difference, ...]
    beside: tuple[str, ...] = ()
    beside_filmed: tuple[str, ...] = ()


def group_of(shot: Shot, plate: Plate) -> tuple[Plate, ...]:
    """The plates of its lock-off, itself included, in filming order; only itself without one."""
    if not plate.lock_group:
        return (plate,)
    return tuple(p for p in shot.plates if p.lock_group == plate.lock_group)


def beside_of(shot: Shot, plate: Plate) -> tuple[Beside, ...]:
    """What its lock-off has in other shots and views; none without one."""
    if not plate.lock_group:
        return ()
    return tuple(b for b in shot.beside if b.plate.lock_group == plate.lock_group)


def shared(mine: Plate, theirs: Plate) -> tuple[str, ...]:
    """The decisions that two plates of one lock-off share, by what each of them is for."""
    own = OWN[mine.pass_for] | OWN[theirs.pass_for]
    return tuple(name for name in LOCKED if name not in own)


def lead_of(group: tuple[Plate, ...]) -> Plate:
    """The plate that the others follow: the first that is filmed, else the first."""
    return next((p for p in group if p.filmed is not None), group[0])


@dataclass(frozen=True)
class Followed:
    """What a plate of a lock-off is held against: what it is called, its decisions, and what they
    come to (see `numbers_of`). `elsewhere`: it is of another shot or view."""

    called: str
    plate: Plate
    numbers: Mapping[str, float]
    elsewhere: bool


def followed(shot: Shot, plate: Plate) -> Followed | None:
    """What a plate is held against: the plate that leads here; and that one against what another
    shot has filmed or planned from the same set-up. None where nothing shares it."""
    lead = lead_of(group_of(shot, plate))
    if lead.id != plate.id:
        return Followed(lead.name, lead, numbers_of(shot, lead), False)
    others = beside_of(shot, plate)
    if not others:
        return None
    one = next((b for b in others if b.plate.filmed is not None), others[0])
    return Followed(one.called, one.plate, one.numbers, True)


def lock_groups(shot: Shot) -> tuple[LockGroup, ...]:
    """Every lock-off that two or more plates share, here or elsewhere, or that has been filmed."""
    found = []
    for key in dict.fromkeys(p.lock_group for p in shot.plates if p.lock_group):
        plates = tuple(p for p in shot.plates if p.lock_group == key)
        filmed = tuple(p.id for p in plates if p.filmed is not None)
        beside = beside_of(shot, plates[0])
        if len(plates) < 2 and not filmed and not beside:
            continue
        found.append(
            LockGroup(
                key,
                tuple(p.id for p in plates),
                filmed,
                tuple(d for p in plates for d in departures(shot, p)),
                tuple(d for p in plates for d in orphans(shot, p)),
                tuple(b.called for b in beside),
                tuple(b.called for b in beside if b.plate.filmed is not None),
            )
        )
    return tuple(found)


def departures(shot: Shot, plate: Plate) -> tuple[Difference, ...]:
    """In what a plate departs from what it follows in its lock-off, see `followed`."""
    other = followed(shot, plate)
    return () if other is None else _apart(shot, plate, other.plate, other.numbers)


def orphans(shot: Shot, plate: Plate) -> tuple[Difference, ...]:
    """In what a plate that has been filmed, now departs from its own takes."""
    if plate.filmed is None:
        return ()
    was = {k: v for k, v in plate.filmed.values.items() if k in LOCKED}
    then = replace(plate, **was)
    return _apart(shot, plate, then, numbers_of(shot, then))


def numbers_of(shot: Shot, plate: Plate) -> dict[str, float]:
    """What the decisions come to that may follow from the rest, by the names of `DERIVED`: of a
    plate in its own view. None of them where its stage cannot be worked out."""
    stage = _stage(shot, plate)
    if stage is None:
        return {}
    return {name: getattr(stage, attribute) for name, (attribute, _) in DERIVED.items()}


def _apart(
    shot: Shot, mine: Plate, theirs: Plate, other: Mapping[str, float]
) -> tuple[Difference, ...]:
    own = numbers_of(shot, mine)
    found = []
    # Against its own takes a plate is held in everything.
    names = LOCKED if mine.id == theirs.id else shared(mine, theirs)
    for name in names:
        called = LOCKED[name]
        a, b = getattr(mine, name), getattr(theirs, name)
        derived = name in own and name in other
        if _same(a, b) and not derived:
            continue
        words = (said(shot.kit, name, a), said(shot.kit, name, b))
        if derived:
            attribute, slack = DERIVED[name]
            x, y = own[name], other[name]
            if _close(x, y, slack):
                continue
            words = (_derived(attribute, x), _derived(attribute, y))
        elif _same(a, b):
            continue
        found.append(Difference(mine.id, name, called, *words))
    return tuple(found)


def _same(a: Any, b: Any) -> bool:
    if isinstance(a, int | float) and isinstance(b, int | float):
        return math.isclose(a, b, rel_tol=1e-9, abs_tol=1e-9)
    return bool(a == b)


def _close(a: float, b: float, slack: float) -> bool:
    if math.isinf(a) or math.isinf(b):
        return a == b
    return abs(a - b) <= slack * max(abs(a), abs(b), 1.0)


def _stage(shot: Shot, plate: Plate) -> Stage | None:
    choice = choose(shot.kit, plate)
    try:
        return None if choice is None else derive(shot, plate, choice)
    except Impossible:
        return None


def _derived(name: str, value: float) -> str:
    if name in ("focus_m", "axis_m"):
        return "infinity" if math.isinf(value) else length(value)
    if name == "capture_fps":
        return rate(value)
    return degrees(value) if name == "tilt_deg" else f"{value:.4g} mm"


def said(kit: Kit, name: str, value: Any) -> str:
    """A shared decision in words."""
    if name == "on_side" and not value:
        return "none: it stands"
    if value is None or value == "":
        return "none" if name.endswith("_id") else "as derived"
    if name == "body_id":
        return next((b.name for b in kit.bodies if b.id == value), "another body")
    if name == "mode_id":
        modes = (m for b in kit.bodies for m in b.modes)
        return next((m.name for m in modes if m.id == value), "another mode")
    if name == "lens_id":
        return next((x.name for x in kit.lenses if x.id == value), "another lens")
    if name == "room_id":
        return next((r.name for r in kit.rooms if r.id == value), "another room")
    if isinstance(value, bool):
        return "yes" if value else "no"
    if name == "on_side":
        return str(value)
    if name == "turns_about":
        return TURNS[value]
    if name == "scale":
        return scale(value)
    if name == "f_number":
        return stop(value)
    if name == "capture_fps":
        return rate(value)
    if name == "white_k":
        return f"{value:.0f} K"
    if name.endswith("_m"):
        return length(value)
    if name.endswith("_deg"):
        return degrees(value)
    return f"{value:g} mm" if name.endswith("_mm") else f"{value:g}"
