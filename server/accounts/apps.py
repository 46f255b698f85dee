"""Accounts: signals of sessions, and a check for sign-ins of the demo."""

from importlib import import_module

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "accounts"

    def ready(self) -> None:
        import_module("accounts.sessions")
        import_module("accounts.checks")
