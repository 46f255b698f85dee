"""Tests of the web's own rules, without a browser: the plain functions are bundled once and asked through one Node process."""

import os

from hypothesis import settings

settings.register_profile("rules", deadline=None, max_examples=600 if "TIN_SADDLE_LONG" in os.environ else 60, derandomize=True)
settings.load_profile("rules")
