"""Section lines: the road along them against the design's own sections, triangulations cut by trimesh, shapely and closed forms."""

import json
from dataclasses import replace
from unittest import TestCase

import numpy as np
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, ChainageEquation, Straight
from saddle.errors import ImportProblem, SaddleError
from saddle.exchange.lines_file import lines_csv, read_lines, write_lines
from saddle.geometry.polylines import Polylines, interpolate
from saddle.guides.evaluate import Sources
from saddle.guides.spec import NearestLine
from saddle.lines.crossed import ellipse, structures_met
from saddle.lines.cut import cut_design, cut_surface, runs_of
from saddle.lines.place import CutLine, Ground, angle_of, place_group
from saddle.lines.spec import (
    AlongPath,
    At,
    AtStructure,
    Between,
    FixedWidth,
    LineGroup,
    Regular,
    ToBoundary,
    ToLine,
    WidthRow,
    WidthTable,
)
from saddle.overlay.spec import MillingPlan
from saddle.pipeline import solve
from saddle.road.model import RoadModel
from saddle.road.spec import TemplatePlan, TreatmentPlan
from saddle.template.compiled import surface_columns
from saddle.terrain.spec import Pipe, PipeEnd, Pit, Structures
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import triangulate
from saddle.views.line import ground_of, line_view
from saddle.views.section import section_view
from tests.cases import demo_inputs, demo_model
from tests.depth import many
from tests.random_roads import random_road


def placed(model: RoadModel, *lines: object, widths: object = FixedWidth(left=12.0, right=12.0)) -> tuple[CutLine, ...]:
    group = LineGroup(name="G", lines=list(lines), widths=widths)  # type: ignore[arg-type]
    found = place_group(group, ground_of(model))
    assert not found.wrong, found.wrong
    return found.lines


def along(line: CutLine, n: int = 200) -> tuple[np.ndarray, np.ndarray]:
    """Distances along a line and the places in plan."""
    s = np.linspace(line.along[0], line.along[-1], n)
    return s, np.column_stack([np.interp(s, line.along, line.path[:, d]) for d in range(2)])


