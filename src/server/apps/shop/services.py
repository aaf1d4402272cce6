"""Changing the workshop; one function a verb."""

import hashlib
import json
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction

from kilncore.bench import Lathe as CoreLathe
from kilncore.drying.climate import SEASONS, Air, spells_of
from kilncore.equipment import Tool as CoreTool
from kilncore.errors import Impossible, Unknown, require_range
from kilncore.rules.finish import finish_system
from kilncore.rules.sanding import median_um
from kilncore.wood.emc import emc_pct
from kilncore.wood.species import species
from server.apps.shop.models import (
    ClimateReading,
    JawSet,
    Lathe,
    Membership,
    Place,
    Plate,
    Preference,
    Tool,
    Workshop,
)
from server.apps.shop.reach import require_reach

__all__ = [
    "add_readings",
    "create_workshop",
    "equip",
    "remove_tool",
    "save_instruments",
    "save_jaws",
    "save_lathe",
    "save_place",
    "save_plate",
    "save_preference",
    "save_tool",
    "save_way",
]

_SCHOOLS = {
    "rough_wall": ("tenth", "computed"),
    "second_hold": ("tenon", "recess"),
    "inside": ("rim-down", "centre-out"),
    "ladder": ("long", "short-paste"),
    "handle": ("four", "five"),
}


@transaction.atomic
def create_workshop(*, name: str, username: str, password: str | None, is_demo: bool = False) -> Workshop:
    """Create a workshop with its first person and usual equipment."""
    user = get_user_model().objects.create_user(username=username, password=password)
    workshop = Workshop(name=name, is_demo=is_demo)
    workshop.full_clean()
    workshop.save()
    Membership.objects.create(user=user, workshop=workshop)
    equip(workshop)
    return workshop


def equip(workshop: Workshop) -> None:
    """Give a new workshop a usual lathe, jaws and one place, to be corrected in Shop."""
    Lathe.objects.create(
        workshop=workshop, name="Main lathe", swing_mm=400, min_rpm=50, max_rpm=2500, is_main=True
    )
    for low, high, rlow, rhigh, depth in ((38, 56, 44, 70, 16), (60, 85, 66, 95, 18), (88, 115, 96, 125, 20)):
        JawSet.objects.create(
            workshop=workshop,
            name=f"{(low + high) // 2} mm",
            tenon_low_mm=low,
            tenon_high_mm=high,
            recess_low_mm=rlow,
            recess_high_mm=rhigh,
            depth_mm=depth,
        )
    Plate.objects.create(workshop=workshop, name="80 mm faceplate", kind="faceplate", low_mm=80, high_mm=400)
    Place.objects.create(workshop=workshop, name="Shelf", air_c=18, rh_pct=50)


@transaction.atomic
def save_place(
    workshop: Workshop,
    *,
    place: Place | None = None,
    name: str,
    air_c: float,
    rh_pct: float,
    seasons: dict[str, tuple[float, float]] | None = None,
    logger_url: str | None = None,
) -> Place:
    """Add or change a place; its air must be air. Seasons and logger stay where not given."""
    require_range("rh_pct", rh_pct, 1.0, 99.0, "Air indoors is mostly between 35 and 70 %.")
    require_range("air_c", air_c, -5.0, 80.0)
    emc_pct(air_c, rh_pct=rh_pct)
    place = place or Place(workshop=workshop)
    place.name, place.air_c, place.rh_pct = name, air_c, rh_pct
    if seasons is not None:
        place.seasons = _checked_seasons(seasons)
    if logger_url is not None:
        place.logger_url = _checked_logger(logger_url)
    place.climate_stamp = _stamp(place)
    place.full_clean()
    place.save()
    return place


def _checked_seasons(seasons: dict[str, tuple[float, float]]) -> dict[str, list[float]]:
    for key, (air_c, rh_pct) in seasons.items():
        if key not in SEASONS:
            raise Unknown("seasons", key, list(SEASONS))
        Air(air_c, rh_pct)
    return {key: list(seasons[key]) for key in SEASONS if key in seasons}


def _checked_logger(url: str) -> str:
    if url and not url.startswith("http://"):
        text = "A logger is read over plain HTTP on the workshop's own network, such as {example}."
        raise Impossible("not-a-logger", "logger_url", text, {"example": "http://192.168.0.20/air.json"})
    if url:
        require_reach(url, "logger_url")
    return url


@transaction.atomic
def save_instruments(workshop: Workshop, changes: dict[str, Any]) -> Workshop:
    """Say where scale and meter are, and what the meter's sheet adds for a wood."""
    for name in ("scale_url", "meter_url"):
        if changes.get(name):
            require_reach(changes[name], name)
    for key, adds in changes.get("meter_corrections", {}).items():
        species(key)
        require_range("adds_pct", adds, -15.0, 15.0)
    for name, value in changes.items():
        setattr(workshop, name, value)
    workshop.full_clean(exclude=["meter_corrections"])
    workshop.save(update_fields=list(changes))
    return workshop


def _stamp(place: Place) -> str:
    """Return a short mark of a place's seasons and readings, part of every forecast's inputs."""
    if not place.seasons and not place.spells:
        return ""
    return hashlib.sha256(json.dumps([place.seasons, place.spells]).encode()).hexdigest()[:16]


