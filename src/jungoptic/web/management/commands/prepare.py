"""`prepare`: tables, demo data and static files in one go, for the start command."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from ...demo import load

#: Beside the collected files: what they were collected from.
STAMP = ".collected-from"


class Command(BaseCommand):
    """One process instead of three: most of the time goes into starting Python."""

    help = "Migrates the tables and, where asked, loads the demo and collects static files."

    def add_arguments(self, parser: CommandParser) -> None:
        """`--demo` and `--static`."""
        parser.add_argument("--demo", action="store_true", help="load the demo production")
        parser.add_argument("--static", action="store_true", help="collect static files")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it."""
        call_command("migrate", interactive=False, verbosity=0)
        call_command("createcachetable", verbosity=0)
        if options["demo"]:
            load()
        if options["static"]:
            if settings.STATIC_ROOT is None:
                raise CommandError("Set JUNGOPTIC_COLLECTED_STATIC=1 to collect static files.")
            collect(Path(settings.STATIC_ROOT))


def collect(root: Path) -> bool:
    """Collect and compress static files into `root`, unless it holds just these already; whether
    anything had to be done."""
    now = stamp()
    kept = root / STAMP
    if kept.exists() and kept.read_text() == now:
        return False
    call_command("collectstatic", interactive=False, clear=True, verbosity=0)
    kept.write_text(now)
    return True


def stamp() -> str:
    """What tells one set of static files from another: their names and all that is in them."""
    found = hashlib.blake2b(digest_size=16)
    for finder in get_finders():
        for name, storage in finder.list([]):
            found.update(f"{name}\0".encode())
            with storage.open(name) as file:
                found.update(file.read())
    return found.hexdigest()
