"""The library that all people share, and what each of them likes."""

from django.contrib.auth.models import User
from django.db import models


class Entry(models.Model):
    """A template, make-up, kerb or material that somebody put into the library."""

    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=80)
    spec = models.JSONField()
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kind", "key"], name="one_entry_each")]


class Favourite(models.Model):
    """An entry, or one of the starting library, that a person keeps at hand."""

    user = models.ForeignKey(User, on_delete=models.CASCADE)
    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=80)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "kind", "key"], name="one_favourite_each")]