class OnItsOwnSection(TestCase):
    """A square line where the design has a section is that section."""

    @given(st.integers(0, 2**32 - 1))
    @settings(max_examples=many(12), deadline=None, derandomize=True)
    def test_on_random_roads(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        model = solve(random_road(rng))
        rows = np.flatnonzero(model.stations.side == 0)[1:-1]
        at = model.inputs.settings
        for row in rng.choice(rows, min(4, len(rows)), replace=False):
            found = model.group_of(int(row))
            if found is not None and not all(h.layers.solved[found[1]] for h in (found[0].left, found[0].right)):
                continue  # what is not known is no section to compare with
            (line,) = placed(model, At(chainage=float(model.chainage[row]), left=-at.left, right=at.right))
            ours, theirs = line_view(model, LineGroup(name="G"), "g", 0, line, {}), section_view(model, int(row))
            o, z = model.existing.row(int(row))
            s, level = cut_surface(model.inputs.surface, line)
            grid = np.sort(rng.uniform(at.left, at.right, (1, 50)))
            np.testing.assert_allclose(
                interpolate(Polylines(s[None], level[None]), grid), interpolate(Polylines(o[None], z[None]), grid), atol=1e-9
            )
            if theirs.design and found is not None:
                self.assertTrue(ours.design, "the design is there too")
            for name in {v.name for v in theirs.layers}:
                areas = [sum(v.area for v in view.layers if v.name == name) for view in (ours, theirs)]
                self.assertAlmostEqual(*areas, delta=1e-8, msg=f"{name} at {line.chainage}")
            self.assertEqual([len(run) > 0 for run in ours.milled], [len(run) > 0 for run in theirs.milled])
            for mine, its in zip(ours.milled, theirs.milled, strict=True):
                lines_ = [Polylines(*(np.array(run).T[k][None] for k in (0, 1))) for run in (mine, its)]
                inside = np.sort(rng.uniform(its[0][0], its[-1][0], (1, 50)))
                np.testing.assert_allclose(interpolate(lines_[0], inside), interpolate(lines_[1], inside), atol=1e-9)
                np.testing.assert_allclose((mine[0], mine[-1]), (its[0], its[-1]), atol=1e-9)
            points = {(p.side, p.name): (p.offset, p.level) for p in theirs.points if p.kind == "point"}
            for p in ours.points:
                np.testing.assert_allclose((p.offset, p.level), points[p.side, p.name], atol=1e-9)


class MilledAlongALine(TestCase):
    def test_askew(self) -> None:
        """Two lanes milled by depths of their own, one growing along the road: below the old road by as much as the plan says there."""
        rows = [[(100, 40), (300, 40)], [(150, 20), (250, 70)]]
        between_ = [(-2.5, 0.0), (0.0, 1.5)]
        stretches = [
            {"left": {"by": "offset", "offset": a}, "right": {"by": "offset", "offset": b},
             "rows": [{"chainage": c, "depth_mm": d} for c, d in own]} for own, (a, b) in zip(rows, between_, strict=True)
        ]  # fmt: skip
        model = solve(replace(demo_inputs(), milling=MillingPlan.model_validate({"stretches": stretches})))
        (line,) = placed(model, At(chainage=203.0, angle_deg=40.0))
        view = line_view(model, LineGroup(name="G"), "g", 0, line, {})
        (run,) = view.milled
        s, path = along(line, 400)
        c, o = model.alignment.locate(path)
        wanted = np.where((o > -2.5) & (o < 0), 0.04, np.where((o > 0) & (o < 1.5), np.interp(c, [150, 250], [0.02, 0.07]), 0.0))
        o_, z_ = cut_surface(model.inputs.surface, line)
        within = (s > run[0][0]) & (s < run[-1][0])
        milled = interpolate(Polylines(*(np.array(run).T[k][None] for k in (0, 1))), s[None, within])[0]
        np.testing.assert_allclose(
            interpolate(Polylines(o_[None], z_[None]), s[None, within])[0] - milled, wanted[within], atol=1e-9
        )
        np.testing.assert_allclose(wanted[~within], 0, atol=1e-12)

    def test_a_limit_that_ends_on_the_way(self) -> None:
        """Past the end of the surveyed line nobody knows how wide is milled: that is told, and not drawn as nothing."""
        inputs = demo_inputs()
        at = np.arange(100.0, 205.0, 4.0)
        path = solve(inputs).alignment.frames(at).plan(np.arange(len(at)), np.full(len(at), 2.0))
        kerb = SurveyLines(*(np.column_stack([p, np.zeros(len(p))]) for p in (path[:-1], path[1:])))
        plan = {"stretches": [{"left": {"by": "offset", "offset": -2.0}, "right": {"by": "line", "code": "LIP"}, "rows": [{"chainage": 150, "depth_mm": 40}, {"chainage": 250, "depth_mm": 40}]}]}  # fmt: skip
        model = solve(replace(inputs, lines={**inputs.lines, "LIP": kerb}, milling=MillingPlan.model_validate(plan)))
        for chainage, known in ((195.0, True), (205.0, False), (300.0, True)):
            (line,) = placed(model, At(chainage=chainage, angle_deg=5.0))
            view = line_view(model, LineGroup(name="G"), "g", 0, line, {})
            self.assertEqual((bool(view.milled), bool(view.milling_unknown)), (known and chainage < 250, not known), chainage)
        # A stretch that ends where its limit ends leaves nothing unknown behind.
        plan["stretches"][0]["rows"] = [{"chainage": 150, "depth_mm": 40}, {"chainage": 200, "depth_mm": 40}]  # type: ignore[index]
        model = solve(replace(inputs, lines={**inputs.lines, "LIP": kerb}, milling=MillingPlan.model_validate(plan)))
        (line,) = placed(model, At(chainage=205.0, angle_deg=5.0))
        self.assertEqual(line_view(model, LineGroup(name="G"), "g", 0, line, {}).milling_unknown, [])


class TheExistingSurface(TestCase):
    def test_skewed_against_trimesh(self) -> None:
        inputs = demo_inputs()
        model = solve(inputs)
        mesh = trimesh.Trimesh(inputs.surface.points, inputs.surface.triangles, process=False)
        for chainage, angle in ((200.0, 35.0), (615.0, -50.0), (905.0, 12.5)):
            (line,) = placed(model, At(chainage=chainage, angle_deg=angle))
            s, z = cut_surface(inputs.surface, line)
            ahead = (line.path[1] - line.path[0]) / np.diff(line.along)[0]
            cut = trimesh.intersections.mesh_plane(mesh, [-ahead[1], ahead[0], 0.0], [*line.path[0], 0.0])  # type: ignore[no-untyped-call]
            places = cut.reshape(-1, 3)
            theirs = (places[:, :2] - line.path[0]) @ ahead + line.along[0]
            inside = (theirs > line.along[0] + 1e-6) & (theirs < line.along[-1] - 1e-6)
            ours = interpolate(Polylines(s[None], z[None]), theirs[None, inside])[0]
            np.testing.assert_allclose(ours, places[inside, 2], atol=1e-9)
            self.assertGreater(inside.sum(), 10)

    def test_bent_and_reversed(self) -> None:
        """A bent path is its legs one after another; walked the other way it is its own mirror."""
        model = demo_model()
        corners = model.frames.plan(np.array([40, 42, 45]), np.array([-11.0, 0.5, 9.0]))
        there, back = placed(
            model, AlongPath(points=[tuple(p) for p in corners]), AlongPath(points=[tuple(p) for p in corners[::-1]])
        )
        self.assertAlmostEqual(there.chainage, back.chainage, delta=1e-6)
        s, z = cut_surface(model.inputs.surface, there)
        r, y = cut_surface(model.inputs.surface, back)
        grid = np.linspace(s[0] + 0.01, s[-1] - 0.01, 90)[None]
        np.testing.assert_allclose(
            interpolate(Polylines(s[None], z[None]), grid), interpolate(Polylines(-r[None, ::-1], y[None, ::-1]), grid), atol=1e-6
        )
        ours, theirs = (
            sorted(v.area for v in line_view(model, LineGroup(name="G"), "g", 0, c, {}).layers) for c in (there, back)
        )
        np.testing.assert_allclose(ours, theirs, atol=1e-6)


class TheDesign(TestCase):
    """Between two sections the points of the template run straight: judged point by point in plain Python."""

    @given(st.integers(0, 2**32 - 1))
    @settings(max_examples=many(12), deadline=None, derandomize=True)
    def test_skewed_on_random_roads(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        model = solve(random_road(rng))
        middle = float(rng.uniform(model.alignment.start + 12, model.alignment.end - 12))
        (line,) = placed(model, At(chainage=middle, angle_deg=float(rng.uniform(-60, 60))))
        for half in cut_design(model, line)[0]:
            for s, z in zip(half.s, half.surface, strict=True):
                theirs = self.level(model, line, float(s), half.side)
                if theirs is not None and not np.isnan(z):
                    self.assertLess(min(abs(z - t) for t in theirs), 1e-6, f"{s} on {half.side}")

    def level(self, model: RoadModel, line: CutLine, s: float, side: int) -> list[float] | None:
        """Level of the design at a distance; both at a step. None beyond the template's points."""
        place = np.array([[np.interp(s, line.along, line.path[:, d]) for d in range(2)]])
        (c,), (o,) = model.alignment.locate(place)
        out: list[float] = []
        for row in {int(np.searchsorted(model.chainage, c + e, side="right")) - 1 for e in (-1e-7, 1e-7)}:
            if not 0 <= row < len(model.chainage) - 1:
                continue
            here, after = model.group_of(row), model.group_of(row + 1)
            if here is None or after is None or here[0] is not after[0]:
                continue
            half = here[0].left if side < 0 else here[0].right
            columns = surface_columns(half.half)
            t = (c - model.chainage[row]) / (model.chainage[row + 1] - model.chainage[row])
            u, z = ((1 - t) * v[here[1]][columns] + t * v[after[1]][columns] for v in (half.u, half.z))
            if abs(side * o - u[-1]) < 1e-9:
                return None  # what lies beyond the template may begin with a step
            for k in range(len(columns) - 1):
                if u[k] - 1e-9 <= side * o <= u[k + 1] + 1e-9:
                    w = 0.5 if u[k + 1] - u[k] < 1e-9 else (side * o - u[k]) / (u[k + 1] - u[k])
                    out += [z[k] + w * (z[k + 1] - z[k])] if u[k + 1] - u[k] > 0 else [z[k], z[k + 1]]
        return [z for z in out if not np.isnan(z)] or None

    def test_planes_against_trimesh(self) -> None:
        """On a plane ground every strip is a plane, so that its triangles are the ruled surface."""
        x, y = np.meshgrid(np.linspace(-30, 30, 13), np.linspace(-20, 220, 49))
        ground = np.column_stack([x.ravel(), y.ravel(), 50 + 0.01 * y.ravel() - 0.02 * x.ravel()])
        inputs = replace(
            demo_inputs(), surface=triangulate(ground, np.empty((0, 2), dtype=int)), lines={},
            alignment=AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=200)]),
            **reconstructed(200.0),
        )  # fmt: skip
        model = solve(inputs)
        (group,) = model.groups
        for half, side in ((group.left, -1), (group.right, 1)):
            points = np.stack([side * half.u, np.broadcast_to(model.chainage[group.rows][:, None], half.u.shape), half.z], axis=2)
            m, k = half.u.shape
            number = np.arange(m * k).reshape(m, k)
            a, b, c, d = (v.ravel() for v in (number[:-1, :-1], number[:-1, 1:], number[1:, :-1], number[1:, 1:]))
            mesh = trimesh.Trimesh(
                points.reshape(-1, 3), np.concatenate([np.column_stack([a, b, c]), np.column_stack([b, d, c])]), process=False
            )
            for angle in (0.0, 25.0, -55.0):
                (line,) = placed(model, At(chainage=97.3, angle_deg=angle))
                ahead = (line.path[1] - line.path[0]) / np.hypot(*(line.path[1] - line.path[0]))
                cut = trimesh.intersections.mesh_plane(mesh, [-ahead[1], ahead[0], 0.0], [*line.path[0], 0.0])  # type: ignore[no-untyped-call]
                found = next(h for h in cut_design(model, line)[0] if h.side == side)
                runs = runs_of(found.s, found.surface)
                s, z = (np.concatenate([[v[i] for v in run] for run in runs]) for i in range(2))
                theirs = (cut.reshape(-1, 3)[:, :2] - line.path[0]) @ ahead + line.along[0]
                inside = (theirs > s.min() + 1e-6) & (theirs < s.max() - 1e-6)
                self.assertGreater(inside.sum(), 3)
                order = np.argsort(s, kind="stable")
                ours = np.interp(theirs[inside], s[order], z[order])
                np.testing.assert_allclose(ours, cut.reshape(-1, 3)[inside, 2], atol=1e-7)


