"""Documents and the record of every edit."""

from typing import Any
from uuid import uuid4

from django.contrib.auth.models import User
from django.db import models

from projects.models import Project


class Document(models.Model):
    """What a person decided: kind and key, the spec as JSON, a version that counts its changes, and the change that made it what
    it is: an identity that never comes again, also not after undo, removal, a change that was rolled back or a restored backup.
    What is computed from a document is kept under it. Saving makes a new one; `update` on a query does not."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=80)
    spec = models.JSONField()
    version = models.PositiveIntegerField(default=1)
    change = models.UUIDField(default=uuid4)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    #: Of a document that was just written: whether somebody else's change is in it beside one's own. Kept nowhere.
    merged = False

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "kind", "key"], name="one_document_each")]

    def save(self, *args: Any, **kwargs: Any) -> None:
        self.change = uuid4()
        super().save(*args, **kwargs)


class EditRecord(models.Model):
    """Who changed what and when; null before: made, null after: removed. Undo and redo rest on it."""

    class State(models.TextChoices):
        DONE = "done"
        UNDONE = "undone"
        #: Undone, and then something else was done: it cannot be redone any more.
        DROPPED = "dropped"

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=80)
    title = models.CharField(max_length=200)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.DONE)
    #: Edits of one step share it: they are undone and redone together.
    together = models.UUIDField(null=True)

    class Meta:
        indexes = [models.Index(fields=["project", "user", "state", "-id"])]
