"""The memory of this process: results of stages under their keys, previews apart from models."""

from django.conf import settings

from saddle.stages.cache import Cache
from saddle.stages.run import Run

CACHE = Cache(settings.CACHE_BYTES)
_PREVIEWS = Cache(settings.CACHE_BYTES // 8, beneath=CACHE)


def run() -> Run:
    """For what the project is: results stay for everybody who asks again."""
    return Run(CACHE)


def variants_run() -> Run:
    """For whole roads that are compared or previewed: kept apart, so that they drive nothing of the project out."""
    return Run(_PREVIEWS)


def preview_run() -> Run:
    """For what somebody tries while the hand moves: it may use what is known and leaves nothing behind."""
    return Run(CACHE, passing=True)