def reconstructed(length: float) -> dict[str, object]:
    """New construction over the whole of a road, without kerbs."""
    treatments = TreatmentPlan.model_validate(
        {"ranges": [{"from_chainage": 0, "to_chainage": length, "work": {"kind": "reconstruct", "left_edge": {"by": "offset", "offset": -3.5}, "right_edge": {"by": "offset", "offset": 3.5}}}]}
    )  # fmt: skip
    plan = TemplatePlan.model_validate({"ranges": [{"from_chainage": 0, "to_chainage": length, "template": "rural"}]})
    return {"treatments": treatments, "template_plan": plan}


class NotKnown(TestCase):
    def test_a_gap_stays_a_gap_and_is_said(self) -> None:
        """The template changes at 0+420, where two sections stand beside each other: a long path along the road crosses that, and a
        side that cannot be solved is missing on that side alone."""
        model = demo_model()
        group = next(g for g in model.groups if g.name == "Rural, shoulders")
        k = 5
        row = int(group.rows[k])
        layers = group.right.layers
        solved = layers.solved.copy()
        solved[k] = False
        right = replace(group.right, layers=replace(layers, solved=solved))
        groups = tuple(replace(g, right=right) if g is group else g for g in model.groups)
        broken = replace(model, groups=groups)
        path = model.frames.plan(np.array([row - 3, row + 3]), np.array([1.5, 1.5]))
        (line,) = placed(model, AlongPath(points=[tuple(p) for p in path]))
        whole, part = (line_view(m, LineGroup(name="G"), "g", 0, line, {}) for m in (model, broken))
        self.assertEqual((len(whole.designs), whole.unknown), (1, []))
        self.assertEqual(len(part.designs), 2)
        ((low, high),) = part.unknown
        np.testing.assert_allclose([low, high], [part.designs[0][-1][0], part.designs[1][0][0]], atol=1e-6)
        c = model.chainage
        self.assertAlmostEqual(high - low, c[row + 1] - c[row - 1], delta=0.01)
        self.assertFalse([r for r in part.rows if low + 1e-6 < r.distance < high - 1e-6 and r.design is not None])


