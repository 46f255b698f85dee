"""Long work: progress, cancelling, result. The queue itself is procrastinate's."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from projects.models import Project


class Job(models.Model):
    """A piece of long work in a project."""

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
    params = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    progress = models.FloatField(default=0.0)
    result = models.JSONField(null=True)
    error = models.JSONField(null=True)
    cancel_requested = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
