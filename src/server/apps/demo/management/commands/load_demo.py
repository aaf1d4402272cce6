"""Load the demo workshop."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.utils import timezone

from server.apps.demo.services import build_demo, demo_workshop


class Command(BaseCommand):
    """Build the invented canal-side yard, dated back from now."""

    help = "Load the demo workshop; --fresh builds it anew."

    def add_arguments(self, parser: CommandParser) -> None:
        """Declare options."""
        parser.add_argument("--fresh", action="store_true", help="throw the demo away and build it anew")

    def handle(self, *args: Any, **options: Any) -> None:
        """Build it unless it is there."""
        if demo_workshop() is not None and not options["fresh"]:
            self.stdout.write("The demo is there already (load_demo --fresh builds it anew).")
            return
        workshop = build_demo(now=timezone.now())
        self.stdout.write(f"Demo loaded: {workshop.pieces.count()} pieces, {workshop.logs.count()} logs.")
