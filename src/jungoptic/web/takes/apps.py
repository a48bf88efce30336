"""The takes application."""

from django.apps import AppConfig


class TakesConfig(AppConfig):
    """Registers the takes models."""

    name = "jungoptic.web.takes"
