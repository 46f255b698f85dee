"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class OutputConfig(AppConfig):
    name = "output"

    def ready(self) -> None:
        import_module("output.making")
