from django.db import migrations


def name_the_survey_in_use(apps, schema_editor):
    """Until now the newest import with points counted: every project says so from here on."""
    survey, document = apps.get_model("survey", "Survey"), apps.get_model("design", "Document")
    for project in apps.get_model("projects", "Project").objects.all():
        rows = survey.objects.filter(project=project).order_by("-id").values_list("id", flat=True)
        found = rows.filter(points__gt=0).first() or rows.first()
        document.objects.get_or_create(project=project, kind="survey", key="main", defaults={"spec": {"survey": found}})


class Migration(migrations.Migration):
    dependencies = [("design", "0004_change_of_documents"), ("survey", "0002_built_surfaces"), ("projects", "0001_initial")]

    operations = [migrations.RunPython(name_the_survey_in_use, migrations.RunPython.noop)]
