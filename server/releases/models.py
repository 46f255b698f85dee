"""The bill of every project as a release reckoned it."""

from django.db import models

from projects.models import Project


class Billed(models.Model):
    """release: that reckoned it; stamp: of the project's documents then; rows: the total of the printed bill, as QuantityRow has it."""

    project = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="billed")
    release = models.CharField(max_length=12)
    stamp = models.CharField(max_length=32)
    rows = models.JSONField()
    at = models.DateTimeField(auto_now=True)
