"""Projects and who may do what in them."""

from django.contrib.auth.models import User
from django.db import models


class Role(models.TextChoices):
    """In rising order of what is allowed."""

    VIEWER = "viewer"
    CHECKER = "checker"
    DESIGNER = "designer"
    OWNER = "owner"


class Project(models.Model):
    """One road job."""

    name = models.CharField(max_length=80)
    created_at = models.DateTimeField(auto_now_add=True)
    members = models.ManyToManyField(User, through="Membership")

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """A person's role in a project."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    user = models.ForeignKey(User, on_delete=models.CASCADE)
    role = models.CharField(max_length=10, choices=Role.choices)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "user"], name="one_role_each")]
