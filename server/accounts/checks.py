"""What whoever runs the product is warned of at its start."""

from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core import checks
from django.db import DatabaseError


@checks.register(checks.Tags.database)
def no_demo_sign_ins(databases: Any = None, **_: Any) -> list[checks.CheckMessage]:
    """Sign-ins of the demo, whose password is their name, outside the demo."""
    if settings.LOCAL or not databases:
        return []
    try:
        people = User.objects.filter(username__in=settings.DEMO_NAMES, is_active=True)
        found = [user.username for user in people if user.check_password(user.username)]
    except DatabaseError:
        return []  # the tables are not there yet
    if not found:
        return []
    return [
        checks.Warning(
            f"sign-ins of the demo are open: {', '.join(found)}, with their name as password",
            hint="give them other passwords, or take them out",
            id="accounts.W001",
        )
    ]
