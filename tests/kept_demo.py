"""The demo production, made once and laid down again for every test that wants it.

Making it works out nineteen shots and films them, which takes half a minute; its rows and files are
kept in `.local` instead, for all processes and for later runs of the same program, and copied back
as they were.
"""

from __future__ import annotations

import datetime
import fcntl
import hashlib
import shutil
from functools import cache
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.core.management.color import no_style
from django.db import connection, models, transaction

import jungoptic
from jungoptic.web.board.board import verdicts
from jungoptic.web.demo import load
from jungoptic.web.kept.models import KeptAnswer
from jungoptic.web.productions.models import Production

KEPT = Path(__file__).parents[1] / ".local" / "kept-demo"


@cache
def _program() -> str:
    """What tells one state of the program, with the pictures of its demo, from another; and one
    day from the next, since some of the demo lies so many days ago."""
    root = Path(jungoptic.__file__).parent
    found = hashlib.blake2b(f"{datetime.date.today()}".encode(), digest_size=16)
    for file in sorted(root.rglob("*")):
        if file.is_file() and "__pycache__" not in file.parts:
            found.update(file.relative_to(root).as_posix().encode())
            found.update(file.read_bytes())
    return found.hexdigest()


def lay_demo(judged: bool = False) -> None:
    """The demo as `load` makes it, in an empty database; with its Board's verdicts where `judged`,
    as after somebody has looked at it."""
    KEPT.mkdir(parents=True, exist_ok=True)
    kept = KEPT / _program()
    with (KEPT / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        made = (kept / "made").exists()
        if not made:
            for older in KEPT.iterdir():
                if older.is_dir():
                    shutil.rmtree(older)
            kept.mkdir()
            assert load()
            _judge()
            _keep(kept)
            (kept / "made").touch()
    if made:
        _lay(kept)
    if not judged:
        KeptAnswer.objects.all().delete()


def _judge() -> None:
    production = Production.objects.get()
    verdicts(production, list(production.shots.values_list("pk", flat=True)))


def _ours() -> list[type[models.Model]]:
    """The models of the application itself, those between its records included."""
    every = apps.get_models(include_auto_created=True)
    return [m for m in every if m.__module__.startswith("jungoptic.")]


def _keep(kept: Path) -> None:
    shutil.copytree(settings.MEDIA_ROOT, kept / "files", dirs_exist_ok=True)
    (kept / "rows").mkdir(exist_ok=True)
    with connection.cursor() as cursor:
        for model in _ours():
            table = connection.ops.quote_name(model._meta.db_table)
            with cursor.copy(f"COPY {table} TO STDOUT") as rows:
                (kept / "rows" / model._meta.db_table).write_bytes(b"".join(rows))


def _lay(kept: Path) -> None:
    shutil.copytree(kept / "files", settings.MEDIA_ROOT, dirs_exist_ok=True)
    tables = {m._meta.db_table: connection.ops.quote_name(m._meta.db_table) for m in _ours()}
    # References between rows are checked at the end of the transaction, so any order does.
    with transaction.atomic(), connection.cursor() as cursor:
        # What the page of the test before had asked for may still be written down after the
        # database was emptied; this waits for it.
        cursor.execute(f"TRUNCATE {', '.join(tables.values())} CASCADE")
        for name, table in tables.items():
            with cursor.copy(f"COPY {table} FROM STDIN") as rows:
                rows.write((kept / "rows" / name).read_bytes())
        for reset in connection.ops.sequence_reset_sql(no_style(), _ours()):
            cursor.execute(reset)
