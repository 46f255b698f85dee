"""Who has a project open, and where they are."""

from django.contrib.auth.models import User
from django.db import models

from projects.models import Project
from saddle.documents import MAIN


class Presence(models.Model):
    """An open browser tab. stop: path of the stop; road: key of the road; chainage: m, null before the road is there; field: what is being typed in, by
    stop, selection and label; seen_at: when it last asked."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, on_delete=models.CASCADE)
    tab = models.UUIDField()
    stop = models.CharField(max_length=40)
    road = models.CharField(max_length=80, default=MAIN)
    chainage = models.FloatField(null=True)
    field = models.CharField(max_length=200)
    seen_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "user", "tab"], name="one_presence_each")]
        indexes = [models.Index(fields=["project", "seen_at"])]
