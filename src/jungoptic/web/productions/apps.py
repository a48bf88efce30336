"""The productions application."""

from django.apps import AppConfig


class ProductionsConfig(AppConfig):
    """Registers the productions models."""

    name = "jungoptic.web.productions"
