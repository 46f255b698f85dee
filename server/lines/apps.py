"""Section lines."""

from django.apps import AppConfig


class LinesConfig(AppConfig):
    """Groups of section lines in plan, and the road cut along them."""

    name = "lines"
