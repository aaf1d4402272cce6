"""Create the first account and its workshop."""

import getpass
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.apps.shop.services import create_workshop


class Command(BaseCommand):
    """Create a person and their workshop."""

    help = "Create an account: create_account NAME --workshop 'My workshop'"

    def add_arguments(self, parser: CommandParser) -> None:
        """Declare arguments."""
        parser.add_argument("name")
        parser.add_argument("--workshop", default="My workshop")
        parser.add_argument("--password", help="asked for when left out")

    def handle(self, *args: Any, **options: Any) -> None:
        """Create both or say what to try."""
        if get_user_model().objects.filter(username=options["name"]).exists():
            raise CommandError(f"There is already somebody called {options['name']}; try another name.")
        password = options["password"] or getpass.getpass("Password: ")
        try:
            validate_password(password)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        create_workshop(name=options["workshop"], username=options["name"], password=password)
        self.stdout.write(f"{options['name']} can sign in now.")
