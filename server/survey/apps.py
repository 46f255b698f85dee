"""Makes the app's job handlers known."""

from django.apps import AppConfig


class SurveyConfig(AppConfig):
    name = "survey"

    def ready(self) -> None:
        from survey import importing  # noqa: F401  registers its handlers
