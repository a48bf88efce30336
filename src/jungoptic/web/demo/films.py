"""What the demo's crew has filmed so far, by the simulated camera; shipped with it.

`make demo-pictures` films them again; with `missing`, only what is not there. None is without a
fault but the first.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import Image

from jungoptic.core.cards.board_line import board_place
from jungoptic.core.plan import in_view, seen_from_own
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.case import Case
from jungoptic.devices.balls import held_up
from jungoptic.devices.camera import SimulatedCamera
from jungoptic.devices.clapped import Clap, heard
from jungoptic.devices.faults import Faults
from jungoptic.devices.finder import Finder
from jungoptic.devices.held_up import Board, before, with_board
from jungoptic.devices.walked import Walked
from jungoptic.media.clip import with_sound

from ..developed.keeping import Subject, picture_of
from ..frames.sheets import fields_of
from ..pictures import disk
from ..pictures.filing import file_it
from ..pictures.looking import read_in
from ..pictures.measuring import keep
from ..pictures.models import FOLDER, Arrival, Picture, PictureFile
from ..pictures.work import runs
from ..plans.bridge import load
from ..plans.stored import plan_json
from ..productions.models import Production
from ..takes.cards import issue
from ..takes.files import facts, settle

HERE = Path(__file__).with_name("films")
#: As wide as the finder draws; what is larger is made so afterwards.
DRAWN_PX = 1280
#: A ball tells the finer the larger it is.
BALLS_PX = 1600


@dataclass(frozen=True)
class Film:
    """A clip of a plate, by the number of its shot and its name; `faults` of the camera, and
    frames that its recorder `lost`."""

    shot: str
    plate: str
    name: str
    frames: int
    size: tuple[int, int]
    note: str
    faults: Faults = field(default_factory=Faults)
    lost: tuple[int, ...] = ()
    #: The number of the board that is held up in its first second, the camera standing where it
    #: really stood.
    board: int | None = None
    #: When hands are clapped for it, seconds from its first frame; None: nobody listened.
    clap_s: float | None = None
    #: Photographs along the path of its time-lapse, laid together as the camera does for a look.
    walked: bool = False

    @property
    def path(self) -> Path:
        """Where it lies."""
        return HERE / f"{self.name.replace(' ', '-')}.webm"


FILMS = (
    Film(
        "4",
        "Clean plate",
        "K004 clean",
        24,
        (3840, 2160),
        "A second of the table, before anybody stood up.",
    ),
    Film(
        "4",
        "Object with the hand at its edges",
        "K004 hand",
        84,
        (3840, 2160),
        "Filmed with another application on the same body.",
        lost=(37, 38, 61),
    ),
    Film(
        "3",
        "Half B: Ilse",
        "K003 rehearsal",
        96,
        (1920, 1080),
        "Rehearsal, to see where the arm goes.",
        Faults(elbow_px=560.0, since=49),
        clap_s=0.4,
    ),
    Film(
        "3",
        "Half A: Ansa",
        "K003 half A",
        96,
        (1920, 1080),
        "First half, to see whether the cups stay where they are.",
        clap_s=0.62,
    ),
    Film(
        "7A",
        "Ilse, towards us",
        "K007 first take",
        150,
        (2048, 1080),
        "",
        board=411_307,
    ),
    Film(
        "1",
        "Marked path",
        "S001 sea wall",
        144,
        (4096, 2160),
        "The photographs of the first walk, laid together by the camera. It blew along the wall.",
        Faults(unsteady_deg=0.45),
        walked=True,
    ),
)
#: Where the camera of a clip with a board really stood: a column that slipped, a head not level.
STOOD = {"up": -0.014, "back": 0.03, "tilted": 0.4, "rolled": 0.7}


@dataclass(frozen=True)
class Photo:
    """A still of a plate, developed as its stage is planned; with `balls` a chrome and a grey one
    are held up in it."""

    shot: str
    plate: str
    name: str
    note: str
    balls: bool = False

    @property
    def path(self) -> Path:
        """Where it lies."""
        return HERE / f"{self.name.replace(' ', '-')}.jpg"


PHOTOS = (
    Photo(
        "2",
        "Ansa on green",
        "S002 on green",
        "As she begins. The lamps of the cloth were still warming up.",
    ),
    Photo(
        "2",
        "Mill miniature",
        "S002 mill",
        "The miniature as it stands, before the water was let in.",
    ),
    Photo(
        "8",
        "Foreground with a screen in the opening",
        "S008 cloth",
        "The cloth before anybody was lit, the bulb of the door still in frame.",
    ),
    Photo(
        "3",
        "Half B: Ilse",
        "S003 balls",
        "A mirror ball and a grey one where Ilse sits, in the light as it was set.",
        balls=True,
    ),
)


def make(production: Production, missing: bool = False) -> None:
    """Film them all; `missing`: only those that are not there."""
    HERE.mkdir(exist_ok=True)
    for photo in PHOTOS:
        if missing and photo.path.exists():
            continue
        shot_row = production.shots.get(number=photo.shot)
        plan = load(plan_json(shot_row))
        case = _case(plan, photo.plate)
        if photo.balls:
            taken = SimulatedCamera(plan, case.plate, BALLS_PX, held=held_up(case), whole=True)
            _kept(photo, taken.still() * 255.0)
            continue
        subject = Subject(shot_row.plates.get(name=photo.plate), None, 1)
        picture = picture_of(plan, subject, DRAWN_PX, lambda done, of: None)
        wide = round(DRAWN_PX / min(case.stage.crop_across, 1.0))
        mode = case.choice.mode
        size = wide, round(wide * mode.height_px / mode.width_px)
        part = case.stage.crop_across
        _kept(photo, _recorded(picture.pixels.astype(np.float32), part, size))
    for film in FILMS:
        if missing and film.path.exists():
            continue
        row = production.shots.get(number=film.shot)
        shot = load(plan_json(row))
        plate = next(one for one in shot.plates if one.name == film.plate)
        seen = in_view(shot, plate.view_id)
        if film.walked:
            lapse = fields_of(row.plates.get(name=film.plate).pk).core().lapse
            assert lapse is not None
            whole = _as_recorded(seen, _case(shot, film.plate), film.size)
            taker: Finder | Walked = Walked(whole, plate, lapse, DRAWN_PX, faults=film.faults)
        else:
            taker = Finder(seen, plate, DRAWN_PX, faults=film.faults)
        _write(film, _frames(film, taker))
        if film.clap_s is not None:
            with_sound(film.path, heard(Clap(film.clap_s), film.frames / 24.0))


def _kept(photo: Photo, whole: Any) -> None:
    """Keep a picture (h, w, 3), 0..255."""
    shown = Image.fromarray(np.clip(whole + 0.5, 0, 255).astype(np.uint8))
    shown.save(photo.path, "JPEG", quality=90, subsampling=0)


def _write(film: Film, frames: Iterator[tuple[int, Any]]) -> None:
    """As VP9, eight bits, a frame in twelve standing alone: as the body's mode does, and free of
    claims."""
    with av.open(str(film.path), "w") as file:
        stream: Any = file.add_stream("libvpx-vp9", rate=Fraction(24))
        stream.width, stream.height, stream.pix_fmt = *film.size, "yuv420p"
        stream.options = {"crf": "48", "b:v": "0", "g": "12", "deadline": "good", "cpu-used": "5"}
        for number, picture in frames:
            whole = np.ascontiguousarray(np.clip(picture, 0.0, 1.0) * 255.0 + 0.5)
            frame = av.VideoFrame.from_ndarray(whole.astype(np.uint8), format="rgb24")
            frame.pts, frame.time_base = number - 1, Fraction(1, 24)
            file.mux(stream.encode(frame.reformat(format="yuv420p", dst_colorspace="ITU709")))
        file.mux(stream.encode())


def _frames(film: Film, taker: Finder | Walked) -> Iterator[tuple[int, Any]]:
    """The taker's frames in the shape of the recording, and the board that is held up in them."""
    case = Case.of(taker.shot, taker.plate)
    assert case is not None
    board = None
    if film.board is not None:
        placed = board_place(case)
        assert placed is not None
        camera = before(case, **STOOD)
        where = placed.way, placed.paper
        board = Board(camera, film.board, *where, up_m=placed.up_m, last=24)
    for number in range(1, film.frames + 1):
        if number in film.lost:
            continue
        # Where a board is held up its plate's view is all but all that is recorded.
        whole_of_it = board is not None or film.walked
        part = 1.0 if whole_of_it else case.stage.crop_across
        whole = _recorded(taker.still(number), part, film.size)
        shown = board is not None and board.shows(number)
        yield number, with_board(whole, board) if board is not None and shown else whole


