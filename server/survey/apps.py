"""Makes the app's job handlers known."""

from importlib import import_module

from django.apps import AppConfig


class SurveyConfig(AppConfig):
    name = "survey"

    def ready(self) -> None:
        import_module("survey.store")
        import_module("survey.importing")
        import_module("survey.comparing")
        import_module("survey.demo_road")
        import_module("survey.export")
