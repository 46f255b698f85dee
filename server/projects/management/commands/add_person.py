"""Adds a person who can sign in; asks for the password. With --project ID --role ROLE also as a member of a project."""

from getpass import getpass
from typing import Any

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction

from projects.models import Membership, Project, Role


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")
        parser.add_argument("--full-name", default="")
        parser.add_argument("--project", type=int)
        parser.add_argument("--role", choices=Role.values, default=Role.DESIGNER)

    def handle(self, *args: Any, **options: Any) -> None:
        user = User.objects.filter(username=options["name"]).first()
        with transaction.atomic():
            if user is None:
                password = getpass("Password: ")
                try:
                    validate_password(password)
                except ValidationError as error:
                    raise CommandError(" ".join(error.messages)) from error
                first, _, last = options["full_name"].partition(" ")
                user = User.objects.create_user(options["name"], password=password, first_name=first, last_name=last)
            if options["project"] is not None:
                project = Project.objects.filter(pk=options["project"]).first()
                if project is None:
                    raise CommandError(f"there is no project {options['project']}")
                Membership.objects.update_or_create(project=project, user=user, defaults={"role": options["role"]})
        self.stdout.write(f"{user.username} can sign in")
