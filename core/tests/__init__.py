"""Tests of the core. They need no database and no Django."""

from hypothesis import HealthCheck, settings

from tests.depth import many

settings.register_profile(
    "house", deadline=None, max_examples=many(60), derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("house")
