"""A one-time link for a new password, by whoever runs the server."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from ...accounts import names, passkeys, resets
from ...accounts.models import User
from ...journal import writing as journal


class Command(BaseCommand):
    """`python -m django password_link NAME`: hand the address to the person yourself."""

    help = "Print the end of an address by which somebody can set a new password, once."

    def add_arguments(self, parser: Any) -> None:
        """Whose password."""
        parser.add_argument("name")
        parser.add_argument(
            "--without-passkeys",
            action="store_true",
            help="forget their passkeys and spare codes too: for who has lost them all",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        user = User.objects.filter(name_key=names.key(options["name"])).first()
        if user is None:
            raise CommandError(f"Nobody here is called {options['name']}.")
        if options["without_passkeys"]:
            passkeys.take_away(user)
            journal.write(None, None, "account", user.pk, "passkeys forgotten")
        journal.write(None, None, "account", user.pk, "password link")
        self.stdout.write(f"/new-password#{resets.made(user, None)}")
