"""Long work behind the scenes."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """Long work behind the scenes."""

    name = "jungoptic.web.jobs"
