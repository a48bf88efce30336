"""The files that rows refer to, copied out of the storage and into it."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.core.files import File
from django.core.files.storage import default_storage

from ..storage import WholeFiles
from .database import Trouble

#: Copied in pieces of so many bytes.
PIECE = 1 << 20


def names(folder: str = "") -> Iterator[str]:
    """Every whole file of the storage."""
    try:
        folders, files = default_storage.listdir(folder)
    except FileNotFoundError:
        return
    for name in sorted(files):
        if not name.startswith(WholeFiles.UNFINISHED):
            yield f"{folder}/{name}" if folder else name
    for one in sorted(folders):
        yield from names(f"{folder}/{one}" if folder else one)


def put_aside(into: Path, known: dict[str, Any]) -> int:
    """Copy what is not among `known` yet, which grows: the size and SHA-256 of each by name. A file
    that goes in this very moment is left out. How many were copied."""
    count = 0
    for name in names():
        if name in known:
            continue
        target = into / name
        target.parent.mkdir(parents=True, exist_ok=True)
        found, size = hashlib.sha256(), 0
        try:
            with default_storage.open(name, "rb") as source, target.open("wb") as out:
                while piece := source.read(PIECE):
                    out.write(piece)
                    found.update(piece)
                    size += len(piece)
                out.flush()
                os.fsync(out.fileno())
        except FileNotFoundError:
            target.unlink(missing_ok=True)
            continue
        known[name] = {"size": size, "sha256": found.hexdigest()}
        count += 1
    return count


def check(folder: Path, known: dict[str, Any]) -> None:
    """Raise `Trouble` unless every file lies in `folder` as it was put aside."""
    for name, told in known.items():
        path = folder / name
        if not path.is_file():
            raise Trouble(f"{name} is missing in this backup; nothing was changed.")
        with path.open("rb") as file:
            found = hashlib.file_digest(file, "sha256").hexdigest()
        if found != told["sha256"]:
            raise Trouble(f"{name} in this backup is not what was put aside; nothing was changed.")


def fetch_back(folder: Path, known: dict[str, Any]) -> int:
    """Copy into the storage what is not there yet; how many. Names are of what is in a file, or
    made anew, so one that is there is the same."""
    count = 0
    for name in known:
        if default_storage.exists(name):
            continue
        with (folder / name).open("rb") as file:
            kept = default_storage.save(name, File(file))
        if kept != name:
            raise Trouble(f"{name} could not be kept under its name.")
        count += 1
    return count
