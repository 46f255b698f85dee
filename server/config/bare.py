"""Settings for tests of the core and of the web's rules, which need no database and none of the applications."""

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
sys.path[:0] = [p for p in (str(ROOT / "core"), str(ROOT / "server"), str(ROOT)) if p not in sys.path]
SECRET_KEY = "none is kept"
INSTALLED_APPS: list[str] = []
DATABASES: dict[str, object] = {}
TEST_RUNNER = "config.testing.Runner"
USE_TZ = True
