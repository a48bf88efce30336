"""What was filmed of a shot, roughly put together."""

from django.apps import AppConfig


class RoughConfig(AppConfig):
    """What was filmed of a shot, roughly put together."""

    name = "jungoptic.web.rough"
