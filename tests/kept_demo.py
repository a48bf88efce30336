"""The demo production, made once in a process and laid down again for every test.

Making it works out fourteen shots, which takes seconds; its rows and files are kept instead, and
copied back as they were.
"""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.core.management.color import no_style
from django.db import connection, models, transaction

from jungoptic.web.demo import load

_rows: dict[str, bytes] = {}
_files = Path(tempfile.mkdtemp(prefix="demo-files-"))


def lay_demo() -> None:
    """The demo as `load` makes it, in an empty database."""
    if _rows:
        _lay()
    else:
        assert load()
        _keep()


def _ours() -> list[type[models.Model]]:
    """The models of the application itself, those between its records included."""
    every = apps.get_models(include_auto_created=True)
    return [m for m in every if m.__module__.startswith("jungoptic.")]


def _keep() -> None:
    media = Path(settings.MEDIA_ROOT)
    if media.exists():
        shutil.copytree(media, _files, dirs_exist_ok=True)
    with connection.cursor() as cursor:
        for model in _ours():
            table = connection.ops.quote_name(model._meta.db_table)
            with cursor.copy(f"COPY {table} TO STDOUT") as rows:
                _rows[table] = b"".join(rows)


def _lay() -> None:
    shutil.copytree(_files, settings.MEDIA_ROOT, dirs_exist_ok=True)
    # References between rows are checked at the end of the transaction, so any order does.
    with transaction.atomic(), connection.cursor() as cursor:
        # What the page of the test before had asked for may still be written down after the
        # database was emptied; this waits for it.
        cursor.execute(f"TRUNCATE {', '.join(_rows)} CASCADE")
        for table, kept in _rows.items():
            with cursor.copy(f"COPY {table} FROM STDIN") as rows:
                rows.write(kept)
        for reset in connection.ops.sequence_reset_sql(no_style(), _ours()):
            cursor.execute(reset)
