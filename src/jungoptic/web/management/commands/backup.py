"""`backup FOLDER`: everything at this moment, put aside."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ...backup import whole
from ...backup.database import Trouble


class Command(BaseCommand):
    """For every night: a timer of the machine runs it, nobody has to stop working."""

    help = "Puts database and files aside in a new folder below FOLDER."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where, and how many are kept."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--keep", type=int, default=0, help="delete older ones beyond so many")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it."""
        if options["keep"] < 0:
            raise CommandError("--keep is a number of backups, 0 for all.")
        try:
            made = whole.put_aside(options["folder"])
        except (Trouble, OSError) as error:
            raise CommandError(str(error)) from error
        told = whole.read(made)
        size = sum(file["size"] for file in told["files"].values())
        self.stdout.write(
            f"{made}: {sum(told['rows'].values()):,} rows, {len(told['files']):,} files, "
            f"{size / 1e6:,.1f} MB"
        )
        if options["keep"]:
            for path in whole.keep(options["folder"], options["keep"]):
                self.stdout.write(f"deleted {path}")
