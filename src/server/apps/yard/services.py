"""Taking in logs, mending what is known of them, planning what to cut."""

from dataclasses import asdict
from datetime import date
from typing import Any

from django.db import transaction
from django.db.models import Max

from kilncore.errors import Impossible, require_range
from kilncore.logs.blanks import Saw, Spot
from kilncore.logs.cutting import Layout, trial_layout
from kilncore.logs.identify import which_wood
from kilncore.wood.species import species
from server.apps.shop.models import Workshop
from server.apps.yard.models import Log
from server.apps.yard.queries import shape_of

__all__ = ["change_log", "keep_plan", "take_in_log"]

_RANGES = (
    ("length_mm", 50, 12000),
    ("diameter_mm", 30, 2500),
    ("pith_offset_mm", 0, 1000),
    ("pith_small_offset_mm", 0, 1000),
    ("large_wide_mm", 30, 2500),
    ("large_tall_mm", 30, 2500),
    ("small_wide_mm", 30, 2500),
    ("small_tall_mm", 30, 2500),
    ("bark_mm", 0, 80),
    ("trim_start_mm", 0, 3000),
    ("trim_end_mm", 0, 3000),
)


def _check(values: dict[str, Any], *, today: date) -> None:
    """Raise what cannot be, at its field."""
    species(values["species"])
    for name in ("felled_on", "sealed_on", "gone_on"):
        if values.get(name) and values[name] > today:
            raise Impossible("future", name, "That date is still to come.")
    for name, low, high in _RANGES:
        if values.get(name) is not None:
            require_range(name, values[name], low, high)
    which_wood(values.get("tried") or {})
    diameter, offset = values.get("diameter_mm"), values.get("pith_offset_mm")
    if diameter and offset and offset > diameter / 2:
        raise Impossible(
            "pith-outside",
            "pith_offset_mm",
            "The pith cannot lie {offset_mm} off the middle of a log {diameter_mm} across.",
            {"offset_mm": offset, "diameter_mm": diameter},
        )


@transaction.atomic
def take_in_log(workshop: Workshop, *, today: date, **values: Any) -> Log:
    """Take in a log; the next number is given."""
    _check(values, today=today)
    last = workshop.logs.aggregate(top=Max("number"))["top"] or 0
    log = Log(workshop=workshop, number=last + 1, **values)
    shape_of(log)  # ends and pith that cannot belong together speak up now
    log.full_clean(exclude=["tried", "plan"])
    log.save()
    return log


@transaction.atomic
def change_log(log: Log, *, today: date, changes: dict[str, Any]) -> Log:
    """Change what is known of a log; blanks cut from it stay as they were."""
    log.refresh_from_db()
    for key, value in changes.items():
        setattr(log, key, value)
    _check({f.name: getattr(log, f.name) for f in Log._meta.concrete_fields}, today=today)
    shape_of(log)
    log.full_clean(exclude=["tried", "plan"])
    log.save()
    return log


@transaction.atomic
def keep_plan(log: Log, *, spots: tuple[Spot, ...], saw: Saw, wants: list[dict[str, Any]]) -> Layout:
    """Keep the turner's own layout with the log and return what comes out of it."""
    shape = shape_of(log)
    if shape is None:
        raise Impossible("not-measured", "length_mm", "Measure its length and width first.")
    layout = trial_layout(shape, spots, saw=saw)
    log.plan = {"saw": asdict(saw), "spots": [asdict(s) for s in spots], "wants": wants}
    log.save(update_fields=["plan"])
    return layout
