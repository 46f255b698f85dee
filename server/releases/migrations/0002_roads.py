from django.db import migrations

from saddle.stages.keys import digest


def stamp(project, rows):
    """As road.inputs has it of a whole project."""
    return digest(project, [f"document {pk} {change.hex}" for _, pk, change in rows])[:16]


def keep_stamps(apps, schema_editor):
    """That every project has a road document now is no edit: where nothing else was changed since the bill was kept, its stamp says so."""
    billed, document = apps.get_model("releases", "Billed"), apps.get_model("design", "Document")
    for held in billed.objects.all():
        rows = list(document.objects.filter(project=held.project_id).order_by("kind", "id").values_list("kind", "pk", "change"))
        if held.stamp == stamp(held.project_id, [row for row in rows if row[0] != "road"]):
            billed.objects.filter(pk=held.pk).update(stamp=stamp(held.project_id, rows))


class Migration(migrations.Migration):
    dependencies = [("releases", "0001_initial"), ("design", "0008_roads")]

    operations = [migrations.RunPython(keep_stamps, migrations.RunPython.noop)]