@transaction.atomic
def add_readings(place: Place, rows: Iterable[tuple[datetime, float, float]]) -> int:
    """Keep readings of a place's air, each moment once; return how many were new.

    Whole weeks of them become the spells forecasts are made with.
    """
    new = []
    for at, air_c, rh_pct in rows:
        Air(air_c, rh_pct)
        new.append(ClimateReading(place=place, at=at, air_c=air_c, rh_pct=rh_pct))
    before = place.readings.count()
    ClimateReading.objects.bulk_create(new, ignore_conflicts=True, batch_size=500)
    found = list(place.readings.values_list("at", "air_c", "rh_pct"))
    days = [at.timestamp() / 86400.0 for at, _, _ in found]
    spells = spells_of(days, air_c=[c for _, c, _ in found], rh_pct=[h for _, _, h in found])
    place.spells = [[s.start_days, s.end_days, round(s.air.air_c, 2), round(s.air.rh_pct, 2)] for s in spells]
    place.climate_stamp = _stamp(place)
    place.save(update_fields=["spells", "climate_stamp"])
    return len(found) - before


@transaction.atomic
def save_lathe(workshop: Workshop, *, lathe: Lathe | None = None, **values: Any) -> Lathe:
    """Add or change a lathe; its range must make sense to the core."""
    steps = _steps(str(values.get("steps", "")))
    CoreLathe(values["name"], values["swing_mm"], values["min_rpm"], values["max_rpm"], steps)
    for name, low, high in (("mass_kg", 5.0, 3000.0), ("power_w", 50.0, 10000.0)):
        if values.get(name) is not None:
            require_range(name, values[name], low, high)
    return _save(lathe or Lathe(workshop=workshop, is_main=not workshop.lathes.exists()), values)


def _steps(text: str) -> tuple[float, ...]:
    try:
        steps = tuple(float(s) for s in text.split(",") if s.strip())
    except ValueError:
        raise Impossible(
            "not-steps", "steps", "Speeds are numbers with commas between, such as 300, 600, 900."
        ) from None
    for step in steps:
        require_range("steps_rpm", step, 10.0, 6000.0)
    return steps


def _ascending(values: dict[str, Any], low: str, high: str, label: str) -> None:
    for name in (low, high):
        require_range(name, values[name], 5.0, 1500.0)
    if values[low] >= values[high]:
        raise Impossible(
            "range-empty",
            low,
            "{label}: the smallest ({low_mm}) must lie below the largest ({high_mm}).",
            {"label": label, "low_mm": values[low], "high_mm": values[high]},
        )


@transaction.atomic
def save_jaws(workshop: Workshop, *, jaws: JawSet | None = None, **values: Any) -> JawSet:
    """Add or change a jaw set; its ranges must be ranges."""
    _ascending(values, "tenon_low_mm", "tenon_high_mm", "Closing on a tenon")
    _ascending(values, "recess_low_mm", "recess_high_mm", "Opening into a recess")
    require_range("depth_mm", values["depth_mm"], 3.0, 80.0)
    return _save(jaws or JawSet(workshop=workshop), values)


@transaction.atomic
def save_plate(workshop: Workshop, *, plate: Plate | None = None, **values: Any) -> Plate:
    """Add or change a plate; one that grips a rim must say how fast it may turn."""
    _ascending(values, "low_mm", "high_mm", "What it takes")
    if values["kind"] != "faceplate" and values["rated_rpm"] is None:
        raise Impossible(
            "no-rating", "rated_rpm", "Its rated speed stands on it or in its sheet; note it here."
        )
    if values["rated_rpm"] is not None:
        require_range("rated_rpm", values["rated_rpm"], 50.0, 5000.0)
    return _save(plate or Plate(workshop=workshop), values)


@transaction.atomic
def save_tool(workshop: Workshop, *, tool: Tool | None = None, **values: Any) -> Tool:
    """Add or change a tool; the core knows which figures its kind has."""
    CoreTool(values["kind"], values["name"], values["sizes"])
    return _save(tool or Tool(workshop=workshop), values)


def _save(row: Any, values: dict[str, Any]) -> Any:
    for key, value in values.items():
        setattr(row, key, value)
    row.full_clean()
    row.save()
    return row


@transaction.atomic
def remove_tool(row: JawSet | Plate | Tool) -> None:
    """Take a jaw set, plate or tool off the wall; pieces keep what they noted."""
    row.delete()


@transaction.atomic
def save_way(workshop: Workshop, changes: dict[str, Any]) -> Workshop:
    """Change the house way; unknown schools are named."""
    for key, value in changes.items():
        if key in _SCHOOLS and value not in _SCHOOLS[key]:
            words = " or ".join(_SCHOOLS[key])
            raise Impossible("no-such-school", key, "It is {known}.", {"known": words})
        setattr(workshop, key, value)
    finish_system(workshop.finish)
    require_range("home_rh_pct", workshop.home_rh_pct, 15.0, 85.0)
    require_range("home_c", workshop.home_c, 0.0, 40.0)
    require_range("finish_room_c", workshop.finish_room_c, -5.0, 40.0)
    require_range("stop_loss_per_week_pct", workshop.stop_loss_per_week_pct, 0.01, 5.0)
    require_range("worm_pilot_mm", workshop.worm_pilot_mm or 8.0, 3.0, 20.0)
    require_range("worm_length_mm", workshop.worm_length_mm or 35.0, 10.0, 80.0)
    _check_grits(workshop.grits)
    workshop.full_clean()
    workshop.save()
    return workshop


def _check_grits(text: str) -> None:
    known = {str(g) for g in median_um()}
    wrong = [g for g in (part.strip() for part in text.split(",")) if g and g not in known]
    if wrong or not text.strip():
        raise Impossible("no-such-grit", "grits", "P grits with commas between, such as 80, 120, 180.")


@transaction.atomic
def save_preference(user: Any, changes: dict[str, str]) -> Preference:
    """Change how a person reads figures."""
    preference, _ = Preference.objects.get_or_create(user=user)
    for key, value in changes.items():
        setattr(preference, key, value)
    preference.full_clean()
    preference.save()
    return preference
