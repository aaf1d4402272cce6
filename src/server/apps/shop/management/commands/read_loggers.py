"""Read every place's climate logger once; for a timer of the machine to call."""

from typing import Any

from django.core.management.base import BaseCommand

from kilncore.errors import CoreError
from server.apps.shop.climate import read_place
from server.apps.shop.models import Place


class Command(BaseCommand):
    """Reads the loggers of all places that have one."""

    help = "Read the climate logger of every place that has one; what is new is kept."

    def handle(self, *args: Any, **options: Any) -> None:
        """Read them, one that cannot be reached does not keep the others waiting."""
        for place in Place.objects.exclude(logger_url=""):
            try:
                self.stdout.write(f"{place.name}: {read_place(place)} new readings")
            except CoreError as error:
                self.stderr.write(f"{place.name}: {error.message}")
