"""People and two demo projects for bench/chaos.py."""

from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from demo.load import load_demo
from projects.models import Membership, Role


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("names", nargs="+")

    def handle(self, *args: Any, **options: Any) -> None:
        if not settings.LOCAL:
            raise CommandError("such sign-ins exist in demo mode only (TIN_SADDLE_MODE=demo)")
        projects = [load_demo(), load_demo()]
        for name in options["names"]:
            user = User.objects.create_user(name, password=name)
            Membership.objects.bulk_create(Membership(project=p, user=user, role=Role.DESIGNER) for p in projects)
