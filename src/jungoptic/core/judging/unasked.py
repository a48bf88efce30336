"""What nobody has said yet, so that it was not asked: a plate that holds, holds so far."""

from __future__ import annotations

from dataclasses import dataclass

from ..stage.case import Case


@dataclass(frozen=True)
class Unasked:
    """A question that waits for a decision, and what it needs."""

    key: str
    title: str
    needs: str


def unasked(case: Case) -> tuple[Unasked, ...]:
    """What was not asked of a plate; nothing of a still, which is found or drawn. One that films
    nothing of its own is asked with its lock-off."""
    found: list[Unasked] = []
    kit, plate = case.shot.kit, case.plate
    if plate.kind == "still":
        return ()
    if kit.room(plate.room_id) is None:
        where = "Choose its room" if kit.rooms else "Add its room to the kit"
        also = " and cloth" if plate.kind == "screen" else ""
        found.append(
            Unasked(
                "room", "Room", f"{where}: whether stage{also} and lamps fit there is not known."
            )
        )
    if not plate.lock_group and not case.own:
        found.append(
            Unasked(
                "things",
                "What it films",
                "Add a stand-in to it: without one only the camera was asked about.",
            )
        )
    return tuple(found)
