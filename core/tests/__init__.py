"""Tests of the core. They need no database and no Django."""

from hypothesis import settings

settings.register_profile("house", deadline=None, max_examples=60, derandomize=True)
settings.load_profile("house")
