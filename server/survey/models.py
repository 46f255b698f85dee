"""Surveys: the file as it came, and what was made of it in arrays (see docs/decisions)."""

from django.contrib.auth.models import User
from django.db import models

from projects.models import Project


class Upload(models.Model):
    """A file sent in and not yet imported."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    name = models.CharField(max_length=200)
    content = models.BinaryField()
    created_at = models.DateTimeField(auto_now_add=True)


class Survey(models.Model):
    """An import. Which one counts is a document of the project (SurveyInUse); all are kept.

    original: the file as it came; points: how many; arrays: numpy's npz of points, lines, and the surfaces that came
    with them; report: what was found.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    name = models.CharField(max_length=200)
    original = models.BinaryField()
    arrays = models.BinaryField()
    report = models.JSONField()
    points = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)


class BuiltSurface(models.Model):
    """A surface kept under the hash of what it follows from, because a large one takes seconds to build.

    arrays: npz of points and triangles; report: what was noticed on the way.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = models.CharField(max_length=64)
    arrays = models.BinaryField()
    report = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="one_surface_each")]
