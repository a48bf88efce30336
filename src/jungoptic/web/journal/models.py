"""The journal: who did what, when and from where. It only grows, and outlives what it tells of."""

from __future__ import annotations

from django.db import models


class Entry(models.Model):
    """One thing that was done, tried or refused. It refers to nothing that could take it along when
    it goes: people, productions and records are told by number and name.

    The database itself refuses to change or delete an entry; see the migrations.
    """

    at = models.DateTimeField(auto_now_add=True)
    #: Who: the account's number and its name then; nobody for a stranger.
    user_id = models.BigIntegerField(null=True)
    who = models.CharField(max_length=160, blank=True, default="")
    address = models.CharField(max_length=64, blank=True, default="")
    #: The request that it belongs to, as in the log.
    request = models.CharField(max_length=12, blank=True, default="")
    production_id = models.UUIDField(null=True)
    kind = models.CharField(max_length=40)
    record_id = models.CharField(max_length=40, blank=True, default="")
    action = models.CharField(max_length=20)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)
    #: The version of what is told under `before` and `after`; see `documents`.
    version = models.PositiveSmallIntegerField(default=1)

    class Meta:
        ordering = ["-id"]
        indexes = [
            models.Index(fields=["production_id", "-id"]),
            models.Index(fields=["user_id", "-id"]),
        ]
        verbose_name_plural = "entries"

    def __str__(self) -> str:
        return f"{self.who or 'somebody'}: {self.kind} {self.action}"
