"""Documents that are kept for good: what a set card froze, a recipe as it was applied, a step that
can be undone, what the journal holds.

Each carries the version it was written in. One written before versions were counted is version 1.
Reading lifts it, by pure functions from each version to the next, to the form that the rest of the
application knows; what is stored stays as the crew saw it.
"""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

Document = dict[str, Any]
VERSION = "version"


class TooNew(ValueError):
    """A document that a later build of the application wrote."""


@dataclass(frozen=True)
class Kind:
    """A kind of document. `lifts[0]` takes version 1 to version 2, and so on."""

    name: str
    lifts: tuple[Callable[[Document], Document], ...] = ()

    @property
    def current(self) -> int:
        """The version that is written now."""
        return len(self.lifts) + 1

    def stamped(self, document: Document) -> Document:
        """The document as it is stored, with its version."""
        return {**document, VERSION: self.current}

    def read(self, stored: Document) -> Document:
        """A stored document in today's form, without its version; `stored` is left alone. What
        needs no lift is not copied in depth: lists of recipes are read by the thousand.

        Raises TooNew for one of a later version.
        """
        version = int(stored.get(VERSION, 1))
        if version > self.current:
            raise TooNew(f"This {self.name} was written by a later version of Jungoptic.")
        found = {k: v for k, v in stored.items() if k != VERSION}
        if version < self.current:
            found = copy.deepcopy(found)
        for lift in self.lifts[version - 1 :]:
            found = lift(found)
        return found


def _card_1_to_2(card: Document) -> Document:
    """Cards learned to tell tapes, eyelines, what must recur, who read the cautions, and the units
    that their numbers are written in."""
    tapes = {"from_left_m": None, "from_right_m": None}
    return {
        **{"fixed": [], "eyelines": [], "threads": [], "notation": {}},
        **card,
        "marks": [{**tapes, **m} for m in card.get("marks", [])],
        "cautions": [{"read_by": [], **c} for c in card.get("cautions", [])],
    }


def _card_2_to_3(card: Document) -> Document:
    """Cards learned to say where their board is held up."""
    return {"board": None, "board_says": "", **card}


def _plan_1_to_2(plan: Document) -> Document:
    """Lamps and rooms came into the kit; whether frames are told by their neighbours was read out
    of the name of the codec, and is a field of the mode since."""

    def mode(one: Document) -> Document:
        return {"long_gop": "gop" in str(one.get("codec", "")).lower(), **one}

    bodies = [{**b, "modes": [mode(m) for m in b.get("modes", [])]} for b in plan.get("bodies", [])]
    return {"lamps": [], "rooms": [], **plan, "bodies": bodies}


def _plan_2_to_3(plan: Document) -> Document:
    """Cameras were compared at everything in the shot, and turned about their entrance pupil; each
    plate has its own points since, and says what its camera turns about."""
    plates = [{"turns_about": "pupil", **p} for p in plan.get("plates", [])]
    return {**plan, "plates": plates, "old_rules": True}


def _plan_3_to_4(plan: Document) -> Document:
    """Plates of one lock-off focus together where nobody says how far; each focused on its own
    things, which is what a pass for its focus does still."""

    def plate(one: Document) -> Document:
        alone = one.get("lock_group") and one.get("focus_world_m") is None
        return {"pass_for": "focus" if alone else "", **one}

    return {**plan, "plates": [plate(p) for p in plan.get("plates", [])]}


def _plan_4_to_5(plan: Document) -> Document:
    """What a room gives back of its light was left out."""
    return {**plan, "rooms": [{"reflectance": 0.0, **room} for room in plan.get("rooms", [])]}


def _plan_5_to_6(plan: Document) -> Document:
    """A zoom that nobody set was set by the width of the picture, even where its height or its
    padding then was missing."""
    return {**plan, "zooms_across": True}


def _board_1_to_2(board: Document) -> Document:
    """How lenses bend lines was not counted."""
    return {**board, "seen": {"straightened": False, **board.get("seen", {})}}


def _ran_1_to_2(ran: Document) -> Document:
    """How far a move lies off a smooth path was not told."""
    return {"scatter": None, **ran}


def _picked_1_to_2(picked: Document) -> Document:
    """Nobody traced balls."""
    return {"balls": [], **picked}


#: What stands on a set card.
CARD = Kind("set card", (_card_1_to_2, _card_2_to_3))
#: The plan that a set card froze: its takes are judged by it.
CARD_PLAN = Kind(
    "plan of a set card", (_plan_1_to_2, _plan_2_to_3, _plan_3_to_4, _plan_4_to_5, _plan_5_to_6)
)
#: A recipe as it was applied, or saved from a shot.
RECIPE = Kind("recipe")
#: A step of the Board: its operations under `ops`.
STEP = Kind("step")
#: What the journal holds of a record: its values under `before` and `after`.
JOURNAL = Kind("entry of the journal")
#: What a file says of itself.
FACTS = Kind("facts of a file")
#: What was measured of a clip frame by frame.
RAN = Kind("measures of a clip", (_ran_1_to_2,))
#: The board that was held up in a clip: what is `seen` of it, and how the card is `called` that it
#: is the board of.
BOARD = Kind("board in a clip", (_board_1_to_2,))

#: What marks and edges that were picked in a picture say of its camera, and balls of the light.
PICKED = Kind("picked in a picture", (_picked_1_to_2,))

#: What a rough composite was made of and says: its `layers`, the part that no plate shows
#: (`hole`), its `answer` and `findings`.
ROUGH = Kind("rough composite")

#: What was measured of a picture that was taken by itself.
TAKEN = Kind("measures of a picture")

KINDS = (CARD, CARD_PLAN, RECIPE, STEP, JOURNAL, FACTS, RAN, BOARD, PICKED, ROUGH, TAKEN)
