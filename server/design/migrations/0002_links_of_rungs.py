"""Rungs of templates become chains of links."""

from django.db import migrations


def _with_links(spec):
    if not isinstance(spec, dict):
        return spec
    for half in (spec.get("right"), spec.get("left")):
        for rung in (half or {}).get("ladder", []):
            if "one_in" in rung:
                way = "up" if rung["when"] == "cut" else "down"
                most = rung.pop("most_width", 25.0)
                rung["links"] = [{"kind": "to_ground", "one_in": rung.pop("one_in"), "direction": way, "most_width": most}]
    return spec


def forward(apps, schema_editor):
    for row in apps.get_model("design", "Document").objects.filter(kind="template"):
        row.spec = _with_links(row.spec)
        row.save(update_fields=["spec"])
    for edit in apps.get_model("design", "EditRecord").objects.filter(kind="template"):
        edit.before, edit.after = _with_links(edit.before), _with_links(edit.after)
        edit.save(update_fields=["before", "after"])


class Migration(migrations.Migration):
    dependencies = [("design", "0001_initial")]
    operations = [migrations.RunPython(forward, migrations.RunPython.noop)]
