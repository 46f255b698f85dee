"""Every registry holds exactly what its union holds: a kind that is forgotten somewhere is noticed here, not by a designer."""

import ast
import inspect
from pathlib import Path
from typing import Annotated, Any, get_args, get_origin
from unittest import TestCase

import numpy as np

from saddle.alignment import profile_edit
from saddle.documents import KINDS as DOCUMENTS
from saddle.documents_base import Document
from saddle.drawings.kinds import KINDS as DRAWINGS
from saddle.drawings.long.rows import ROWS as LONG_ROWS
from saddle.drawings.sections.rows import ROWS as SECTION_ROWS
from saddle.drawings.spec import DrawingStyle, KindOfDrawing, LongRowKind, RowKind
from saddle.drawings.starting import STYLES
from saddle.guides.spec import GuideSource, LineSource
from saddle.overlay import crossfalls, level_ops
from saddle.overlay.spec import GoverningRule
from saddle.pipeline import solve
from saddle.quantities.reports.spec import FIELDS, Of
from saddle.quantities.reports.table import ROWS as REPORT_ROWS
from saddle.template import sentences
from saddle.template.parts import End
from saddle.template.rungs import Link
from saddle.template.ties import LevelTie, OffsetTie
from tests.test_wrong_figures import surveyed

FINDINGS = Path(__file__).resolve().parents[1] / "saddle" / "findings"


def kinds(union: Any, by: str = "kind") -> set[str]:
    """Words of the discriminator of a union's members."""
    if get_origin(union) is Annotated:
        union = get_args(union)[0]
    return {get_args(member.model_fields[by].annotation)[0] for member in get_args(union)}


class Registries(TestCase):
    def test_operations(self) -> None:
        # Superelevation asks the alignment, so that its stop works it out.
        self.assertEqual(set(crossfalls.OPERATIONS) | {"superelevate"}, kinds(crossfalls.Operation))
        self.assertEqual(set(level_ops.OPERATIONS), kinds(level_ops.LevelOperation))
        self.assertGreater(len(profile_edit.OPERATIONS), 5)

    def test_rows_and_drawings(self) -> None:
        self.assertEqual(set(DRAWINGS), set(get_args(KindOfDrawing)))
        self.assertEqual(set(DRAWINGS), {style.sheets.kind for style in STYLES.values()})
        self.assertEqual(set(DRAWINGS), kinds(DrawingStyle.model_fields["sheets"].annotation))
        self.assertEqual(set(SECTION_ROWS), set(get_args(RowKind)))
        self.assertEqual(set(LONG_ROWS), set(get_args(LongRowKind)))
        self.assertEqual(set(REPORT_ROWS), set(get_args(Of)))
        self.assertEqual(set(FIELDS), set(get_args(Of)))

    def test_every_governing_rule_gives_levels(self) -> None:
        """One that Designs.hinge_levels forgets leaves the hinge unknown, and the survey was blamed."""
        given = {
            "cover": {}, "edges": {}, "kerb_to_kerb": {}, "level_table": {}, "profile": {"profile": "p"}, "line": {"guide": "g"},
        }  # fmt: skip
        self.assertEqual(set(given), kinds(GoverningRule))
        for kind in set(given) - {"level_table", "profile", "line"}:
            model = solve(surveyed(governs={"kind": kind, **given[kind]}))
            self.assertGreater(np.isfinite(model.hinge_level).mean(), 0.9, kind)

    def test_every_document_is_of_one_kind(self) -> None:
        models = [kind.model for kind in DOCUMENTS.values()]
        self.assertEqual(len(models), len(set(models)))
        self.assertTrue(all(issubclass(m, Document) for m in models))

    def test_every_finding_is_asked_for(self) -> None:
        """A function that finds problems and that find.py never calls finds nothing."""
        called = {n.func.id for n in ast.walk(ast.parse((FINDINGS / "find.py").read_text())) if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)}  # fmt: skip
        for path in FINDINGS.glob("*.py"):
            for node in ast.parse(path.read_text()).body:
                finds = (
                    isinstance(node, ast.FunctionDef)
                    and node.returns is not None
                    and ast.unparse(node.returns) == "list[Problem]"
                )
                if isinstance(node, ast.FunctionDef) and finds and not node.name.startswith("_"):
                    self.assertIn(node.name, called, f"{path.name}: {node.name}")

    def test_every_tie_end_and_link_has_a_sentence(self) -> None:
        said = inspect.getsource(sentences)
        for union in (OffsetTie, LevelTie, End, Link):
            for member in get_args(get_args(union)[0]):
                self.assertIn(member.__name__, said, f"{member.__name__} has no sentence")

    def test_guides_may_be_all_that_lines_may_be_but_an_offset(self) -> None:
        self.assertLessEqual({"line"}, kinds(GuideSource, "by") & kinds(LineSource, "by"))
