"""Long work: progress, cancelling, result. The queue itself is procrastinate's."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from projects.models import Project


class Job(models.Model):
    """A piece of long work in a project. key: of work that follows from a state of the project, so that asking twice computes
    once; empty for work that is done whenever it is asked for."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"
        CANCELLED = "cancelled"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    kind = models.CharField(max_length=30)
    key = models.CharField(max_length=64, blank=True, default="")
    params = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    progress = models.FloatField(default=0.0)
    result = models.JSONField(null=True)
    error = models.JSONField(null=True)
    cancel_requested = models.BooleanField(default=False)
    #: How often a worker began it.
    attempts = models.PositiveSmallIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    #: When a worker last told how far it is.
    moved_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["project", "key"])]


class KeptFile(models.Model):
    """A file that a job made, kept with it. number: from 0, in the job's order."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="files")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=300)
    content_type = models.CharField(max_length=80)
    content = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="one_file_each")]
