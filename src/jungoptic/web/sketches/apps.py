"""Sketches and scout stills with marks that mean something."""

from django.apps import AppConfig


class SketchesConfig(AppConfig):
    """Sketches and scout stills with marks that mean something."""

    name = "jungoptic.web.sketches"
