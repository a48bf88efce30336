"""The demo production, made once in a run of the tests and laid down again for every one.

Making it works out fourteen shots and films them, which takes a minute; its rows and files are kept
instead, for all processes of the run, and copied back as they were.
"""

from __future__ import annotations

import fcntl
import os
import shutil
import tempfile
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.core.management.color import no_style
from django.db import connection, models, transaction

from jungoptic.web.demo import load


def kept_by(process: int) -> Path:
    """Where what a run keeps lies, by the process that leads it."""
    return Path(tempfile.gettempdir()) / f"kept-demo-{process}"


def lay_demo() -> None:
    """The demo as `load` makes it, in an empty database."""
    # A run of several processes is led by what has begun them.
    kept = kept_by(os.getppid() if "PYTEST_XDIST_WORKER" in os.environ else os.getpid())
    kept.mkdir(exist_ok=True)
    with (kept / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        made = (kept / "made").exists()
        if not made:
            assert load()
            _keep(kept)
            (kept / "made").touch()
    if made:
        _lay(kept)


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
