"""Open sessions, so that a person can see and end them. Sign-ins themselves are recorded by axes."""

from django.contrib.auth.models import User
from django.db import models


class OpenSession(models.Model):
    """A session that somebody signed in to. address, agent: of the browser, as it said; seen_at: when it last did something."""

    user = models.ForeignKey(User, on_delete=models.CASCADE)
    session_key = models.CharField(max_length=40, unique=True)
    address = models.CharField(max_length=45)
    agent = models.CharField(max_length=200)
    since = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(auto_now=True)