class Structure(TestCase):
    @given(st.floats(0, 80), st.floats(-0.4, 0.4), st.floats(0.05, 1.5))
    def test_an_ellipse_has_its_closed_form(self, skew: float, slope: float, radius: float) -> None:
        """Every place of the outline lies as far from the pipe's axis as its radius; level pipes are D / cos wide and D high."""
        a = np.radians(skew)
        axis = np.array([np.sin(a), np.cos(a), slope]) / np.hypot(1, slope)
        found = ellipse(np.array([1.0, 0.0]), axis, radius)
        space = np.column_stack([found[:, 0], np.zeros(len(found)), found[:, 1]])
        away = np.linalg.norm(space - np.outer(space @ axis, axis), axis=1)
        np.testing.assert_allclose(away, radius, rtol=1e-9)
        level = ellipse(np.array([1.0, 0.0]), np.array([np.sin(a), np.cos(a), 0.0]), radius)
        self.assertAlmostEqual(float(np.ptp(level[:, 1])), 2 * radius, delta=1e-9)
        self.assertAlmostEqual(float(level[:, 0].max()), radius / np.cos(a), delta=0.01 * radius / np.cos(a))

    def model(self) -> RoadModel:
        model = demo_model()
        a, b = model.frames.plan(np.array([50, 53]), np.array([-6.0, 7.0]))
        pits = [Pit(name="P1", east=a[0], north=a[1], cover=90.0, invert=88.0), Pit(name="P2", east=b[0], north=b[1], cover=90.0)]
        pipe = Pipe(
            name="D1",
            points=[PipeEnd(east=a[0], north=a[1], level=88.0), PipeEnd(east=b[0], north=b[1], level=87.8)],
            diameter_mm=600,
        )
        return solve(replace(demo_inputs(), structures=Structures(pits=pits, pipes=[pipe])))

    def test_a_run_passes_both_middles(self) -> None:
        model = self.model()
        (line,) = placed(model, Between(first="P1", last="P2", past=4.0))
        way = shapely.LineString(line.path)
        for pit in model.inputs.structures.pits:
            self.assertLess(way.distance(shapely.Point(pit.east, pit.north)), 1e-9)
        self.assertAlmostEqual(way.length, np.hypot(*(line.path[2] - line.path[1])) + 8, delta=1e-9)
        met = structures_met(model.inputs.structures, line)
        self.assertEqual([m.name for m in met], ["P1", "D1", "P2"])
        pipe = met[1]
        self.assertAlmostEqual(pipe.across, way.length - 8, delta=1e-6)  # drawn as the pipe itself
        self.assertEqual((pipe.bottom, round(pipe.top, 9)), (87.8, 88.6))
        self.assertTrue(np.isnan(met[2].bottom), "what is not known stays so")

    def test_a_pipe_of_several_lengths_lies_as_one(self) -> None:
        model = demo_model()
        places = model.frames.plan(np.array([50, 50, 50, 50]), np.array([-6.0, -2.0, 3.0, 8.0]))
        levels = [88.0, 87.9, 87.85, 87.7]
        pipe = Pipe(name="D", points=[PipeEnd(east=e, north=n, level=z) for (e, n), z in zip(places, levels, strict=True)])
        (line,) = placed(model, At(chainage=float(model.chainage[50])))
        (met,) = structures_met(Structures(pipes=[pipe]), line)
        np.testing.assert_allclose(met.outline[:4], list(zip([-6, -2, 3, 8], levels, strict=True)), atol=1e-6)
        self.assertAlmostEqual(met.across, 14.0, delta=1e-6)

    def test_a_line_at_a_structure_is_square_to_the_road_through_it(self) -> None:
        model = self.model()
        (line,) = placed(model, AtStructure(structure="P2"))
        pit = model.inputs.structures.pits[1]
        self.assertLess(shapely.LineString(line.path).distance(shapely.Point(pit.east, pit.north)), 1e-6)
        self.assertEqual(line.angle_deg, 0.0)
        far = place_group(LineGroup(name="G", lines=[AlongPath(points=[(0.0, 0.0), (1e8, -1e8)])]), ground_of(model))
        self.assertIn("longer than", far.wrong[0][1])
        self.assertEqual(place_group(LineGroup(name="G", lines=[AtStructure(structure="None")]), ground_of(model)).wrong[0][0], 0)

    def test_the_skew_of_a_culvert_out_of_two_places(self) -> None:
        """Bearings grow clockwise, and so does the angle: a culvert whose right end lies behind stands right of square."""
        road = build(AlignmentSpec(start_east=100, start_north=200, start_bearing_deg=90, elements=[Straight(length=100)]))
        chainage, angle = angle_of(
            road, np.array([150.0 + 3 * np.tan(np.radians(25)), 203.0]), np.array([150.0 - 3 * np.tan(np.radians(25)), 197.0])
        )
        self.assertAlmostEqual(chainage, 50.0, places=9)
        self.assertAlmostEqual(angle, 25.0, places=9)
        self.assertAlmostEqual(angle_of(road, np.array([150.0, 190.0]), np.array([150.0, 210.0]))[1], 0.0, places=9)
        with self.assertRaisesRegex(SaddleError, "too far"):
            angle_of(road, np.array([-5e15, 5e16]), np.array([0.0, 0.0]))
        with self.assertRaises(SaddleError):
            angle_of(road, np.array([110.0, 210.0]), np.array([120.0, 210.0]))


