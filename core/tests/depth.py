"""How much of what is heavy by count a run does: a sample in every run, all of it in the long one (`bin/test --long`)."""

import os

LONG = "TIN_SADDLE_LONG" in os.environ


def many(n: int) -> int:
    """Of what was found worth n examples: half of them in every run, ten times as many in the long one."""
    return 10 * n if LONG else max(3, n // 2)


#: Random roads; ROADS in the environment says how many for a run by hand.
ROADS = int(os.environ.get("ROADS", many(200)))
#: The same ones in every usual run, so that it fails twice where it fails once.
SAME_ONES = ROADS <= 200
#: Damaged files of a format.
DAMAGED = int(os.environ.get("TIN_SADDLE_DAMAGED", many(240)))