def _as_recorded(shot: Shot, case: Case, size: tuple[int, int]) -> Shot:
    """A shot as if all that its plate's camera records, of a shape, were delivered."""
    part, (wide, high) = case.stage.crop_across, size
    across = shot.delivery.width_px / part
    return replace(
        shot,
        world=replace(shot.world, sensor_width_mm=shot.world.sensor_width_mm / part),
        delivery=replace(
            shot.delivery, width_px=round(across), height_px=round(across * high / wide)
        ),
    )


def _case(shot: Shot, plate_name: str) -> Case:
    plate = next(one for one in shot.plates if one.name == plate_name)
    found = Case.of(seen_from_own(shot, plate), plate)
    assert found is not None
    return found


def _recorded(picture: Any, part: float, size: tuple[int, int]) -> Any:
    """A delivered picture in the middle of what the camera records, over `part` of its width;
    around it lies what the delivery cuts off."""
    wide, high = size
    across = round(wide * part)
    part_high = round(across * picture.shape[0] / picture.shape[1])
    shown = cv2.resize(picture, (across, part_high))
    aside, above = (max(a - b, 0) // 2 for a, b in ((wide, across), (high, part_high)))
    below, right = max(high - part_high - above, 0), max(wide - across - aside, 0)
    whole = cv2.copyMakeBorder(shown, above, below, aside, right, cv2.BORDER_REPLICATE)
    left = (whole.shape[1] - wide) // 2
    return np.asarray(whole[:high, left : left + wide], np.float32)


def hung(
    production: Production, user: Any, path: Path, name: str, note: str, **where: Any
) -> Picture:
    """A picture of one file, kept and read, hung where it belongs; its last changes unsaved."""
    picture = Picture.objects.create(
        production=production, sent_by=user, name=name, note=note, **where
    )
    sha256, data = disk.checksum(path), path.read_bytes()
    stored = f"{FOLDER}/{production.pk}/{sha256}"
    if not default_storage.exists(stored):
        stored = default_storage.save(stored, ContentFile(data))
    PictureFile.objects.create(
        picture=picture,
        name=path.name,
        size=len(data),
        received=len(data),
        sha256=sha256,
        stored=stored,
    )
    for field_name, value in read_in(picture, [path], [path.name]).items():
        setattr(picture, field_name, value)
    return picture


def lay(production: Production, user: Any) -> int:
    """Put the clips to their plates, read; how many there were."""
    count = 0
    for one in (*FILMS, *PHOTOS):
        plate = production.shots.get(number=one.shot).plates.filter(name=one.plate).first()
        if plate is None or not one.path.exists():
            continue
        board = one.board if isinstance(one, Film) else None
        if board is not None:
            card = issue(user, plate)
            plate.cards.filter(pk=card.pk).update(board=board)
        picture = hung(
            production, user, one.path, one.name, one.note, plate=plate if board is None else None
        )
        if isinstance(one, Photo) and one.balls:
            picture.role = "reference"
        read = facts(picture)
        if read is not None and runs(picture):
            keep(picture, [one.path], read)
        if board is not None:
            file_it(user, picture)
        picture.save()
        if picture.take is not None:
            settle(user, production, picture.take)
        assert picture.state == Arrival.READ
        count += 1
    return count
