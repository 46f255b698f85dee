"""Speed of the core, with sizes doubled twice, and against general-purpose libraries doing the same work.

Run with bin/bench. Figures are seconds of one process; growth is the time of the largest over the smallest size.
"""

import io
import time
from dataclasses import replace

import numpy as np
import shapely
import trimesh
from reportlab.pdfgen.canvas import Canvas

from bench.fitting import bench_fitting
from bench.surveys import bench_clouds, bench_files, bench_memory
from bench.templates import bench_full_template, bench_test_bench
from bench.timing import best, memory_of, table
from saddle.alignment.alignment import build
from saddle.alignment.fit import fit
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.drawings.body import Set
from saddle.drawings.display import Page, Picture, Polygon, Text
from saddle.drawings.make import Sheet, draw
from saddle.drawings.spec import Drawing, DrawingStyle, TitleBlock
from saddle.drawings.title import Standing
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.geometry.areas import cut_and_fill
from saddle.geometry.polylines import Polylines
from saddle.guides.spec import AtOffset
from saddle.pipeline import solve
from saddle.road.model import RoadInputs
from saddle.road.spec import Overlay, SectionSettings, TemplatePlan, TemplateRange, Treatment, TreatmentPlan
from saddle.stages.run import Run
from saddle.template import starter
from saddle.terrain.compare import compare
from saddle.terrain.cut import cut_sections
from saddle.terrain.tin import Tin, triangulate
from saddle.views.depth_map import depth_bands, depth_triangles


def corridor(points: int, length: float = 10_000.0) -> Tin:
    """A random surface 50 m wide along the east axis."""
    rng = np.random.default_rng(1)
    xyz = np.column_stack([rng.uniform(0, length, points), rng.uniform(-25, 25, points), rng.normal(0, 0.1, points)])
    return triangulate(xyz, np.empty((0, 2), dtype=int))


def lines_across(n: int, length: float = 10_000.0) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    origins = np.column_stack([np.linspace(5, length - 5, n), np.zeros(n)])
    return origins, np.tile([0.0, -1.0], (n, 1)), np.full(n, -24.0), np.full(n, 24.0)


def bench_cutting() -> None:
    rows: list[list[object]] = []
    for points in (125_000, 250_000, 500_000):
        tin = corridor(points)
        built = best(lambda tin=tin: Tin(tin.points.copy(), tin.triangles.copy()).index, 1)  # type: ignore[misc]
        _ = tin.index
        rows.append([len(tin.triangles), 1001, built, best(lambda tin=tin: cut_sections(tin, *lines_across(1001)))])  # type: ignore[misc]
    table("Sections cut (1,001 lines)", ["triangles", "lines", "index s", "cut s"], rows)
    tin = corridor(20_000, 1000.0)
    origins, directions, left, right = lines_across(40, 1000.0)
    mesh = trimesh.Trimesh(tin.points, tin.triangles, process=False)

    def with_trimesh() -> None:
        for origin in origins:
            trimesh.intersections.mesh_plane(mesh, [1.0, 0.0, 0.0], [*origin, 0.0])  # type: ignore[no-untyped-call]

    def with_shapely() -> None:
        polygons = shapely.polygons(tin.points[tin.triangles, :2])
        tree = shapely.STRtree(polygons)
        for origin in origins:
            line = shapely.LineString([(origin[0], -24), (origin[0], 24)])
            shapely.intersection(polygons[tree.query(line, predicate="intersects")], line)

    _ = tin.index
    ours = best(lambda: cut_sections(tin, origins, directions, left, right))
    theirs = best(with_trimesh), best(with_shapely)
    table(
        "40 sections of 40,000 triangles, all at once against one by one",
        ["ours s", "trimesh s", "shapely s", "trimesh / ours", "shapely / ours"],
        [[ours, *theirs, theirs[0] / ours, theirs[1] / ours]],
    )


