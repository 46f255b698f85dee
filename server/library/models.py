"""The library that all people share, and what each of them likes."""

from django.contrib.auth.models import User
from django.db import models


class Version(models.Model):
    """A template, make-up, kerb or material as somebody put it into the library at some time. Rows are added, never changed; the
    one with the greatest number counts. spec: None where it was taken out. Whose the newest version is, theirs is the entry."""

    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=80)
    number = models.PositiveIntegerField(default=1)
    spec = models.JSONField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kind", "key", "number"], name="one_version_each")]


class Favourite(models.Model):
    """An entry, or one of the starting library, that a person keeps at hand."""

    user = models.ForeignKey(User, on_delete=models.CASCADE)
    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=80)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "kind", "key"], name="one_favourite_each")]
