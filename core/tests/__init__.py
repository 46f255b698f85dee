"""Tests of the core. They need no database and no Django."""

from hypothesis import settings

from tests.depth import many

settings.register_profile("house", deadline=None, max_examples=many(60), derandomize=True)
settings.load_profile("house")
