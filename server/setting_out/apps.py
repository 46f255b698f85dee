"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class SettingOutConfig(AppConfig):
    name = "setting_out"

    def ready(self) -> None:
        import_module("setting_out.fitting")
