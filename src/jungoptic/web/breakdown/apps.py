"""The breakdown: recipes used, hours, cautions, continuity, and undo on the Board."""

from django.apps import AppConfig


class BreakdownConfig(AppConfig):
    """The breakdown: recipes used, hours, cautions, continuity, and undo on the Board."""

    name = "jungoptic.web.breakdown"