class Width(TestCase):
    @given(
        st.lists(
            st.tuples(st.floats(0, 1600), st.floats(0.5, 80), st.floats(0.5, 80)),
            min_size=1,
            max_size=8,
            unique_by=lambda r: round(r[0], 3),
        )
    )
    @settings(max_examples=many(20), deadline=None)
    def test_a_table_runs_straight_between_its_rows(self, rows: list[tuple[float, float, float]]) -> None:
        rows = sorted((round(c, 3), a, b) for c, a, b in rows)
        table = WidthTable(rows=[WidthRow(chainage=c, left=a, right=b) for c, a, b in rows])
        model = demo_model()
        lines = placed(model, Regular(from_chainage=0, to_chainage=1600, interval=50), widths=table)
        c = np.array([line.chainage for line in lines])
        np.testing.assert_allclose(
            [-line.along[0] for line in lines], np.interp(c, [r[0] for r in rows], [r[1] for r in rows]), atol=1e-9
        )
        np.testing.assert_allclose(
            [line.along[-1] for line in lines], np.interp(c, [r[0] for r in rows], [r[2] for r in rows]), atol=1e-9
        )

    def test_out_to_the_boundary_of_the_surface(self) -> None:
        model = demo_model()
        tin = model.inputs.surface
        outline = shapely.union_all(shapely.polygons(tin.points[tin.triangles, :2])).boundary
        for line in placed(model, Regular(from_chainage=100, to_chainage=1500, interval=150), widths=ToBoundary(most=200)):
            for end in (line.path[0], line.path[-1]):
                self.assertLess(outline.distance(shapely.Point(end)), 1e-6)

    def test_out_to_a_line_and_past_it(self) -> None:
        road = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=100)]))
        fence = SurveyLines(np.array([[8.0, -10.0, 0.0]]), np.array([[18.0, 90.0, 0.0]]))  # 0.1 m further out each metre
        ground = Ground(
            Sources(road, {"FE": fence}, {}),
            Structures(),
            triangulate(np.array([[-50.0, -50, 0], [50, -50, 0], [0, 150, 0]]), np.empty((0, 2), dtype=int)),
        )
        nearest = NearestLine(code="FE", within=40)
        widths = ToLine(left_line=nearest, right_line=nearest, plus=1.5, otherwise=6.0)
        group = LineGroup(name="G", lines=[At(chainage=20), At(chainage=60)], widths=widths)
        lines = place_group(group, ground).lines
        np.testing.assert_allclose([line.along[-1] for line in lines], [8 + 3 + 1.5, 8 + 7 + 1.5], atol=1e-9)
        np.testing.assert_allclose([line.along[0] for line in lines], [-6.0, -6.0], atol=1e-9)

    def test_closer_on_curves_and_at_tangent_points(self) -> None:
        road = AlignmentSpec(
            start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=95), Arc(length=90, radius=200), Straight(length=95)]
        )  # fmt: skip
        ground = Ground(Sources(build(road), {}, {}), Structures(), demo_inputs().surface)
        line = Regular(from_chainage=20, to_chainage=260, interval=40, on_curves=10, key_points=True)
        found = [round(c.chainage, 6) for c in place_group(LineGroup(name="G", lines=[line]), ground).lines]
        self.assertEqual(found, sorted({20, 40, 80, 95, *range(100, 190, 10), 185, 200, 240, 260}))
        beyond = place_group(LineGroup(name="G", lines=[Regular(from_chainage=900, to_chainage=950)]), ground)
        self.assertEqual((len(beyond.lines), beyond.wrong[0][0]), (0, 0))


