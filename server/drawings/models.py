"""Issues: what left the house, kept as it was for ever."""

from django.contrib.auth.models import User
from django.db import models

from projects.models import Project
from survey.models import Survey


class Issue(models.Model):
    """A frozen set of drawings. Rows are added, never changed. number: the how manieth of its project, from 1; revision: its letter;
    status: what it may be used for; by_name: of the person at that time; accepted: the problems that were open, and why it was
    issued with them; register: the drawings with their sheets (`bodies.IssuedDrawing`); frozen: a project that holds the documents
    as they were, which everybody of the project may look at and nobody may change."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="issues")
    number = models.PositiveIntegerField()
    revision = models.CharField(max_length=6)
    status = models.CharField(max_length=20)
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(User, null=True, on_delete=models.SET_NULL)
    by_name = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)
    accepted = models.JSONField()
    register = models.JSONField()
    frozen = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="issue")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["project", "revision"], name="one_revision_each"),
            models.UniqueConstraint(fields=["project", "number"], name="one_issue_each"),
        ]

    def and_before(self) -> "models.QuerySet[Issue]":
        """This issue and those before it."""
        return Issue.objects.filter(project_id=self.project_id, number__lte=self.number)


class IssuedSurvey(models.Model):
    """A survey that an issue rests on: it cannot be removed as long as the issue is there. sha256: of the file as it came."""

    issue = models.ForeignKey(Issue, on_delete=models.CASCADE, related_name="surveys")
    survey = models.ForeignKey(Survey, on_delete=models.RESTRICT, related_name="issued")
    sha256 = models.CharField(max_length=64)


class IssuedFile(models.Model):
    """A file of an issue. number: from 0; path: its name in the package, with folders."""

    issue = models.ForeignKey(Issue, on_delete=models.CASCADE, related_name="files")
    number = models.PositiveIntegerField()
    path = models.CharField(max_length=300)
    content_type = models.CharField(max_length=80)
    sha256 = models.CharField(max_length=64)
    size = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["issue", "number"], name="one_issued_file_each"),
            models.UniqueConstraint(fields=["issue", "path"], name="one_path_each"),
        ]
