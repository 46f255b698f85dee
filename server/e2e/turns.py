"""Which journeys a usual run makes: those that the whole product hangs on, and of the others one in six by turns.

Whose turn it is follows from the sources, so that two runs of one state make the same journeys and every change makes other ones. The
long run and runs of named tests make all.
"""

import os
import unittest
from collections.abc import Callable
from functools import cache
from hashlib import sha256
from typing import TypeVar
from zlib import crc32

from django.conf import settings

#: Usual runs until each of these journeys has had its turn.
TURNS = 6
Test = TypeVar("Test", bound=Callable[..., None])


@cache
def turn() -> int | None:
    """From 0; None where all are made."""
    if "TIN_SADDLE_LONG" in os.environ or "TIN_SADDLE_USUAL" not in os.environ:
        return None
    found = sha256()
    for folder, ending in (("web/src", "*.ts*"), ("server", "*.py"), ("core/saddle", "*.py")):
        for path in sorted((settings.ROOT / folder).rglob(ending)):
            found.update(path.read_bytes())
    return found.digest()[0] % TURNS


def in_turn(test: Test) -> Test:
    """Marks a journey that usual runs make by turns."""
    mine = crc32(test.__qualname__.encode()) % TURNS
    return unittest.skipUnless(turn() in (None, mine), "another run's turn")(test)