class Files(TestCase):
    def group(self) -> LineGroup:
        lines = [
            At(chainage=125.5, name="Drive, north", remark="gate"), At(chainage=310.0, angle_deg=-22.5, left=8.0, right=14.25),
            AlongPath(points=[(412300.0, 286540.0), (412310.0, 286550.0)]), Regular(from_chainage=0, to_chainage=100),
        ]  # fmt: skip
        return LineGroup(name="Culverts", lines=lines, levels_at=[-5.0, 0.0, 5.0])

    def test_json_is_the_group_itself(self) -> None:
        self.assertEqual(read_lines("x", write_lines(self.group())), self.group())
        for change, word in ((lambda d: d.update(version=2), "version 2"), (lambda d: d["group"]["lines"][0].update(chainage="x"), "chainage"), (lambda d: d.update(format="y"), "not a file")):  # fmt: skip
            data = json.loads(write_lines(self.group()))
            change(data)
            with self.assertRaisesRegex(ImportProblem, word):
                read_lines("x", json.dumps(data))

    def test_csv_out_and_in_again(self) -> None:
        model = demo_model()
        first = placed(model, *self.group().lines)
        again = placed(model, *read_lines("again", lines_csv(first)).lines)
        straight = [line for line in first if np.isfinite(line.angle_deg)]
        self.assertEqual(len(again), len(straight))
        for a, b in zip(straight, again, strict=True):
            np.testing.assert_allclose(a.path, b.path, atol=2e-3)
            self.assertEqual((a.name, a.remark), (b.name, b.remark))

    def test_chainages_are_as_they_are_called(self) -> None:
        """After 0+100 the road is called 0+500 on: typed, out and in again."""
        equations = [ChainageEquation(back=100.0, ahead=500.0)]
        found = read_lines("x", "50\n0+520\n", equations)
        self.assertEqual([v.chainage for v in found.lines], [50.0, 120.0])  # type: ignore[union-attr]
        rows = lines_csv(placed(demo_model(), *found.lines), equations)
        self.assertEqual([r.split(",")[0] for r in rows.splitlines()[1:]], ["50.000", "520.000"])
        with self.assertRaisesRegex(ImportProblem, "row 1, chainage"):
            read_lines("x", "0+300\n", equations)

    def test_typed_rows(self) -> None:
        found = read_lines("x", "Chainage;Angle\n0+125,5;22,5\n\n250;;10;12;Culvert\n").lines
        self.assertEqual([(v.chainage, v.angle_deg) for v in found], [(125.5, 22.5), (250.0, 0.0)])  # type: ignore[union-attr]
        self.assertEqual((found[1].left, found[1].right, found[1].name), (10.0, 12.0, "Culvert"))
        for text, word in (
            ("12\t95\n", "row 1, angle"),
            ("12\nabc\n", "row 2, chainage"),
            ("12,0,-3\n", "row 1, left"),
            ("a\n", "no section line"),
        ):
            with self.assertRaisesRegex(ImportProblem, word):
                read_lines("x", text)


