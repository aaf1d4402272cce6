"""Taking in logs."""

from datetime import date
from typing import Any

from django.db import transaction
from django.db.models import Max

from kilncore.errors import Impossible, require_range
from kilncore.wood.species import species
from server.apps.shop.models import Workshop
from server.apps.yard.models import Log

__all__ = ["take_in_log"]


@transaction.atomic
def take_in_log(workshop: Workshop, *, today: date, **values: Any) -> Log:
    """Take in a log; the next number is given."""
    species(values["species"])
    felled = values.get("felled_on")
    if felled and felled > today:
        raise Impossible("future", "felled_on", "That date is still to come.")
    for name, low, high in (("length_mm", 50, 12000), ("diameter_mm", 30, 2500), ("pith_offset_mm", 0, 1000)):
        if values.get(name) is not None:
            require_range(name, values[name], low, high)
    diameter, offset = values.get("diameter_mm"), values.get("pith_offset_mm")
    if diameter and offset and offset > diameter / 2:
        raise Impossible(
            "pith-outside",
            "pith_offset_mm",
            "The pith cannot lie {offset_mm} off the middle of a log {diameter_mm} across.",
            {"offset_mm": offset, "diameter_mm": diameter},
        )
    last = workshop.logs.aggregate(top=Max("number"))["top"] or 0
    log = Log(workshop=workshop, number=last + 1, **values)
    log.full_clean()
    log.save()
    return log
