"""What nobody has said yet, so that it was not asked: a plate that holds, holds so far."""

from __future__ import annotations

from dataclasses import dataclass

from ..screens.lit import stays_dark
from ..stage.case import Case
from ..words.sentences import listed
from .room import meant, rooms_for


@dataclass(frozen=True)
class FittingRoom:
    """A place of the kit that the stage has room in."""

    room_id: str
    name: str


@dataclass(frozen=True)
class Unasked:
    """A question that waits for a decision, what it needs, and places that would do; `only_place`:
    the one that is meant unless another is chosen."""

    key: str
    title: str
    needs: str
    rooms: tuple[FittingRoom, ...] = ()
    only_place: str | None = None


#: So many places to choose from are offered beside the question.
PLACES_OFFERED = 3


def unasked(case: Case) -> tuple[Unasked, ...]:
    """What was not asked of a plate; nothing of a still, which is found or drawn. One that films
    nothing of its own is asked with its lock-off."""
    found: list[Unasked] = []
    kit, plate = case.shot.kit, case.plate
    if plate.kind == "still":
        return ()
    if kit.room(plate.room_id) is None:
        found.append(_room(case))
    if not plate.lock_group and not case.own:
        found.append(
            Unasked(
                "things",
                "What it films",
                "Add a stand-in to it: without one only the camera was asked about.",
            )
        )
    if stays_dark(case):
        found.append(
            Unasked(
                "screen-light",
                "Light on the screen",
                "No lamp placed reaches the screen behind the action: how bright and how even it "
                "is, and what it spills, is not known. Place lamps for it, or see what Light this "
                "plate proposes.",
            )
        )
    return tuple(found)


def _room(case: Case) -> Unasked:
    kit, cloth = case.shot.kit, " and cloth" if case.plate.kind == "screen" else ""
    fit = rooms_for(case)
    if not kit.rooms:
        needs = f"Add its room to the kit: whether stage{cloth} and lamps fit there is not known."
    elif not fit:
        needs = "The stage fits in no place of the kit: choose one to see why, or add another."
    else:
        alone = len(fit) == 1 < len(kit.rooms)
        where = "in one place of the kit only, " if alone else "in "
        names = listed([f"the {room.name}" for room in fit])
        needs = f"The stage fits {where}{names}. Once it is chosen, lamps{cloth} are asked too."
    offered = tuple(FittingRoom(room.id, room.name) for room in fit[:PLACES_OFFERED])
    only = meant(case.plate, fit)
    return Unasked("room", "Room", needs, offered, None if only is None else only.id)