class Shown(TestCase):
    def test_levels_as_asked_and_marks(self) -> None:
        model = demo_model()
        group = LineGroup(name="G", levels_at=[-5.0, 2.5, 99.0], levels_every=4.0, marked_codes=sorted(model.inputs.lines))
        (line,) = placed(model, At(chainage=612.0, angle_deg=20.0))
        view = line_view(model, group, "g", 0, line, {"Same": model.inputs.surface})
        asked = [r.distance for r in view.rows if r.at == "asked"]
        np.testing.assert_allclose(asked, sorted([-12.0, -8.0, -4.0, 0.0, 4.0, 8.0, 12.0, -5.0, 2.5]), atol=1e-9)
        self.assertTrue(view.marks)
        self.assertEqual(view.others["Same"], view.existing)
        for row in view.rows:
            if row.chainage is not None:
                place = model.alignment.frames(np.array([row.chainage])).plan(0, np.array([row.offset]))[0]
                there = line.path[0] + (row.distance - line.along[0]) * (line.path[1] - line.path[0]) / (
                    line.along[1] - line.along[0]
                )
                np.testing.assert_allclose(place, there, atol=1e-6)
        for mark in view.marks:
            lines = model.inputs.lines[mark.name]
            spot = shapely.Point(
                line.path[0] + (mark.offset - line.along[0]) * (line.path[1] - line.path[0]) / (line.along[1] - line.along[0])
            )
            segments = shapely.linestrings(np.stack([lines.start[:, :2], lines.end[:, :2]], axis=1))
            self.assertLess(shapely.distance(segments, spot).min(), 1e-6)
