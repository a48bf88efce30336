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


class OpenSession(models.Model):
    """A device on which somebody is signed in."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="open_sessions")
    key = models.CharField(max_length=40, unique=True)
    began_at = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(auto_now=True)
    address = models.CharField(max_length=64, blank=True, default="")
    #: What the browser says of itself.
    device = models.CharField(max_length=300, blank=True, default="")

    class Meta:
        ordering = ["-seen_at", "-id"]

    def __str__(self) -> str:
        return f"{self.user} since {self.began_at}"


class Passkey(models.Model):
    """What a person shows beside the password: the public half of a key that a device keeps."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="passkeys")
    name = models.CharField(max_length=120)
    #: By what the device knows it (W3C Web Authentication: at most 1023 bytes).
    credential = models.BinaryField(max_length=1023, unique=True)
    public_key = models.BinaryField()
    #: How often it was used, as the device counts; a copy of it would count apart.
    sign_count = models.BigIntegerField(default=0)
    made_at = models.DateTimeField(auto_now_add=True)
    used_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.name} of {self.user}"


class SpareCode(models.Model):
    """Stands in for a lost passkey, once; only its digest is kept."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="spare_codes")
    digest = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint("user", "digest", name="one_spare_code")]

    def __str__(self) -> str:
        return f"a spare code of {self.user}"
