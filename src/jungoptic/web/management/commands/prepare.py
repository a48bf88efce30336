"""`prepare`: tables, demo data and static files in one go, for the start command."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection, transaction

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
        parser.add_argument(
            "--serve-as",
            default="",
            metavar="ROLE",
            help="what the server's role may in the tables",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it."""
        call_command("migrate", interactive=False, verbosity=0)
        call_command("createcachetable", verbosity=0)
        if options["serve_as"]:
            grant(options["serve_as"])
        if options["demo"]:
            load()
        if options["static"]:
            if settings.STATIC_ROOT is None:
                raise CommandError("Set JUNGOPTIC_COLLECTED_STATIC=1 to collect static files.")
            collect(Path(settings.STATIC_ROOT))


def grant(role: str) -> None:
    """Let the role that serves read and write rows, and no more: no tables made or dropped, and the
    journal only grows."""
    with transaction.atomic(), connection.cursor() as cursor:
        name = connection.ops.quote_name(role)
        for right in RIGHTS:
            cursor.execute(right.format(role=name))


#: Beyond entering, of an entry only who it was can be replaced (see the journal's trigger).
RIGHTS = (
    "grant usage on schema public to {role}",
    "grant select, insert, update, delete on all tables in schema public to {role}",
    "grant usage, select on all sequences in schema public to {role}",
    "grant execute on all functions in schema public to {role}",
    "revoke insert, update, delete on django_migrations from {role}",
    "revoke update, delete on journal_entry from {role}",
    "grant update (who, address) on journal_entry to {role}",
)


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
