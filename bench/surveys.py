"""Surveys as they come: how long files of points take to be read, against the plainest reading of the same rows, what a million points
take of memory, and point clouds thinned, against reading them whole."""

import csv
import io
import subprocess
import sys
from collections.abc import Callable

import laspy
import numpy as np

from bench.timing import best, memory, table
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.landxml_write import write_landxml
from saddle.exchange.point_cloud import read_cloud
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview, write_csv
from saddle.terrain.spec import CodeList, CodeRule, ColumnMapping, FromSurvey, Thinning
from saddle.terrain.survey import Survey, build_surface, collect, line_orders
from saddle.terrain.tin import Tin


def bench_files(corridor: Callable[[int], Tin]) -> None:
    rows: list[list[object]] = []
    for points in (25_000, 50_000, 100_000):
        xyz = corridor(points).points
        n = len(xyz)
        survey = Survey(np.arange(n).astype(str), xyz, np.full(n, "GR"), np.full(n, ""), np.empty((0, 2), dtype=np.intp))
        text = write_csv(survey.number, xyz, survey.code, survey.line, line_orders(survey))
        mapping = ColumnMapping(**preview(text).columns)
        data = write_landxml(survey, {}, [], {}, "2026-01-01")
        ours = best(lambda t=text, m=mapping: read(t, m), 1)  # type: ignore[misc]
        plain = best(lambda t=text: plainly(t), 1)  # type: ignore[misc]
        rows.append([n, ours, plain, ours / plain, best(lambda d=data: read_landxml(d), 1)])  # type: ignore[misc]
    table("Survey files read, CSV also by csv.reader and float alone", ["points", "CSV s", "plain s", "ratio", "LandXML s"], rows)


def plainly(text: str) -> list[list[float]]:
    reader = csv.reader(io.StringIO(text))
    next(reader)
    return [[float(cell) for cell in row[1:4]] for row in reader]


def cloud(points: int) -> bytes:
    """A strip of 10 km as a compressed cloud."""
    rng = np.random.default_rng(1)
    header = laspy.LasHeader(point_format=3, version="1.2")
    header.scales, header.offsets = np.full(3, 0.001), np.array([412_000.0, 286_000.0, 0.0])
    las = laspy.LasData(header)
    las.x, las.y = 412_000 + rng.uniform(0, 10_000, points), 286_000 + rng.uniform(-60, 60, points)
    las.z = 100 + 5 * np.sin(np.asarray(las.x) / 300)
    out = io.BytesIO()
    las.write(out, do_compress=True)
    return out.getvalue()


def bench_clouds() -> None:
    rows: list[list[object]] = []
    for points in (500_000, 1_000_000, 2_000_000):
        data = cloud(points)
        ours = best(lambda d=data: read_cloud(d, Thinning(square=1.0)), 1)  # type: ignore[misc]
        whole = best(lambda d=data: laspy.read(io.BytesIO(d)).xyz, 1)  # type: ignore[misc]
        rows.append([points, ours, whole, ours / whole])
    table("Point clouds thinned to 1 m, against laspy reading all of it", ["points", "ours s", "laspy s", "ratio"], rows)


def take(points: int) -> float:
    """Greatest resident memory after a file of so many points was read and triangulated, MB."""
    rng = np.random.default_rng(1)
    x, y = rng.uniform(0, 10_000, points), rng.uniform(-60, 60, points)
    rows = (f"{i},{412_000 + a:.3f},{286_000 + b:.3f},{100 + b / 50:.3f},GS\n" for i, (a, b) in enumerate(zip(x, y, strict=True)))
    text = "number,east,north,level,code\n" + "".join(rows)
    table_of = read(text, ColumnMapping(**preview(text).columns))[0]
    del text
    build_surface(collect(table_of), CodeList(rules=[CodeRule(code="GS")]), FromSurvey())
    return memory()


def bench_memory() -> None:
    """Each in a process of its own: what one has had stays with it."""
    rows: list[list[object]] = []
    for points in (250_000, 500_000, 1_000_000):
        code = f"from bench.surveys import take; print(take({points}))"
        found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        rows.append([points, float(found.stdout)])
    table("Memory of a survey read and triangulated", ["points", "MB"], rows)
