"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class AlignmentConfig(AppConfig):
    name = "alignment"

    def ready(self) -> None:
        import_module("alignment.fits")
