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
    """An imported survey with its surface. The newest of a project counts; older ones are kept.

    original: the file as it came; arrays: numpy's npz of points, lines and triangles; report: what was found.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    name = models.CharField(max_length=200)
    original = models.BinaryField()
    arrays = models.BinaryField()
    report = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)
