"""People who sign in."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser


class User(AbstractUser):
    """A person, by user name. Own model from the start, so that it can grow."""
