"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class FittingConfig(AppConfig):
    name = "fitting"

    def ready(self) -> None:
        import_module("fitting.best")
