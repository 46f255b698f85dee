import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ('library', '0001_initial'),
    ]

    operations = [
        migrations.RemoveConstraint(model_name='entry', name='one_entry_each'),
        migrations.RenameModel('Entry', 'Version'),
        migrations.RenameField('version', 'changed_at', 'at'),
        migrations.RenameField('version', 'changed_by', 'by'),
        migrations.AddField('version', 'number', models.PositiveIntegerField(default=1)),
        migrations.AlterField('version', 'spec', models.JSONField(null=True)),
        migrations.AlterField('version', 'at', models.DateTimeField(auto_now_add=True)),
        migrations.AddConstraint(
            'version', models.UniqueConstraint(fields=['kind', 'key', 'number'], name='one_version_each')
        ),
    ]
