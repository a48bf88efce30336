"""The application that holds the project's own commands and templates."""

from django.apps import AppConfig


class WebConfig(AppConfig):
    """Commands, templates and shared parts."""

    name = "jungoptic.web"
    label = "web"
