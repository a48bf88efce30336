"""`restore FOLDER`: a backup, fetched back."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ...backup import whole
from ...backup.database import Trouble


class Command(BaseCommand):
    """Into an empty database; stop the web and its workers first."""

    help = "Fetches a backup back into this database and this storage, all of it or nothing."

    def add_arguments(self, parser: CommandParser) -> None:
        """Which, and whether what is there may go."""
        parser.add_argument("folder", type=Path)
        parser.add_argument(
            "--over", action="store_true", help="replace the productions that are there"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it."""
        try:
            told = whole.fetch_back(options["folder"], options["over"])
        except (Trouble, OSError) as error:
            raise CommandError(str(error)) from error
        self.stdout.write(
            f"As of {told['made_at']}: {sum(told['rows'].values()):,} rows, "
            f"{len(told['files']):,} files."
        )
