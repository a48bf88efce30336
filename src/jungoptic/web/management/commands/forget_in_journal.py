"""`forget_in_journal NAME`: the journal keeps what a person did, and no longer says who it was."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ...accounts import names
from ...accounts.models import User
from ...journal.writing import forget


class Command(BaseCommand):
    """The one change that the journal allows."""

    help = "Replaces a person by a pseudonym in every entry of the journal."

    def add_arguments(self, parser: CommandParser) -> None:
        """The user's name."""
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it."""
        user = User.objects.filter(name_key=names.key(options["name"])).first()
        if user is None:
            raise CommandError(f"There is nobody called {options['name']}.")
        self.stdout.write(f"{forget(user.pk)} entries no longer say who it was.")