def long_road(length: float) -> RoadInputs:
    """A straight road with the demo's templates and a rutted random surface."""
    n = int(length * 4)
    rng = np.random.default_rng(2)
    xyz = np.column_stack([rng.uniform(-5, 25, n), rng.uniform(-10, length + 10, n), np.zeros(n)])
    xyz[:, 0] -= 10
    xyz[:, 2] = 50 - 0.025 * np.abs(xyz[:, 0]) + 0.01 * np.sin(xyz[:, 1] / 7) + rng.normal(0, 0.01, n)
    edge = AtOffset(offset=3.0)
    work = Overlay(left_edge=AtOffset(offset=-3.0), right_edge=edge)
    return RoadInputs(
        AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=length)]),
        triangulate(xyz, np.empty((0, 2), dtype=int)),
        {},
        SectionSettings(interval=10, left=-12, right=12),
        TreatmentPlan(ranges=[Treatment(from_chainage=0, to_chainage=length, work=work)]),
        TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=length, template="village")]),
        dict(starter.TEMPLATES),
        dict(starter.MAKE_UPS),
        dict(starter.KERBS),
        dict(starter.MATERIALS),
    )


def bench_solving() -> None:
    rows: list[list[object]] = []
    for length in (2_500.0, 5_000.0, 10_000.0):
        inputs = long_road(length)
        run = Run()
        model = solve(inputs, run)
        n = len(model.chainage)
        cut = best(lambda inputs=inputs: solve(inputs), 2)  # type: ignore[misc]
        origins = model.frames.origin, model.frames.to_right, np.full(n, -12.0), np.full(n, 12.0)
        cut_only = best(lambda inputs=inputs, origins=origins: cut_sections(inputs.surface, *origins), 2)  # type: ignore[misc]
        cover = iter(range(30, 90))

        def edit(inputs: RoadInputs = inputs, run: Run = run) -> None:
            old = inputs.treatments.ranges[0]
            new = old.changed(work=old.work.changed(least_cover_mm=float(next(cover))))  # noqa: B023
            solve(replace(inputs, treatments=TreatmentPlan(ranges=[new])), run)

        one = best(lambda inputs=inputs, n=n: solve(inputs, pick=lambda _: np.array([n // 2])))  # type: ignore[misc]
        bands = best(lambda model=model: depth_bands(depth_triangles(model), model.inputs.settings.depth_bands_mm), 1)  # type: ignore[misc]
        rows.append([n, cut - cut_only, best(edit), one, bands])
    table("Roads solved from cut sections", ["sections", "solve s", "edit of cover s", "one section s", "depth map s"], rows)
    print(f"  growth of solving over {rows[-1][0] / rows[0][0]:.1f} times the sections: {rows[-1][1] / rows[0][1]:.1f}")  # type: ignore[operator]


def bench_areas() -> None:
    rng = np.random.default_rng(3)
    rows: list[list[object]] = []
    for n in (250, 500, 1000):
        o = np.sort(rng.uniform(-10, 10, (n, 40)), axis=1)
        a, b = (Polylines(o, rng.normal(0, 1, o.shape)) for _ in range(2))
        ends = o[:, 0].copy(), o[:, -1].copy()

        def by_shapely(a: Polylines = a, b: Polylines = b, n: int = n) -> None:
            for i in range(n):
                (oa, za), (_, zb) = a.row(i), b.row(i)
                top = shapely.Polygon([*zip(oa, za, strict=True), (oa[-1], -99), (oa[0], -99)])
                low = shapely.Polygon([*zip(oa, zb, strict=True), (oa[-1], 99), (oa[0], 99)])
                _ = top.intersection(low).area

        ours = best(lambda a=a, b=b, ends=ends: cut_and_fill(a, b, *ends))  # type: ignore[misc]
        theirs = best(by_shapely, 1)
        rows.append([n, ours, theirs, theirs / ours])
    table("Cut and fill, all sections at once against shapely one by one", ["sections", "ours s", "shapely s", "ratio"], rows)


def bench_sheets() -> None:
    """Sections laid out and written; bare: the same primitives drawn with reportlab and nothing else; more: memory that the
    layout took at most, on top of the solved road."""
    rows: list[list[object]] = []
    standing = Standing("-", "bench", "-")
    for length in (2_500.0, 5_000.0, 10_000.0):
        model = solve(long_road(length))
        of = Set(model, {"s": DrawingStyle()}, TitleBlock(), "Bench")
        sheets: list[Sheet] = []
        start = time.perf_counter()
        more = memory_of(lambda of=of, sheets=sheets: sheets.extend(draw(of, Drawing(style="s"), standing)))  # type: ignore[misc]
        laid = time.perf_counter() - start
        written = best(lambda sheets=sheets: pages_to_pdf((s.page for s in sheets), "Bench"), 1)  # type: ignore[misc]
        pages = [s.page for s in sheets]
        bare = best(lambda pages=pages: bare_pdf(pages), 1)  # type: ignore[misc]
        rows.append([len(model.chainage), len(pages), laid, written, bare, written / bare, more])
    heads = ["sections", "sheets", "layout s", "PDF s", "bare s", "ratio", "more MB"]
    table("Sheets laid out and written as PDF", heads, rows)


def bare_pdf(pages: list[Page]) -> None:
    """Lines, outlines and words of pages, by reportlab's canvas alone."""
    canvas = Canvas(io.BytesIO())
    for page in pages:
        canvas.setPageSize((page.width * 72 / 25.4, page.height * 72 / 25.4))
        for item in page.items:
            if isinstance(item, Text):
                canvas.drawString(*item.at, item.text)
            elif not isinstance(item, Picture):
                path = canvas.beginPath()
                path.moveTo(*item.points[0])
                for point in item.points[1:]:
                    path.lineTo(*point)
                canvas.drawPath(path, stroke=1, fill=int(isinstance(item, Polygon)))
        canvas.showPage()
    canvas.save()


def bench_fit() -> None:
    rows: list[list[object]] = []
    for curves in (2, 4, 8):
        elements = []
        for i in range(curves):
            elements += [Straight(length=150.0), Arc(length=120.0, radius=300.0 if i % 2 else -250.0)]
        line = build(
            AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[*elements, Straight(length=150.0)])
        )
        c = np.linspace(0, line.end, int(line.end / 8))
        points = line.frames(c).plan(np.arange(len(c)), np.random.default_rng(4).normal(0, 0.005, len(c)))
        rows.append([len(points), 2 * curves + 1, best(lambda points=points: fit(points, clothoids=False), 1)])  # type: ignore[misc]
    table("Best fit through points", ["points", "elements", "fit s"], rows)


def bench_compare() -> None:
    rows: list[list[object]] = []
    for points in (2_000, 4_000, 8_000):
        a, b = (
            corridor(points, 1000.0),
            Tin(corridor(points, 1000.0).points + [1.7, 0.3, 0.1], corridor(points, 1000.0).triangles),
        )

        def one_by_one(a: Tin = a, b: Tin = b) -> None:
            tree = shapely.STRtree(shapely.polygons(b.points[b.triangles, :2]))
            for polygon in shapely.polygons(a.points[a.triangles[:200], :2]):
                for j in tree.query(polygon, predicate="intersects"):
                    _ = polygon.intersection(tree.geometries[j]).area

        ours, theirs = best(lambda a=a, b=b: compare(a, b), 1), best(one_by_one, 1) * len(a.triangles) / 200  # type: ignore[misc]
        rows.append([len(a.triangles), ours, theirs, theirs / ours])
    table("Volume between two surfaces, against shapely piece by piece", ["triangles", "ours s", "shapely s", "ratio"], rows)


if __name__ == "__main__":
    bench_cutting()
    bench_solving()
    bench_areas()
    bench_sheets()
    bench_fit()
    bench_compare()
    bench_files(corridor)
    bench_clouds()
    bench_memory()
    bench_full_template(long_road)
    bench_test_bench()
    bench_fitting(long_road)
