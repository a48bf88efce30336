"""Where the bytes of pictures lie: on their way in, and for good."""

from __future__ import annotations

import hashlib
import os
import shutil
import tempfile
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
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
    return name if default_storage.exists(name) else keep_whole(path, name)


def keep_whole(path: Path, name: str) -> str:
    """Keep a file that is whole and on the disk; where it is then."""
    take_in = getattr(default_storage, "take_in", None)
    if take_in is not None:
        return str(take_in(path, name))
    with path.open("rb") as data:
        return str(default_storage.save(name, File(data)))


@contextmanager
def handed_in(data: bytes) -> Iterator[Path]:
    """What was sent in one piece as a file of this machine, on the disk, until it is kept."""
    with tempfile.NamedTemporaryFile(prefix="handed-in-", dir=_folder()) as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())
        yield Path(file.name)


def let_go(file: PictureFile) -> None:
    """What was on its way is kept elsewhere by now, or wanted no more."""
    incoming(file).unlink(missing_ok=True)


@contextmanager
def at_hand(files: list[PictureFile]) -> Iterator[list[Path]]:
    """Paths of stored files on this machine: where they lie, or copies for as long as they are
    needed."""
    with ExitStack() as stack:
        yield [stack.enter_context(local(file.stored)) for file in files]


@contextmanager
def local(name: str) -> Iterator[Path]:
    """The path of a stored file on this machine: where it lies, or a copy for as long as it is
    needed. What is gone raises FileNotFoundError where it is opened."""
    if isinstance(default_storage, FileSystemStorage):
        yield Path(default_storage.path(name))
        return
    with tempfile.NamedTemporaryFile(prefix="fetched-", dir=_folder()) as copy:
        with default_storage.open(name, "rb") as source:
            shutil.copyfileobj(source, copy, PIECE)
        copy.flush()
        yield Path(copy.name)


def unfinished() -> list[Path]:
    """Everything that lies where files come in."""
    return list(_folder().iterdir())


def forget(path: Path) -> None:
    """Delete a file or a folder that a crash left behind."""
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink(missing_ok=True)
