"""Drawings that nobody here wrote (see data/drawings/README.md): what comes of each, against what ezdxf's own reading of it holds."""

from collections import Counter
from pathlib import Path
from unittest import TestCase

import ezdxf.recover
import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.dxf.read import look_dxf
from saddle.exchange.dxf.spec import DrawingMapping
from saddle.terrain.survey import collect, polylines

CURVED = "ARC CIRCLE ELLIPSE SPLINE POLYLINE LWPOLYLINE"
DRAWINGS = Path(__file__).parent / "data" / "drawings"
#: Of each: layers with points, lines, faces; points taken as it is drawn; what is told.
COMES_OF_IT: dict[str, tuple[dict[str, tuple[int, int, int]], int, str]] = {
    "lines_1986": ({"1": (0, 22, 0)}, 0, "67 places at level 0 on 1 left out"),
    "words_r12": ({"ΛΑΓΕΡÄÜÖ": (0, 2, 0)}, 0, "4 places at level 0 on ΛΑΓΕΡÄÜÖ left out"),
    "polylines_r12": ({"0": (0, 0, 2), "T-2DPLINE-ALL": (0, 30, 0)}, 260, ""),
    "beyond_its_end": ({"Layer_is_a_required_tag": (0, 1, 0)}, 0, "29 places at level 0"),
    "binary_r12": ({"0": (0, 3, 0)}, 0, "6 places at level 0"),
    "binary_r13": ({"0": (0, 3, 0)}, 0, "6 places at level 0"),
    "no_layouts": ({"Layer 1": (0, 2, 0)}, 0, "its unit is the centimetre"),
    "handles_twice": ({"CK_LEVEL_1": (0, 113, 0)}, 0, "fewer than two points"),
}


class Others(TestCase):
    def test_what_comes_of_each(self) -> None:
        self.assertEqual({p.stem for p in DRAWINGS.glob("*.dxf")}, set(COMES_OF_IT))
        for name, (layers, taken, words) in COMES_OF_IT.items():
            with self.subTest(name):
                shown, found = look_dxf((DRAWINGS / f"{name}.dxf").read_bytes())
                told = {row.layer: (row.points, row.lines, row.faces) for row in shown.layers}
                self.assertEqual({name: told[name] for name in layers}, layers)
                self.assertEqual(len(found.table.code), taken)
                self.assertIn(words, "\n".join(s.reason for s in found.skipped))

    def test_counts_are_those_of_the_library(self) -> None:
        """Straight lines, layer by layer, as its recovering reader finds them; an ellipse too small for two points is none."""
        for name in ("lines_1986", "handles_twice"):
            document, _ = ezdxf.recover.readfile(DRAWINGS / f"{name}.dxf")
            kinds = {kind: Counter(e.dxf.layer for e in document.modelspace().query(kind)) for kind in ("LINE", CURVED)}
            shown, _ = look_dxf((DRAWINGS / f"{name}.dxf").read_bytes())
            for row in shown.layers:
                straight, curved = kinds["LINE"][row.layer], kinds[CURVED][row.layer]
                self.assertTrue(straight <= row.lines <= straight + curved, (name, row.layer))

    def test_a_plan_at_level_0_is_taken_when_the_person_says_so(self) -> None:
        _, found = look_dxf((DRAWINGS / "lines_1986.dxf").read_bytes(), DrawingMapping(zero="take"))
        lines = polylines(collect(found.table))
        document, _ = ezdxf.recover.readfile(DRAWINGS / "lines_1986.dxf")
        ends = [(e.dxf.start, e.dxf.end) for e in document.modelspace() if e.dxftype() == "LINE"]
        straight = [p.points for p in lines if len(p.points) == 2]
        for start, end in ends:
            if start.distance(end) > 1e-9:
                self.assertTrue(any(np.allclose(p, [tuple(start), tuple(end)], atol=1e-9) for p in straight), (start, end))

    def test_each_cut_anywhere_is_read_or_refused_in_our_own_words(self) -> None:
        for path in sorted(DRAWINGS.glob("*.dxf")):
            data = path.read_bytes()
            for share in (0.1, 0.35, 0.6, 0.85):
                try:
                    look_dxf(data[: int(share * len(data))])
                except ImportProblem as problem:
                    self.assertNotRegex(problem.message, "(?i)ezdxf|python|traceback|tag|struct")
