"""Metrics for Prometheus. Where PROMETHEUS_MULTIPROC_DIR is set, web processes and workers of a host write to it together."""

import os
from pathlib import Path

from prometheus_client import REGISTRY as OWN
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, generate_latest, multiprocess

_SECONDS = (0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30)
REQUESTS = Counter("tin_saddle_requests_total", "Requests answered", ["method", "route", "status"])
REQUEST_SECONDS = Histogram("tin_saddle_request_seconds", "Time of a request", ["route"], buckets=_SECONDS)
JOBS = Counter("tin_saddle_jobs_total", "Jobs ended", ["kind", "state"])
JOB_SECONDS = Histogram("tin_saddle_job_seconds", "Time of a job", ["kind"], buckets=(*_SECONDS, 60, 300, 1800))
SOLVE_SECONDS = Histogram("tin_saddle_solve_seconds", "Time to solve a road", buckets=_SECONDS)
CACHE_BYTES = Gauge("tin_saddle_cache_bytes", "Results kept in memory", multiprocess_mode="livesum")
MEMORY_BYTES = Gauge("tin_saddle_memory_bytes", "Memory of the processes", multiprocess_mode="livesum")
_PAGE = os.sysconf("SC_PAGE_SIZE")


def count_request(method: str, route: str, status: int, seconds: float) -> None:
    """A request that was answered; route: its pattern, so that there are few."""
    REQUESTS.labels(method, route, status).inc()
    REQUEST_SECONDS.labels(route).observe(seconds)
    look_at_memory()


def look_at_memory() -> None:
    """Memory of this process, as the system counts it."""
    MEMORY_BYTES.set(int(Path("/proc/self/statm").read_text().split()[1]) * _PAGE)


def text() -> bytes:
    """All metrics as Prometheus reads them."""
    if not os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        return generate_latest(OWN)
    together = CollectorRegistry()
    multiprocess.MultiProcessCollector(together)  # type: ignore[no-untyped-call]
    return generate_latest(together)
