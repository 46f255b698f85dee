"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class DrawingsConfig(AppConfig):
    name = "drawings"

    def ready(self) -> None:
        for module in ("making", "issuing", "comparing", "package"):
            import_module(f"drawings.{module}")
