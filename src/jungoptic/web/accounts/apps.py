"""The accounts application."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Registers the accounts models."""

    name = "jungoptic.web.accounts"
