"""What a client may say of a picture."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..schemas import Fields, LongText, Name, Within, edit_of

#: What the plate's camera recorded, or a picture beside it: of the set, of a lamp, of a board.
Role = Literal["recorded", "reference"]
#: What a person may pick in a picture, of which the camera or the light is told.
PICKED = ("marks", "edges", "uprights", "balls")
#: Where a picture may hang: on one of these, or on none (the production's library).
PLACES = ("take_id", "plate_id", "shot_id", "lens_id")

#: The most bytes of one file that is sent, and of one that stays where it is; the most files of a
#: numbered sequence.
LARGEST, LARGEST_ELSEWHERE = 20 * 1000**3, 10**13
MOST_FILES = 5000


#: A part of the picture's width or height, from its top left corner.
Part = Annotated[float, Within(0, 1)]


class MarkInPicture(Fields):
    """A place on the set that was picked in a picture: metres to the right of the mark that tapes
    are laid to, ahead of it and above the stage's ground, and where it lies in the picture."""

    name: Name
    right_m: Annotated[float, Within(-500, 500)]
    ahead_m: Annotated[float, Within(-500, 500)]
    up_m: Annotated[float, Within(-100, 500)]
    x: Part
    y: Part


class EdgeInPicture(Fields):
    """A straight edge traced in a picture, which runs along one of the world's own directions."""

    direction: Literal["across", "ahead", "up"]
    x1: Part
    y1: Part
    x2: Part
    y2: Part


class UprightInPicture(Fields):
    """Something of known height that stands plumb on the ground, traced in a picture."""

    height_m: Annotated[float, Within(0.01, 1000)]
    foot_x: Part
    foot_y: Part
    top_x: Part
    top_y: Part


class BallInPicture(Fields):
    """A chrome or a grey ball whose outline was traced in a picture: its middle, and its radius as
    a part of the picture's width."""

    kind: Literal["chrome", "grey"]
    x: Part
    y: Part
    radius: Annotated[float, Within(0.001, 0.5)]


class PictureFields(Fields):
    """A picture: its name, what it is for, and where it hangs. `put_away`: in the bin, from where
    it can be had back for a month. `board_way`: whether the board in it lay on the floor or stood;
    "" leaves it to what is likelier; `board_up_m`: how far above the stage's ground its lower edge
    was, null leaves it to the card. `begins`: the frame (from 1) of it in which the shot begins,
    null leaves it to what the clip shows. `marks`, `edges`, `uprights` and `balls` were picked in
    the frame `picked_in`."""

    name: Name
    role: Role = "recorded"
    note: LongText = ""
    put_away: bool = False
    take_id: uuid.UUID | None = None
    plate_id: uuid.UUID | None = None
    shot_id: uuid.UUID | None = None
    lens_id: uuid.UUID | None = None
    board_way: Literal["", "lying", "standing"] = ""
    board_up_m: Annotated[float, Within(0, 100)] | None = None
    begins: Annotated[int, Within(1, 100_000_000)] | None = None
    picked_in: Annotated[int, Within(1, 100_000_000)] = 1
    marks: Annotated[list[MarkInPicture], Field(max_length=40)] = []
    edges: Annotated[list[EdgeInPicture], Field(max_length=60)] = []
    uprights: Annotated[list[UprightInPicture], Field(max_length=8)] = []
    balls: Annotated[list[BallInPicture], Field(max_length=4)] = []


class FileIn(Fields):
    """A file that will be sent, or that lies on a disk of ours (`path`, and its checksum)."""

    name: Annotated[str, Field(min_length=1, max_length=255)]
    size: Annotated[int, Field(ge=1, le=LARGEST_ELSEWHERE)]
    path: Annotated[str, Field(max_length=1000)] = ""
    sha256: Annotated[str, StringConstraints(pattern=r"^([0-9a-fA-F]{64})?$", to_lower=True)] = ""


class PictureIn(PictureFields):
    """A picture to come: one file, or the files of a numbered sequence in their order."""

    id: uuid.UUID | None = None
    elsewhere: bool = False
    files: Annotated[list[FileIn], Field(min_length=1, max_length=MOST_FILES)]


PictureEdit = edit_of(PictureFields, "PictureEdit")
