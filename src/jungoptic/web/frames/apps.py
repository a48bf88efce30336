"""Exposure sheets and move charts."""

from django.apps import AppConfig


class FramesConfig(AppConfig):
    """Exposure sheets and move charts."""

    name = "jungoptic.web.frames"
