from django.db import migrations


def as_now(spec):
    """A drawing style whose rows of figures are documents of their own, and whose points are as their templates say."""
    sheets = (spec or {}).get("sheets", {})
    rows = sheets.get("rows")
    if rows and isinstance(rows[0], str):
        sheets["rows"] = [{"kind": kind} for kind in rows]
    if "point_labels" in sheets:
        sheets["points"] = "template" if sheets.pop("point_labels") else "figures"
    return spec


def make_rows(apps, schema_editor):
    for document in apps.get_model("design", "Document").objects.filter(kind="drawing_style"):
        document.spec = as_now(document.spec)
        document.save(update_fields=["spec"])
    for edit in apps.get_model("design", "EditRecord").objects.filter(kind="drawing_style"):
        edit.before, edit.after = as_now(edit.before), as_now(edit.after)
        edit.save(update_fields=["before", "after"])
    for version in apps.get_model("library", "Version").objects.filter(kind="drawing_style"):
        version.spec = as_now(version.spec)
        version.save(update_fields=["spec"])


class Migration(migrations.Migration):
    dependencies = [("design", "0006_drawings"), ("library", "0002_versions")]

    operations = [migrations.RunPython(make_rows, migrations.RunPython.noop)]
