"""Makes the demo projects and their sign-ins, once; --fresh makes them anew. Demo mode only."""

from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction

from demo.load import DEMO_PEOPLE, load_demo, load_divided_road, load_hill_road
from projects.models import Project


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--fresh", action="store_true", help="remove the demo projects first")

    def handle(self, *args: Any, **options: Any) -> None:
        if not settings.LOCAL:
            raise CommandError("demo sign-ins exist in demo mode only (TIN_SADDLE_MODE=demo)")
        with transaction.atomic():
            people = User.objects.filter(username__in=[name for name, _, _ in DEMO_PEOPLE])
            if options["fresh"]:
                frozen = list(Project.objects.filter(issue__project__members__in=people).values_list("pk", flat=True))
                Project.objects.filter(members__in=people).delete()
                Project.objects.filter(pk__in=frozen).delete()
            if not Project.objects.filter(members__in=people).exists():
                load_divided_road()
                load_hill_road()
                load_demo()
