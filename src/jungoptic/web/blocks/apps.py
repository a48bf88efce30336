"""Blocks of pictures taken one by one."""

from django.apps import AppConfig


class BlocksConfig(AppConfig):
    """Blocks of pictures taken one by one."""

    name = "jungoptic.web.blocks"
