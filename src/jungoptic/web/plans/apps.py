"""The plans application."""

from django.apps import AppConfig


class PlansConfig(AppConfig):
    """Registers the plans models."""

    name = "jungoptic.web.plans"
