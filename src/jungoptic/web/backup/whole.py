"""A backup: a folder with the database, the files, and what there was of each.

jungoptic-20261129-031700/
    manifest.json    rows by table, files with size and SHA-256
    database.dump    PostgreSQL's own format (pg_restore)
    media/           the files under their names
"""

from __future__ import annotations

import json
import shutil
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.utils import timezone

from . import database, files
from .database import Trouble

FORMAT, VERSION = "jungoptic-backup", 1
PREFIX, UNFINISHED = "jungoptic-", ".unfinished"


def put_aside(into: Path) -> Path:
    """Make a backup in the folder `into`, while people go on working; the new folder.

    Files are copied, then the database, then what files came meanwhile: a file is written before
    a row refers to it, so whatever the database knew is there. Raises `Trouble`; a backup that was
    not finished is called so.
    """
    into.mkdir(parents=True, exist_ok=True)
    name = f"{PREFIX}{timezone.now():%Y%m%d-%H%M%S}"
    part = into / f"{name}{UNFINISHED}"
    if part.exists() or (into / name).exists():
        raise Trouble(f"{into / name} is there already; try again in a second.")
    part.mkdir(mode=0o700)
    known: dict[str, Any] = {}
    files.put_aside(part / "media", known)
    counted = database.put_aside(part / "database.dump")
    files.put_aside(part / "media", known)
    manifest = {
        "format": FORMAT,
        "version": VERSION,
        "made_at": timezone.now().isoformat(),
        "rows": counted,
        "files": known,
    }
    (part / "manifest.json").write_text(json.dumps(manifest, indent=1))
    return part.rename(into / name)


def whole(into: Path) -> list[Path]:
    """The finished backups in a folder, oldest first."""
    found = sorted(path for path in into.glob(f"{PREFIX}*") if (path / "manifest.json").is_file())
    return [path for path in found if not path.name.endswith(UNFINISHED)]


def keep(into: Path, most: int) -> list[Path]:
    """Delete the oldest finished backups beyond `most`, and those that were never finished."""
    gone = whole(into)[: -most if most else None]
    gone += [path for path in into.glob(f"{PREFIX}*{UNFINISHED}") if path.is_dir()]
    for path in gone:
        shutil.rmtree(path)
    return gone


def read(folder: Path) -> dict[str, Any]:
    """What a backup says of itself. Raises `Trouble` for what is none."""
    try:
        told = json.loads((folder / "manifest.json").read_text())
    except (OSError, ValueError) as error:
        raise Trouble(f"{folder} is no finished backup.") from error
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        raise Trouble(f"{folder} is no backup of ours.")
    if told.get("version", 0) > VERSION:
        raise Trouble(f"{folder} was made by a later version of Jungoptic; use that one.")
    return told


def fetch_back(folder: Path, over: bool = False) -> dict[str, Any]:
    """Put a backup into this database and storage; what it says of itself.

    Raises `Trouble` where the database holds productions and `over` does not say that they may go,
    or where anything in the backup is not as it was put aside: then nothing has changed.
    """
    told = read(folder)
    files.check(folder / "media", told["files"])
    database.recover()
    there = database.rows()
    if there.get("productions_production", 0) and not over:
        raise Trouble(
            f"This database holds {there['productions_production']} productions, which would be "
            "gone. Restore into an empty one, or say --over."
        )
    files.fetch_back(folder / "media", told["files"])
    database.fetch_back(folder / "database.dump", told["rows"])
    # A backup of an earlier version comes up to this one.
    call_command("migrate", interactive=False, verbosity=0)
    call_command("createcachetable", verbosity=0)
    return told
