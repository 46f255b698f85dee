from django.db import migrations


def make_roads(apps, schema_editor):
    """The one road of a project, which every kind of document meant by the key main, becomes a document."""
    document, project = apps.get_model("design", "Document"), apps.get_model("projects", "Project")
    has = document.objects.filter(kind="road").values("project")
    spec = {"name": "Main road", "alignment": "main", "place": 0}
    document.objects.bulk_create(
        document(project=there, kind="road", key="main", spec=spec) for there in project.objects.exclude(pk__in=has)
    )


class Migration(migrations.Migration):
    dependencies = [("design", "0007_rows_of_figures")]

    operations = [migrations.RunPython(make_roads, migrations.RunPython.noop)]
