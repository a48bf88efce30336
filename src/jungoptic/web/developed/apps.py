"""Pictures developed by the simulated camera."""

from django.apps import AppConfig


class DevelopedConfig(AppConfig):
    """Pictures developed by the simulated camera."""

    name = "jungoptic.web.developed"
