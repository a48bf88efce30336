"""Answers worth keeping."""

from __future__ import annotations

from django.db import models


class KeptAnswer(models.Model):
    """An answer under the key of all it came from: see `answers`."""

    key = models.CharField(max_length=48, primary_key=True)
    answer = models.TextField()
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    def __str__(self) -> str:
        return self.key
