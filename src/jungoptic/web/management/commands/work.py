"""`work`: does the long work of some queues, with what takes long to load ready before it is asked
for."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from ...jobs.kinds import KINDS
from ...jobs.tasks import MEMORY
from ...jobs.warm import HAND


class Command(BaseCommand):
    """A worker of procrastinate, and beside it the process that does what somebody waits for."""

    help = "Does the long work of some queues, and has ready what that takes long to load."

    def add_arguments(self, parser: CommandParser) -> None:
        """Some of those of procrastinate's worker, under the same names."""
        parser.add_argument("--queues", default="", help="comma-separated; all of them without")
        parser.add_argument("--name", default="")
        parser.add_argument("--delete-jobs", default="")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it."""
        told = {name: options[name.replace("-", "_")] for name in ("queues", "name", "delete-jobs")}
        queues = told["queues"].split(",") if told["queues"] else None
        if any(one.warm and (queues is None or one.queue in queues) for one in KINDS.values()):
            HAND.begin(MEMORY)
        given = [f"--{name}={value}" for name, value in told.items() if value]
        call_command("procrastinate", "worker", *given)
