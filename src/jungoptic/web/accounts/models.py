"""People who sign in."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import AbstractUser
from django.db import models

from . import names


class User(AbstractUser):
    """A person, by user name. `name_key` is what tells two names apart."""

    name_key = models.CharField(max_length=200, unique=True, editable=False)

    def save(self, *args: Any, **options: Any) -> None:
        """Store the name in its one way of writing, with its key."""
        self.username = names.written(self.username)
        self.name_key = names.key(self.username)
        super().save(*args, **options)
