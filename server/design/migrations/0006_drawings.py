from django.db import migrations

STARTING_STYLES = {
    "long_a3": {"name": "Long section, A3", "sheets": {"kind": "long"}},
    "plan_a3": {"name": "Plan, A3", "sheets": {"kind": "plan"}},
    "typical_a3": {"name": "Typical sections, A3", "sheets": {"kind": "typical"}},
    "quantities_a4": {"name": "Quantities, A4", "paper": "A4", "sheets": {"kind": "schedule"}},
}
STARTING_REPORTS = {
    "layers": {"name": "Layer quantities by treatment"},
    "materials": {
        "name": "Quantities by material", "of": "materials",
        "columns": [{"field": f} for f in ("material", "volume", "mass", "unknown")],
    },
    "overlay": {
        "name": "Overlay, section by section", "of": "sections", "totals": False,
        "columns": [{"field": f} for f in ("chainage", "side", "existing", "design", "left_pct", "right_pct", "least", "greatest", "mean")],
    },
    "setting_out": {
        "name": "Levels for setting out", "of": "points", "totals": False,
        "columns": [{"field": f} for f in ("chainage", "point", "offset", "east", "north", "level", "difference")],
    },
}  # fmt: skip
STARTING_DRAWINGS = {
    "plan": {"name": "Plan {from} to {to}", "number": "PL", "style": "plan_a3", "place": 1},
    "long": {"name": "Long section {from} to {to}", "number": "LS", "style": "long_a3", "place": 2},
    "typical": {"name": "Typical cross-sections", "number": "TS", "style": "typical_a3", "place": 3},
    "quantities": {"name": "Layer quantities", "number": "QS", "style": "quantities_a4", "place": 5},
}
OF_SECTIONS = ("scale", "vertical_scale", "rows", "beyond", "point_labels", "areas")
OF_STYLE = ("paper", "text_height", "legend")


def make_drawings(apps, schema_editor):
    """The one style of section sheets becomes a style, a drawing and the title block; the other drawings that projects begin with come
    beside it."""
    document, edit = apps.get_model("design", "Document"), apps.get_model("design", "EditRecord")
    for old in document.objects.filter(kind="sheet_style"):
        was, project = old.spec, old.project
        style = {k: was[k] for k in OF_STYLE if k in was}
        style |= {"name": "Sections", "sheets": {"kind": "sections", **{k: was[k] for k in OF_SECTIONS if k in was}}}
        drawing = {
            "name": was.get('title', 'Cross-sections').translate(str.maketrans('{}', '()'))[:80] + ' {from} to {to}',
            "number": was.get("drawing_number") or "XS", "style": "sections_a3", "place": 4, "every": was.get("every", 1),
            "untreated": was.get("left", was.get("untreated", True)),
        }  # fmt: skip
        made = [("title_block", "main", {"drawn": was.get("author", "")[:60]}), ("drawing", "sections", drawing)]
        made += [("drawing_style", key, spec) for key, spec in ({"sections_a3": style} | STARTING_STYLES).items()]
        made += [("drawing", key, spec) for key, spec in STARTING_DRAWINGS.items()]
        made += [("report", key, spec) for key, spec in STARTING_REPORTS.items()]
        document.objects.bulk_create(document(project=project, kind=kind, key=key, spec=spec) for kind, key, spec in made)
        old.delete()
    edit.objects.filter(kind="sheet_style").update(state="dropped")


class Migration(migrations.Migration):
    dependencies = [("design", "0005_survey_in_use")]

    operations = [migrations.RunPython(make_drawings, migrations.RunPython.noop)]
