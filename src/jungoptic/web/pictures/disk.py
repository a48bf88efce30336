"""Where the bytes of pictures lie: on their way in, and for good."""

from __future__ import annotations

import hashlib
import shutil
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from django.core.files import File
from django.core.files.storage import FileSystemStorage, default_storage

from .models import FOLDER, PictureFile

#: Read and written in pieces of so many bytes.
PIECE = 1 << 20
#: Left free on the disk for everybody else.
KEPT_FREE = 1 << 30

Tell = Callable[[int], None]


def _folder() -> Path:
    """Where files lie while they are being sent; made where it is not there yet."""
    folder = Path(settings.INCOMING_ROOT)
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def incoming(file: PictureFile) -> Path:
    """Where a file lies while it is being sent."""
    return _folder() / str(file.pk)


def room_for(size: int) -> bool:
    """Whether the disk has room for so many more bytes."""
    return shutil.disk_usage(_folder()).free - KEPT_FREE > size


def checksum(path: Path, tell: Tell = lambda done: None) -> str:
    """SHA-256 of a file, in hexadecimal."""
    found, done = hashlib.sha256(), 0
    with path.open("rb") as file:
        while piece := file.read(PIECE):
            found.update(piece)
            done += len(piece)
            tell(done)
    return found.hexdigest()


def adopt(file: PictureFile, sha256: str) -> str:
    """Keep a file that is whole, under the name of what is in it; where it is then. The same bytes
    twice in a production are kept once. What was on its way stays until `let_go`."""
    path, name = incoming(file), f"{FOLDER}/{file.picture.production_id}/{sha256}"
    if default_storage.exists(name):
        return name
    take_in = getattr(default_storage, "take_in", None)
    if take_in is not None:
        return str(take_in(path, name))
    with path.open("rb") as data:
        return str(default_storage.save(name, File(data)))


def let_go(file: PictureFile) -> None:
    """What was on its way is kept elsewhere by now, or wanted no more."""
    incoming(file).unlink(missing_ok=True)


@contextmanager
def at_hand(files: list[PictureFile]) -> Iterator[list[Path]]:
    """Paths of stored files on this machine: where they lie, or copies for as long as they are
    needed."""
    if isinstance(default_storage, FileSystemStorage):
        yield [Path(default_storage.path(file.stored)) for file in files]
        return
    with tempfile.TemporaryDirectory(prefix="fetched-", dir=_folder()) as place:
        paths = []
        for file in files:
            path = Path(place) / str(file.pk)
            with default_storage.open(file.stored, "rb") as source, path.open("wb") as copy:
                shutil.copyfileobj(source, copy, PIECE)
            paths.append(path)
        yield paths


def unfinished() -> list[Path]:
    """Everything that lies where files come in."""
    return list(_folder().iterdir())


def forget(path: Path) -> None:
    """Delete a file or a folder that a crash left behind."""
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink(missing_ok=True)
