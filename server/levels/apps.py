"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class LevelsConfig(AppConfig):
    name = "levels"

    def ready(self) -> None:
        import_module("levels.best")
