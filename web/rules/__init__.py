"""Tests of the web's own rules, without a browser: the plain functions are bundled once and asked through one Node process."""

import os

from hypothesis import HealthCheck, settings

MOST = 600 if "TIN_SADDLE_LONG" in os.environ else 60
settings.register_profile(
    "rules", deadline=None, max_examples=MOST, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("rules")
