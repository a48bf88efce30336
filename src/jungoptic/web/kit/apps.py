"""The kit application."""

from django.apps import AppConfig


class KitConfig(AppConfig):
    """Registers the kit models."""

    name = "jungoptic.web.kit"
