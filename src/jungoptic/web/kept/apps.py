"""Answers worth keeping."""

from django.apps import AppConfig


class KeptConfig(AppConfig):
    """Answers worth keeping."""

    name = "jungoptic.web.kept"
