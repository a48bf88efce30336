"""The journal as a Django application."""

from django.apps import AppConfig


class JournalConfig(AppConfig):
    """Who did what, when and from where."""

    name = "jungoptic.web.journal"
    label = "journal"
