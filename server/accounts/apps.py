"""People and their sessions; Django's own users."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "accounts"
