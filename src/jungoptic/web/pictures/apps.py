"""The pictures application."""

from django.apps import AppConfig


class PicturesConfig(AppConfig):
    """Registers the models of pictures."""

    name = "jungoptic.web.pictures"
