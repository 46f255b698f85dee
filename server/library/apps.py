"""The shared library."""

from django.apps import AppConfig


class LibraryConfig(AppConfig):
    """Templates, make-ups, kerbs and materials shared between projects."""

    name = "library"
    default_auto_field = "django.db.models.BigAutoField"
