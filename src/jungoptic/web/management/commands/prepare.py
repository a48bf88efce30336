"""`prepare`: tables, demo data and static files in one go, for the start command."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from ...demo import load


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
            call_command("collectstatic", interactive=False, clear=True, verbosity=0)
